import ICAL from 'ical.js';
import { parseAddress } from '../../address/address';
import type { RowAside, Table, TableRow } from './table';
import { tableOfRows } from './table-of-rows';
import { asVersion3 } from './vcard-21';

const HEADER = [
  'email',
  'full name',
  'given name',
  'family name',
  'company',
  'title',
  'phone',
  'city',
  'country',
  'time zone',
  'tags',
  'other addresses',
  'note',
];

/**
 * Reads vCards of version 3 (RFC 2426) and 4 (RFC 6350), and of 2.1 as those of version 3 ({@link asVersion3}). Of several addresses a card's preferred or first one is taken,
 * the others are kept in a column; categories become tags; pictures are skipped. A card that does not read is kept
 * aside and the others are taken.
 */
export function readVcards(text: string): Table {
  const rows: TableRow[] = [{ line: 0, cells: HEADER }];
  const aside: RowAside[] = [];
  for (const { line, lines } of splitCards(text)) {
    try {
      const own = lines.some((l) => /^VERSION:2\.1\s*$/i.test(l)) ? asVersion3(lines) : lines;
      rows.push({ line, cells: cellsOf(own.join('\r\n')) });
    } catch {
      aside.push({ line, cells: lines.slice(1, 6), reason: 'The card does not read as a vCard' });
    }
  }
  const table = tableOfRows(rows, aside);
  return { ...table, headerLine: null };
}

/** Cards by their BEGIN and END lines; a card never closed ends where the next begins. */
function splitCards(text: string): { line: number; lines: string[] }[] {
  const cards: { line: number; lines: string[] }[] = [];
  let open: { line: number; lines: string[] } | null = null;
  text.split(/\r\n?|\n/).forEach((raw, i) => {
    if (/^BEGIN:VCARD\s*$/i.test(raw)) cards.push((open = { line: i + 1, lines: [] }));
    if (open && raw !== '' && !isPicture(open, raw)) open.lines.push(raw);
    if (/^END:VCARD\s*$/i.test(raw)) open = null;
  });
  return cards;
}

const inPicture = new WeakSet<object>();

/** A picture and its folded lines: large, often broken, and never needed. */
function isPicture(card: object, raw: string): boolean {
  const folded = /^[ \t]/.test(raw);
  if (/^(?:[\w-]+\.)?(?:PHOTO|LOGO|SOUND|KEY)[;:]/i.test(raw)) inPicture.add(card);
  else if (!folded) inPicture.delete(card);
  return inPicture.has(card);
}

function cellsOf(card: string): string[] {
  const component = new ICAL.Component(ICAL.parse(card) as unknown as unknown[]);
  const all = (name: string) => component.getAllProperties(name);
  const flat = (name: string): string => {
    const value = component.getFirstPropertyValue(name) as unknown;
    return (
      Array.isArray(value)
        ? value
            .flat()
            .filter((v) => v !== '')
            .join(', ')
        : String(value ?? '')
    ).trim();
  };
  const part = (name: string, i: number): string => {
    const value = component.getFirstPropertyValue(name) as unknown;
    const at = Array.isArray(value) ? value[i] : undefined;
    return (Array.isArray(at) ? at.join(' ') : String(at ?? '')).trim();
  };
  const emails = all('email').map((p) => ({
    address: String(p.getFirstValue() ?? '').trim(),
    preferred: p.getFirstParameter('pref') === '1' || /pref/i.test(String(p.getParameter('type') ?? '')),
  }));
  const usable = emails.filter((e) => parseAddress(e.address).ok);
  const chosen = (usable.find((e) => e.preferred) ?? usable[0] ?? emails[0])?.address ?? '';
  const others = emails.map((e) => e.address).filter((a) => a !== chosen);
  const tags = all('categories').flatMap((p) => p.getValues().map(String));
  return [
    chosen,
    flat('fn'),
    part('n', 1),
    part('n', 0),
    part('org', 0) || flat('org'),
    flat('title'),
    flat('tel').replace(/^tel:/i, ''),
    part('adr', 3),
    part('adr', 6),
    flat('tz'),
    tags.join(', '),
    others.join(', '),
    flat('note'),
  ];
}
