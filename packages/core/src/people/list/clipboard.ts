import Papa from 'papaparse';

/**
 * Cells as spreadsheets put them on the clipboard: tabs between, line breaks after rows, quoted where a cell holds
 * one of these or begins with a quotation mark.
 */
export function cellsToClipboard(rows: readonly (readonly string[])[]): string {
  const cell = (value: string) => (/[\t\r\n]|^"/.test(value) ? `"${value.replaceAll('"', '""')}"` : value);
  return rows.map((row) => row.map(cell).join('\t')).join('\r\n');
}

/** Reads what a spreadsheet put on the clipboard; one cell is one row of one cell. */
export function cellsFromClipboard(text: string): string[][] {
  // Spreadsheets end the last row with a line break too.
  const whole = text.replace(/\r?\n$/, '');
  const rows = Papa.parse<string[]>(whole, { delimiter: '\t' }).data;
  return rows.length === 0 ? [['']] : rows;
}
