import { DomainError } from '../../../errors';
import { decodeAscii, decodeText, utf16Order } from './decode-text';
import type { Encoding } from './guess-encoding';
import { readDelimited } from './read-delimited';
import { isFreeText, readFreeText } from './read-free-text';
import { isJson, isJsonLines, readJson, readJsonLines } from './read-json-lines';
import { readVcards } from './read-vcards';
import type { Table } from './table';
import { tableOfRows } from './table-of-rows';
import { isHtmlTable, readHtmlTables } from './workbook/read-html-tables';
import { openFlatOds, openOds } from './workbook/read-ods';
import { openXlsx } from './workbook/read-xlsx';
import { openSpreadsheetXml, SPREADSHEET_XML } from './workbook/read-spreadsheet-xml';
import type { Sheet, SheetRows, Workbook } from './workbook/sheet';

export type PeopleFileKind =
  'delimited' | 'xlsx' | 'ods' | 'xml' | 'html' | 'vcard' | 'json' | 'json_lines' | 'free_text';

/** What was said about how a file is read; without it, Baton's guess holds. */
export interface ReadingChoices {
  /** Of a workbook: which sheet. */
  sheet?: number | null;
  /** Of a workbook: whether rows that the sheet hides, by hand or by a filter, come too. */
  withHidden?: boolean;
  /** Of a text that is not Unicode: its encoding; null where it is Baton's guess. */
  encoding?: Encoding | null;
}

/** A file of people, whatever it was, as one table. */
export interface PeopleFile {
  kind: PeopleFileKind;
  table: Table;
  /** The workbook's sheets, and which one this is; [] and 0 for what has none. */
  sheets: readonly Sheet[];
  sheet: number;
  /** Rows of the sheet that it hides. */
  hiddenRows: number;
  /** Of a text: its encoding in words, and how many lines were in another one; '' and 0 for a workbook. */
  encoding: string;
  otherLines: number;
  /** Of delimited text; '' otherwise. */
  delimiter: string;
}

/**
 * Reads a file of people: CSV, TSV or semicolons in any common encoding, XLSX, ODS packed or flat, spreadsheet XML, an HTML page with a
 * table, vCards, JSON (a list or lines), or a text with addresses in it. What it is is detected from its content, never by its name.
 *
 * @throws DomainError with a sentence for what cannot be read; nothing is half-read
 */
export function readPeopleFile(bytes: Uint8Array, choices: ReadingChoices = {}): PeopleFile {
  if (isZip(bytes)) {
    const isOds = includesText(bytes.subarray(0, 200), 'opendocument.spreadsheet');
    return isOds ? ofWorkbook('ods', openOds(bytes), choices) : ofWorkbook('xlsx', openXlsx(bytes), choices);
  }
  if (startsWith(bytes, 0xd0, 0xcf, 0x11, 0xe0))
    throw new DomainError(
      'not_text',
      'This is a workbook of the old binary kind (XLS), or one locked with a password. Save it as XLSX or CSV; nothing has been imported.',
    );
  if (isFlatOds(bytes)) return ofWorkbook('ods', openFlatOds(bytes), choices);
  if (isSpreadsheetXml(bytes)) return ofWorkbook('xml', openSpreadsheetXml(bytes), choices);
  const { text, encoding, otherLines } = decodeText(bytes, utf16Order(bytes), choices.encoding ?? null);
  const file = { sheets: [], sheet: 0, hiddenRows: 0, encoding, otherLines, delimiter: '' };
  if (isVcards(text)) return { ...file, kind: 'vcard', table: readVcards(text) };
  if (isHtmlTable(text)) return { ...ofWorkbook('html', readHtmlTables(text), choices), encoding, otherLines };
  if (isJsonLines(text)) return { ...file, kind: 'json_lines', table: readJsonLines(text) };
  if (isJson(text)) return { ...file, kind: 'json', table: readJson(text) };
  if (text.length < FREE_TEXT_LIMIT && isFreeText(text))
    return { ...file, kind: 'free_text', table: readFreeText(text) };
  const { delimiter, ...table } = readDelimited(text);
  return { ...file, kind: 'delimited', table, delimiter };
}

/** A longer text is no letter with addresses in it. */
const FREE_TEXT_LIMIT = 200_000;

