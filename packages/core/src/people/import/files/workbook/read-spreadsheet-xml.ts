import { MAX_CELL_LENGTH, MAX_SHEET_COLUMNS, MAX_SHEET_ROWS, RowCollector, type Sheet, type Workbook } from './sheet';
import { xmlReader, type XmlHandler } from './xml';

/** What marks a workbook in one XML file, as many programs export it under the name of a binary one. */
export const SPREADSHEET_XML = 'urn:schemas-microsoft-com:office:spreadsheet';

/** Opens a workbook in one XML file (XML Spreadsheet): cells are the text they show, dates their value. */
export function openSpreadsheetXml(bytes: Uint8Array): Workbook {
  const sheets: Sheet[] = [];
  read(bytes, sheetsReader(sheets));
  return {
    sheets,
    read(index, withHidden) {
      const rows = new RowCollector(withHidden);
      let at = -1;
      read(
        bytes,
        rowsReader(() => (++at === index ? rows : null)),
      );
      return rows.end();
    },
  };
}

const read = (bytes: Uint8Array, handler: XmlHandler): void => xmlReader(handler)(bytes, true);

function sheetsReader(sheets: Sheet[]): XmlHandler {
  let inVisible = false;
  return {
    open(name, attribute) {
      if (name === 'Worksheet') sheets.push({ name: attribute('Name') ?? '', isHidden: false });
      if (name === 'Visible') inVisible = true;
    },
    close(name) {
      if (name === 'Visible') inVisible = false;
    },
    text(piece) {
      const sheet = sheets.at(-1);
      if (inVisible && sheet && /Hidden/.test(piece)) sheet.isHidden = true;
    },
  };
}

/** @param onSheet where the sheet's rows go; null skips it */
function rowsReader(onSheet: () => RowCollector | null): XmlHandler {
  let rows: RowCollector | null = null;
  let [line, column] = [0, 0];
  let [columns, values]: [number[], string[]] = [[], []];
  let isHidden = false;
  let [value, type, link] = ['', '', ''];
  let [across, down] = [0, 0];
  let inData = false;
  const more = (written: string | undefined, most: number) =>
    Math.min(most, Math.max(0, Math.floor(Number(written ?? 0)) || 0));
  return {
    open(name, attribute) {
      if (name === 'Worksheet') {
        rows = onSheet();
        line = 0;
      } else if (name === 'Row') {
        // A row or cell with an index leaves out those before it.
        line = more(attribute('Index'), MAX_SHEET_ROWS) || line + 1;
        isHidden = attribute('Hidden') === '1';
        [columns, values, column] = [[], [], 0];
      } else if (name === 'Cell') {
        column = (more(attribute('Index'), MAX_SHEET_COLUMNS + 1) || column + 1) - 1;
        across = more(attribute('MergeAcross'), MAX_SHEET_COLUMNS);
        down = more(attribute('MergeDown'), MAX_SHEET_ROWS);
        [value, type, link] = ['', '', attribute('HRef') ?? ''];
      } else if (name === 'Data') {
        inData = true;
        type = attribute('Type') ?? '';
      }
    },
    close(name) {
      if (name === 'Data') inData = false;
      else if (name === 'Cell') {
        const shown = shownValue(type, value);
        rows?.link(line, column, link);
        if (shown !== '') {
          columns.push(column);
          values.push(shown);
        }
        if (down > 0) rows?.span(column, line, line + down);
        column += 1 + across;
      } else if (name === 'Row') {
        rows?.add(line, columns, values, isHidden);
      } else if (name === 'Worksheet') {
        rows = null;
      }
    },
    text(piece) {
      if (inData && rows && value.length < MAX_CELL_LENGTH) value += piece.slice(0, MAX_CELL_LENGTH - value.length);
    },
  };
}

function shownValue(type: string, value: string): string {
  if (type === 'Boolean') return value === '1' ? 'TRUE' : 'FALSE';
  if (type === 'Error') return '';
  if (type === 'DateTime')
    return value
      .replace(/T00:00:00(?:\.0+)?$/, '')
      .replace('T', ' ')
      .replace(/(?::00)?\.0+$/, '');
  return value.trim();
}
