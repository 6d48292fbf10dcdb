import { DomainError } from '../../../../errors';
import { MAX_CELL_LENGTH, MAX_SHEET_COLUMNS, RowCollector, type Sheet, type Workbook, MAX_SHEET_ROWS } from './sheet';
import { unzip } from './unzip';
import { xmlReader, type XmlHandler } from './xml';

/**
 * Opens an OpenDocument spreadsheet (ISO/IEC 26300-1, chapter 9). Cells are taken as the text they show, dates as their
 * value (19.370).
 *
 * @throws DomainError `invalid` or `too_large`, see {@link unzip}
 */
export function openOds(bytes: Uint8Array): Workbook {
  return odsWorkbook((handler) => {
    const reader = xmlReader(handler);
    unzip(
      bytes,
      (name) => name === 'content.xml',
      (_, piece, last) => reader(piece, last),
    );
  });
}

/** The same of a flat file, whose XML stands by itself. */
export function openFlatOds(bytes: Uint8Array): Workbook {
  return odsWorkbook((handler) => xmlReader(handler)(bytes, true));
}

function odsWorkbook(read: (handler: XmlHandler) => void): Workbook {
  const sheets: Sheet[] = [];
  const hiddenStyles = new Set<string>();
  read(sheetsReader(sheets, hiddenStyles));
  if (sheets.length === 0)
    throw new DomainError(
      'invalid',
      'This zip archive is not a workbook: it has no sheet. Expected an XLSX or ODS file.',
    );
  return {
    sheets,
    read(index, withHidden) {
      const rows = new RowCollector(withHidden);
      let at = -1;
      read(contentReader(() => (++at === index ? rows : null)));
      return rows.end();
    },
  };
}

/** Names of the tables, and whether their style hides them. */
function sheetsReader(sheets: Sheet[], hiddenStyles: Set<string>): XmlHandler {
  let style = '';
  let depth = 0;
  return {
    open(name, attribute) {
      if (name === 'style') style = attribute('family') === 'table' ? (attribute('name') ?? '') : '';
      else if (name === 'table-properties' && attribute('display') === 'false') hiddenStyles.add(style);
      else if (name === 'table' && depth++ === 0)
        sheets.push({ name: attribute('name') ?? '', isHidden: hiddenStyles.has(attribute('style-name') ?? '') });
    },
    close(name) {
      if (name === 'table') depth--;
    },
    text: () => undefined,
  };
}

/** The text that a cell shows: its paragraphs, without what is noted at it. */
class CellText {
  private text = '';
  private paragraphs = 0;
  private inParagraph = 0;
  private inNote = false;

  begin(): void {
    [this.text, this.paragraphs] = ['', 0];
  }

  get shown(): string {
    return this.text;
  }

  open(name: string, count: string | undefined): void {
    if (name === 'annotation') this.inNote = true;
    else if (name === 'p' && !this.inNote) {
      if (this.paragraphs++ > 0) this.put('\n');
      this.inParagraph++;
    } else if (name === 's') this.write(' '.repeat(Math.min(Number(count ?? 1) || 1, 100)));
    else if (name === 'tab') this.write('\t');
    else if (name === 'line-break') this.write('\n');
  }

  close(name: string): void {
    if (name === 'annotation') this.inNote = false;
    else if (name === 'p' && !this.inNote) this.inParagraph--;
  }

  write(piece: string): void {
    if (this.inParagraph > 0 && !this.inNote) this.put(piece);
  }

  private put(piece: string): void {
    if (this.text.length < MAX_CELL_LENGTH) this.text += piece.slice(0, MAX_CELL_LENGTH - this.text.length);
  }
}

/** How often something is repeated, as it is written. */
const times = (written: string | undefined): number => Math.max(1, Math.floor(Number(written ?? 1)) || 1);

/** @param onSheet where the sheet's rows go; null skips it */
function contentReader(onSheet: () => RowCollector | null): XmlHandler {
  const text = new CellText();
  let rows: RowCollector | null = null;
  let depth = 0;
  let line = 0;
  let columns: number[] = [];
  let values: string[] = [];
  let column = 0;
  let repeatRow = 1;
  let repeatCell = 1;
  let isHidden = false;
  let date = '';
  let link = '';
  let spans = 1;
  return {
    open(name, attribute) {
      if (name === 'table') {
        if (depth++ > 0) return;
        rows = onSheet();
        line = 0;
      } else if (name === 'table-row') {
        [columns, values, column] = [[], [], 0];
        repeatRow = times(attribute('number-rows-repeated'));
        isHidden = /^(?:collapse|filter)$/.test(attribute('visibility') ?? '');
      } else if (name === 'table-cell' || name === 'covered-table-cell') {
        repeatCell = times(attribute('number-columns-repeated'));
        date = attribute('value-type') === 'date' ? (attribute('date-value') ?? '') : '';
        spans = Math.min(times(attribute('number-rows-spanned')), MAX_SHEET_ROWS);
        link = '';
        text.begin();
      } else if (name === 'a') link = attribute('href') ?? '';
      else if (rows) text.open(name, attribute('c'));
    },
    close(name) {
      if (name === 'table') {
        if (--depth === 0) rows = null;
      } else if (name === 'table-cell' || name === 'covered-table-cell') {
        const value = isoDateOf(date) ?? text.shown;
        rows?.link(line + 1, column, link);
        if (spans > 1) rows?.span(column, line + 1, line + spans);
        // Blank cells are repeated to the sheet's edge; only those before a value matter.
        const end = Math.min(column + repeatCell, MAX_SHEET_COLUMNS);
        for (let at = column; value !== '' && at < end; at++) {
          columns.push(at);
          values.push(value);
        }
        column += repeatCell;
      } else if (name === 'table-row') {
        for (let i = 0; rows && columns.length > 0 && i < repeatRow; i++)
          rows.add(line + 1 + i, columns, values, isHidden);
        line += repeatRow;
      } else if (rows) text.close(name);
    },
    text(piece) {
      if (rows) text.write(piece);
    },
  };
}

/** A date as the file has it (XML Schema's date or dateTime) as cells show it; its time only if it has one. */
function isoDateOf(value: string): string | null {
  const m = /^(\d{4}-\d\d-\d\d)(?:T(\d\d:\d\d)(?::(\d\d))?)?/.exec(value);
  if (!m) return null;
  const [, day = '', time = '00:00', seconds = '00'] = m;
  return time === '00:00' && seconds === '00' ? day : `${day} ${time}${seconds === '00' ? '' : `:${seconds}`}`;
}
