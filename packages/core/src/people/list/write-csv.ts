/**
 * Writes rows as CSV (RFC 4180): comma, CRLF, quoted where needed. A cell that a spreadsheet would run as a
 * formula (starting with = + - @, tab or return) gets a leading apostrophe, unless it is a plain number.
 *
 * @returns the text without byte order mark; '' for no rows
 */
export function writeCsv(rows: readonly (readonly string[])[], separator: ',' | '\t' = ','): string {
  return rows.map((row) => `${row.map((value) => cell(value, separator)).join(separator)}\r\n`).join('');
}

function cell(value: string, separator: string): string {
  const safe = /^[=+\-@\t\r]/.test(value) && !/^[+-]?\d+(?:[.,]\d+)?$/.test(value) ? `'${value}` : value;
  const isBare = !safe.includes(separator) && !/["\r\n]/.test(safe) && safe === safe.trim();
  return isBare ? safe : `"${safe.replaceAll('"', '""')}"`;
}
