/**
 * Writes rows as CSV (RFC 4180): comma, CRLF, quoted where needed. A cell that a spreadsheet would run as a
 * formula (starting with = + - @, tab or return) gets a leading apostrophe, unless it is a plain number.
 *
 * @returns the text without byte order mark; '' for no rows
 */
export function writeCsv(rows: readonly (readonly string[])[]): string {
  return rows.map((row) => `${row.map(cell).join(',')}\r\n`).join('');
}

function cell(value: string): string {
  const safe = /^[=+\-@\t\r]/.test(value) && !/^[+-]?\d+(?:[.,]\d+)?$/.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(safe) || safe !== safe.trim() ? `"${safe.replaceAll('"', '""')}"` : safe;
}
