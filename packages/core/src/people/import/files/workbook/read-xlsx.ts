import { DomainError } from '../../../../errors';
import { builtInFormat, formatNumber } from './number-format';
import { MAX_CELL_LENGTH, MAX_LETTERS, RowCollector, type Workbook, MAX_SHEET_ROWS } from './sheet';
import { unzip } from './unzip';
import { xmlReader, type XmlHandler } from './xml';

interface Parts {
  sheets: { name: string; isHidden: boolean; relation: string }[];
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
    'xl/_rels/workbook.xml.rels': relationsReader(parts.targets),
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
    sheets: parts.sheets.map(({ name, isHidden }) => ({ name, isHidden })),
    read(index, withHidden) {
      const target = parts.targets.get(parts.sheets[index]?.relation ?? '');
      const path = target?.startsWith('/') ? target.slice(1) : `xl/${target ?? ''}`;
      const rows = new RowCollector(withHidden);
      const links = new Map<string, string>();
      readPart(bytes, path.replace(/([^/]*)$/, '_rels/$1.rels'), relationsReader(links));
      readPart(bytes, path, sheetReader(parts, rows, links));
      return rows.end();
    },
  };
}

function readPart(bytes: Uint8Array, part: string, handler: XmlHandler): void {
  const read = xmlReader(handler);
  unzip(
    bytes,
    (name) => name === part,
    (_, piece, last) => read(piece, last),
  );
}

function workbookReader(parts: Parts): XmlHandler {
  return {
    open(name, attribute) {
      if (name === 'workbookPr') parts.is1904 = /^(?:1|true)$/.test(attribute('date1904') ?? '');
      // `veryHidden`: by a program, and for it alone.
      const state = attribute('state');
      if (name === 'sheet' && state !== 'veryHidden')
        parts.sheets.push({
          name: attribute('name') ?? '',
          isHidden: state === 'hidden',
          relation: attribute('id') ?? '',
        });
    },
    close: () => undefined,
    text: () => undefined,
  };
}

/** @param targets gets what each relation of a part points to */
function relationsReader(targets: Map<string, string>): XmlHandler {
  return {
    open(name, attribute) {
      if (name === 'Relationship') targets.set(attribute('Id') ?? '', attribute('Target') ?? '');
    },
    close: () => undefined,
    text: () => undefined,
  };
}

function stringsReader(parts: Parts): XmlHandler {
  let text = '';
  let inText = false;
  let phonetic = false;
  let letters = 0;
  return {
    open(name) {
      if (name === 'si') text = '';
      if (name === 'rPh') phonetic = true;
      if (name === 't') inText = true;
    },
    close(name) {
      if (name === 'si') {
        letters += text.length;
        if (letters > MAX_LETTERS || parts.strings.length >= MAX_STRINGS) throw tooManyStrings();
        parts.strings.push(unescaped(text));
      }
      if (name === 'rPh') phonetic = false;
      if (name === 't') inText = false;
    },
    text(piece) {
      if (inText && !phonetic && text.length < MAX_CELL_LENGTH) text += piece.slice(0, MAX_CELL_LENGTH - text.length);
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

/** @param links what the relations of the sheet point to */
function sheetReader(parts: Parts, rows: RowCollector, links: ReadonlyMap<string, string>): XmlHandler {
  let line = 0;
  let isHidden = false;
  let inRow = false;
  let columns: number[] = [];
  let values: string[] = [];
  let column = 0;
  let type = '';
  let style = 0;
  let value = '';
  let taking = false;
  let phonetic = false;
  return {
    open(name, attribute) {
      if (name === 'row') {
        line = Number(attribute('r') ?? line + 1);
        isHidden = /^(?:1|true)$/.test(attribute('hidden') ?? '');
        inRow = true;
        [columns, values, column] = [[], [], 0];
      } else if (name === 'c') {
        const reference = attribute('r');
        column = reference === undefined ? column : columnOf(reference);
        type = attribute('t') ?? 'n';
        style = Number(attribute('s') ?? 0);
        value = '';
      } else if (name === 'v' || name === 't') taking = true;
      else if (name === 'rPh') phonetic = true;
      else if (name === 'hyperlink') {
        const { line: at, column: of } = placeOf(attribute('ref') ?? '');
        rows.link(at, of, links.get(attribute('id') ?? '') ?? '');
      } else if (name === 'mergeCell') {
        const [first = '', last = ''] = (attribute('ref') ?? '').split(':').slice(0, 2);
        const { line: from, column: of } = placeOf(first);
        rows.span(of, from, Math.min(placeOf(last).line, from + MAX_SHEET_ROWS));
      }
    },
    close(name) {
      if (name === 'v' || name === 't') taking = false;
      else if (name === 'rPh') phonetic = false;
      else if (name === 'c') {
        const shown = inRow && value !== '' ? shownValue(parts, type, style, value) : '';
        if (shown !== '') {
          columns.push(column);
          values.push(shown);
        }
        column++;
      } else if (name === 'row' && inRow) {
        rows.add(line, columns, values, isHidden);
        inRow = false;
      }
    },
    text(piece) {
      if (taking && !phonetic && value.length < MAX_CELL_LENGTH) value += piece;
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
      return unescaped(value).slice(0, MAX_CELL_LENGTH);
  }
}

/** `_x000D_`: letters that XML cannot hold, or that look like such (ECMA-376 part 1, 22.9.2.19). */
const unescaped = (text: string): string =>
  text.includes('_x')
    ? text.replace(/_x([\dA-Fa-f]{4})_/g, (_, code: string) => {
        const letter = String.fromCharCode(parseInt(code, 16));
        // Line breaks are one letter; halves of letters are none.
        return letter === '\r' || /[\ud800-\udfff]/.test(letter) ? '' : letter;
      })
    : text;

/** `C7` is line 7, column 2; line 0 for what is none. */
const placeOf = (reference: string): { line: number; column: number } => ({
  line: Number(/\d+$/.exec(reference)?.[0] ?? 0),
  column: columnOf(reference.replaceAll('$', '')),
});

/** `C7` is column 2, counted from 0; a reference that is none is far to the right. */
function columnOf(reference: string): number {
  let n = 0;
  for (const c of reference) {
    const letter = c.charCodeAt(0) - 64;
    if (letter < 1 || letter > 26) break;
    n = n * 26 + letter;
  }
  return n === 0 ? Number.MAX_SAFE_INTEGER : n - 1;
}

/** Texts that cells share. */
const MAX_STRINGS = 3_000_000;

const tooManyStrings = (): DomainError =>
  new DomainError(
    'too_large',
    'The workbook holds more text than a list of people does. Save the sheet as CSV, which is read piece by piece; nothing has been imported.',
  );
