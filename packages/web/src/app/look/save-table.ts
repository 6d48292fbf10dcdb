import { writeCsv } from '@baton/core';
import { saveFile } from './save-file';

/**
 * Gives the browser a table to keep, as CSV with the mark by which spreadsheets know UTF-8.
 *
 * @param name of the file, without its ending
 * @param rows the first are the names of the columns
 */
export function saveTable(name: string, rows: readonly (readonly (string | number)[])[]): void {
  const csv = writeCsv(rows.map((row) => row.map(String)));
  saveFile(new Blob([`\ufeff${csv}`], { type: 'text/csv' }), `${name}.csv`);
}
