/** A text in one line, cut where a reason would become too long. */
export function inShort(text: string, most = 60): string {
  const line = text.replace(/\s+/g, ' ').trim();
  return line.length <= most ? line : `${line.slice(0, most - 1).trimEnd()}…`;
}
