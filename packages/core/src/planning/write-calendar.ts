/** An all-day entry of a calendar. */
export interface CalendarEntry {
  /** Stays the same when the entry changes. */
  uid: string;
  /** ISO date. */
  day: string;
  title: string;
  text: string;
}

/** Octets of a line before it is folded (RFC 5545, 3.1). */
const LINE_OCTETS = 75;

/**
 * All-day entries as an iCalendar object.
 *
 * Source: RFC 5545 (3.1 folding, 3.3.11 escaped text, 3.6.1 events); RFC 7986 for the calendar's name.
 *
 * @param stampMs when the calendar was made, epoch ms
 */
export function writeCalendar(name: string, entries: readonly CalendarEntry[], stampMs: number): string {
  const stamp = new Date(stampMs).toISOString().replace(/[-:]|\.\d+/g, '');
  const date = (iso: string) => iso.replaceAll('-', '');
  const next = (iso: string) => new Date(Date.parse(iso) + 86_400_000).toISOString().slice(0, 10);
  const lines = [
    'BEGIN:VCALENDAR',
    'VERSION:2.0',
    'PRODID:-//Baton//Plan//EN',
    `NAME:${escaped(name)}`,
    ...entries.flatMap((e) => [
      'BEGIN:VEVENT',
      `UID:${escaped(e.uid)}`,
      `DTSTAMP:${stamp}`,
      `DTSTART;VALUE=DATE:${date(e.day)}`,
      `DTEND;VALUE=DATE:${date(next(e.day))}`,
      `SUMMARY:${escaped(e.title)}`,
      ...(e.text === '' ? [] : [`DESCRIPTION:${escaped(e.text)}`]),
      'TRANSP:TRANSPARENT',
      'END:VEVENT',
    ]),
    'END:VCALENDAR',
  ];
  return lines.map((line) => `${folded(line)}\r\n`).join('');
}

function escaped(text: string): string {
  return text.replace(/[\\;,]/g, '\\$&').replace(/\r\n|\r|\n/g, '\\n');
}

/** Never inside a character. */
function folded(line: string): string {
  const encoder = new TextEncoder();
  let [out, octets] = ['', 0];
  for (const char of line) {
    const more = encoder.encode(char).length;
    if (octets + more > LINE_OCTETS) [out, octets] = [`${out}\r\n `, 1];
    out += char;
    octets += more;
  }
  return out;
}
