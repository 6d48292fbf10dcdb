import { DomainError } from '../../../../errors';
import type { TableRow } from '../table';
import { builtInFormat, formatNumber } from './number-format';
import { MAX_CELL_LENGTH, MAX_SHEET_COLUMNS, MAX_SHEET_ROWS, type Workbook } from './sheet';
import { unzip } from './unzip';
import { xmlReader, type XmlHandler } from './xml';

interface Parts {
  sheets: { name: string; relation: string }[];
  targets: Map<string, string>;
  strings: string[];
  /** Format code of each cell style. */
  formats: string[];
  is1904: boolean;
}

/**
 * Opens an Office Open XML workbook (ECMA-376 part 1, chapter 18). Values are those that were last shown: the stored
 * result of a formula, numbers and dates under their format, true and false; an error value is blank.
 *
 * @throws DomainError `invalid` or `too_large`, see {@link unzip}
 */
export function openXlsx(bytes: Uint8Array): Workbook {
  const parts: Parts = { sheets: [], targets: new Map(), strings: [], formats: [], is1904: false };
  const readers: Record<string, XmlHandler> = {
    'xl/workbook.xml': workbookReader(parts),
    'xl/_rels/workbook.xml.rels': relationsReader(parts),
    'xl/sharedStrings.xml': stringsReader(parts),
    'xl/styles.xml': stylesReader(parts),
  };
  const open = new Map(Object.entries(readers).map(([name, handler]) => [name, xmlReader(handler)]));
  unzip(
    bytes,
    (name) => open.has(name),
    (name, piece, last) => open.get(name)?.(piece, last),
  );
  if (parts.sheets.length === 0)
    throw new DomainError(
      'invalid',
      'This zip archive is not a workbook: it has no sheet. Expected an XLSX or ODS file.',
    );
  return {
    sheets: parts.sheets.map((s) => s.name),
    rows(index) {
      const target = parts.targets.get(parts.sheets[index]?.relation ?? '');
      const path = target?.startsWith('/') ? target.slice(1) : `xl/${target ?? ''}`;
      const rows: TableRow[] = [];
      const read = xmlReader(sheetReader(parts, rows));
      unzip(
        bytes,
        (name) => name === path,
        (_, piece, last) => read(piece, last),
      );
      return rows;
    },
  };
}

function workbookReader(parts: Parts): XmlHandler {
  return {
    open(name, attribute) {
      if (name === 'workbookPr') parts.is1904 = /^(?:1|true)$/.test(attribute('date1904') ?? '');
      if (name === 'sheet' && attribute('state') !== 'veryHidden')
        parts.sheets.push({ name: attribute('name') ?? '', relation: attribute('id') ?? '' });
    },
    close: () => undefined,
    text: () => undefined,
  };
}

function relationsReader(parts: Parts): XmlHandler {
  return {
    open(name, attribute) {
      if (name === 'Relationship') parts.targets.set(attribute('Id') ?? '', attribute('Target') ?? '');
    },
    close: () => undefined,
    text: () => undefined,
  };
}

function stringsReader(parts: Parts): XmlHandler {
  let text = '';
  let inText = false;
  let phonetic = false;
  return {
    open(name) {
      if (name === 'si') text = '';
      if (name === 'rPh') phonetic = true;
      if (name === 't') inText = true;
    },
    close(name) {
      if (name === 'si') parts.strings.push(text.slice(0, MAX_CELL_LENGTH));
      if (name === 'rPh') phonetic = false;
      if (name === 't') inText = false;
    },
    text(piece) {
      if (inText && !phonetic) text += piece;
    },
  };
}

function stylesReader(parts: Parts): XmlHandler {
  const codes = new Map<number, string>();
  let inCellFormats = false;
  return {
    open(name, attribute) {
      if (name === 'numFmt') codes.set(Number(attribute('numFmtId')), attribute('formatCode') ?? 'General');
      if (name === 'cellXfs') inCellFormats = true;
      if (name === 'xf' && inCellFormats) {
        const id = Number(attribute('numFmtId') ?? 0);
        parts.formats.push(codes.get(id) ?? builtInFormat(id));
      }
    },
    close(name) {
      if (name === 'cellXfs') inCellFormats = false;
    },
    text: () => undefined,
  };
}

function sheetReader(parts: Parts, rows: TableRow[]): XmlHandler {
  let row: TableRow | null = null;
  let nextLine = 1;
  let column = 0;
  let type = '';
  let style = 0;
  let value = '';
  let taking = false;
  return {
    open(name, attribute) {
      if (name === 'row') {
        row = { line: Number(attribute('r') ?? nextLine), cells: [] };
        column = 0;
      } else if (name === 'c') {
        const reference = attribute('r');
        column = reference === undefined ? column : columnOf(reference);
        type = attribute('t') ?? 'n';
        style = Number(attribute('s') ?? 0);
        value = '';
      } else if (name === 'v' || name === 't') taking = true;
    },
    close(name) {
      if (name === 'v' || name === 't') taking = false;
      else if (name === 'c') {
        if (row && column < MAX_SHEET_COLUMNS) put(row.cells, column, shownValue(parts, type, style, value));
        column++;
      } else if (name === 'row' && row) {
        if (rows.length >= MAX_SHEET_ROWS) throw tooManyRows();
        nextLine = row.line + 1;
        if (row.cells.some((c) => c !== '')) rows.push(row);
        row = null;
      }
    },
    text(piece) {
      if (taking && value.length < MAX_CELL_LENGTH) value += piece;
    },
  };
}

function shownValue(parts: Parts, type: string, style: number, value: string): string {
  switch (type) {
    case 's':
      return parts.strings[Number(value)] ?? '';
    case 'b':
      return value === '' ? '' : value === '1' ? 'TRUE' : 'FALSE';
    case 'e':
      return '';
    case 'n':
      return value === '' ? '' : formatNumber(Number(value), parts.formats[style] ?? 'General', parts.is1904);
    default:
      return value.slice(0, MAX_CELL_LENGTH);
  }
}

/** `C7` is column 2, counted from 0. */
function columnOf(reference: string): number {
  let n = 0;
  for (const c of reference) {
    const letter = c.charCodeAt(0) - 64;
    if (letter < 1 || letter > 26) break;
    n = n * 26 + letter;
  }
  return n - 1;
}

/** Fills the gap before a cell with blanks. */
function put(cells: string[], column: number, value: string): void {
  while (cells.length < column) cells.push('');
  cells[column] = value;
}

function tooManyRows(): DomainError {
  return new DomainError(
    'too_large',
    `The sheet has more than ${MAX_SHEET_ROWS.toLocaleString('en-GB')} rows, more than a spreadsheet program holds. Nothing has been imported.`,
  );
}
