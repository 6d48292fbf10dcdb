import { DomainError } from '../../../../errors';
import type { TableRow } from '../table';
import { MAX_CELL_LENGTH, MAX_SHEET_COLUMNS, MAX_SHEET_ROWS, type Workbook } from './sheet';
import { unzip } from './unzip';
import { xmlReader, type XmlHandler } from './xml';

/**
 * Opens an OpenDocument spreadsheet (ISO/IEC 26300-1, chapter 9). Cells are taken as the text they show.
 *
 * @throws DomainError `invalid` or `too_large`, see {@link unzip}
 */
export function openOds(bytes: Uint8Array): Workbook {
  const read = (onSheet: (name: string) => TableRow[] | null) => {
    const reader = xmlReader(contentReader(onSheet));
    unzip(
      bytes,
      (name) => name === 'content.xml',
      (_, piece, last) => reader(piece, last),
    );
  };
  const sheets: string[] = [];
  read((name) => {
    sheets.push(name);
    return null;
  });
  if (sheets.length === 0)
    throw new DomainError(
      'invalid',
      'This zip archive is not a workbook: it has no sheet. Expected an XLSX or ODS file.',
    );
  return {
    sheets,
    rows(index) {
      const rows: TableRow[] = [];
      let at = -1;
      read(() => (++at === index ? rows : null));
      return rows;
    },
  };
}

/** @param onSheet where the sheet's rows go; null skips it */
function contentReader(onSheet: (name: string) => TableRow[] | null): XmlHandler {
  let rows: TableRow[] | null = null;
  let line = 0;
  let cells: string[] = [];
  let repeatRow = 1;
  let repeatCell = 1;
  let text: string | null = null;
  let paragraphs = 0;
  let inParagraph = 0;
  let inNote = false;
  return {
    open(name, attribute) {
      if (name === 'table') {
        rows = onSheet(attribute('name') ?? '');
        line = 0;
      } else if (name === 'table-row') {
        cells = [];
        repeatRow = Number(attribute('number-rows-repeated') ?? 1);
      } else if (name === 'table-cell' || name === 'covered-table-cell') {
        repeatCell = Number(attribute('number-columns-repeated') ?? 1);
        text = '';
        paragraphs = 0;
      } else if (name === 'annotation') inNote = true;
      else if (name === 'p' && !inNote) {
        if (paragraphs++ > 0) text = `${text ?? ''}\n`;
        inParagraph++;
      } else if (name === 's' && inParagraph > 0)
        text = `${text ?? ''}${' '.repeat(Math.min(Number(attribute('c') ?? 1), 100))}`;
      else if (name === 'tab' && inParagraph > 0) text = `${text ?? ''}\t`;
      else if (name === 'line-break' && inParagraph > 0) text = `${text ?? ''}\n`;
    },
    close(name) {
      if (name === 'table') rows = null;
      else if (name === 'annotation') inNote = false;
      else if (name === 'p' && !inNote) inParagraph--;
      else if (name === 'table-cell' || name === 'covered-table-cell') {
        // Blank cells are repeated to the sheet's edge; only those before a value matter.
        const n = Math.min(repeatCell, MAX_SHEET_COLUMNS - cells.length);
        for (let i = 0; i < n; i++) cells.push(text ?? '');
        text = null;
      } else if (name === 'table-row') {
        if (rows) addRows(rows, cells, line + 1, repeatRow);
        line += repeatRow;
      }
    },
    text(piece) {
      if (rows && inParagraph > 0 && text !== null && text.length < MAX_CELL_LENGTH) text += piece;
    },
  };
}

function addRows(rows: TableRow[], cells: string[], line: number, times: number): void {
  if (cells.every((c) => c === '')) return;
  while (cells.at(-1) === '') cells.pop();
  if (rows.length + times > MAX_SHEET_ROWS)
    throw new DomainError(
      'too_large',
      `The sheet has more than ${MAX_SHEET_ROWS.toLocaleString('en-GB')} rows, more than a spreadsheet program holds. Nothing has been imported.`,
    );
  for (let i = 0; i < times; i++) rows.push({ line: line + i, cells: [...cells] });
}