/** Whether a file is a zip archive, as most workbooks are. */
export const isZip = (bytes: Uint8Array): boolean => startsWith(bytes, 0x50, 0x4b, 0x03, 0x04);

/** What tells what a file is. */
const HEAD = 4000;

/**
 * Whether a file must be read whole, whatever its size, because its rows are not its lines: a workbook, a page with a
 * table, contact cards, one JSON value.
 *
 * @param head its first bytes
 */
export function isReadWhole(head: Uint8Array): boolean {
  if (isZip(head) || isFlatOds(head) || isSpreadsheetXml(head)) return true;
  const bytes = head.subarray(0, HEAD);
  if (bytes.length === 0 || bytes.includes(0)) return false;
  const text = decodeAscii(bytes);
  return isVcards(text) || isHtmlTable(text) || (isJson(text) && !isJsonLines(text));
}

const isVcards = (text: string): boolean => /^\s*BEGIN:VCARD/i.test(text.slice(0, 500));

const isSpreadsheetXml = (bytes: Uint8Array): boolean => {
  const head = bytes.subarray(0, HEAD);
  return includesText(head, '<?xml') && includesText(head, SPREADSHEET_XML);
};

const isFlatOds = (bytes: Uint8Array): boolean => {
  const head = bytes.subarray(0, HEAD);
  return includesText(head, '<office:document') && includesText(head, 'opendocument.spreadsheet');
};

function ofWorkbook(kind: 'xlsx' | 'ods' | 'xml' | 'html', workbook: Workbook, choices: ReadingChoices): PeopleFile {
  const { sheets } = workbook;
  const wanted = choices.sheet ?? null;
  if (wanted !== null && (wanted < 0 || wanted >= sheets.length))
    throw new DomainError(
      'out_of_range',
      `The workbook has ${sheets.length} sheets; there is no number ${wanted + 1}.`,
    );
  const withHidden = choices.withHidden ?? false;
  const { sheet, rows, hidden } =
    wanted === null ? likeliestSheet(workbook, withHidden) : { sheet: wanted, ...workbook.read(wanted, withHidden) };
  if (rows.length === 0)
    throw new DomainError('empty_file', `The sheet “${sheets[sheet]?.name}” ${emptyWords(sheets, sheet, hidden)}`);
  return {
    kind,
    table: tableOfRows(rows, [], true),
    sheets: kind === 'html' && sheets.length === 1 ? [] : sheets,
    sheet,
    hiddenRows: hidden,
    encoding: '',
    otherLines: 0,
    delimiter: '',
  };
}

function emptyWords(sheets: readonly Sheet[], sheet: number, hidden: number): string {
  if (hidden > 0)
    return `shows no row; ${hidden.toLocaleString('en-GB')} are hidden. Show them in your spreadsheet program and save it.`;
  const others = sheets.filter((_, i) => i !== sheet).map(({ name }) => `“${name}”`);
  return others.length > 0
    ? `is empty. The others are ${others.join(', ')}.`
    : 'is empty. Expected a header row and one row per person.';
}

/** Sheets looked into for addresses; people are on one of the first. */
const SHEETS_SEARCHED = 10;

/** The first sheet with addresses, those that are shown before hidden ones; else the first with rows. */
function likeliestSheet(workbook: Workbook, withHidden: boolean): SheetRows & { sheet: number } {
  const order = [...workbook.sheets.keys()].sort(
    (a, b) => Number(workbook.sheets[a]?.isHidden) - Number(workbook.sheets[b]?.isHidden) || a - b,
  );
  let first: (SheetRows & { sheet: number }) | null = null;
  for (const sheet of order.slice(0, SHEETS_SEARCHED)) {
    const read = { sheet, ...workbook.read(sheet, withHidden) };
    if (read.rows.slice(0, 50).some((r) => r.cells.some((c) => /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(c.trim()))))
      return read;
    if (read.rows.length > 0) first ??= read;
  }
  return first ?? { sheet: 0, ...workbook.read(0, withHidden) };
}

const startsWith = (bytes: Uint8Array, ...magic: number[]): boolean => magic.every((b, i) => bytes[i] === b);

function includesText(bytes: Uint8Array, text: string): boolean {
  return String.fromCharCode(...bytes).includes(text);
}
