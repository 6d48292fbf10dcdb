import { DomainError } from '../../../errors';
import { decodeText } from './decode-text';
import { readDelimited } from './read-delimited';
import { isFreeText, readFreeText } from './read-free-text';
import { isJsonLines, readJsonLines } from './read-json-lines';
import { readVcards } from './read-vcards';
import type { Table } from './table';
import { tableOfRows } from './table-of-rows';
import { openOds } from './workbook/read-ods';
import { openXlsx } from './workbook/read-xlsx';
import type { Workbook } from './workbook/sheet';

export type PeopleFileKind = 'delimited' | 'xlsx' | 'ods' | 'vcard' | 'json_lines' | 'free_text';

/** A file of people, whatever it was, as one table. */
export interface PeopleFile {
  kind: PeopleFileKind;
  table: Table;
  /** Names of the workbook's sheets, and which one this is; [] and 0 for what has none. */
  sheets: string[];
  sheet: number;
  /** Of a text: its encoding in words, and how many lines were in another one; '' and 0 for a workbook. */
  encoding: string;
  otherLines: number;
  /** Of delimited text; '' otherwise. */
  delimiter: string;
}

/**
 * Reads a file of people: CSV, TSV or semicolons in any common encoding, XLSX, ODS, vCards, JSON lines, or a text with
 * addresses in it. What it is is detected from its content, never by its name.
 *
 * @param wantedSheet of a workbook; null takes the first sheet that has addresses in it, else the first with rows
 * @throws DomainError with a sentence for what cannot be read; nothing is half-read
 */
export function readPeopleFile(bytes: Uint8Array, wantedSheet: number | null = null): PeopleFile {
  if (startsWith(bytes, 0x50, 0x4b, 0x03, 0x04)) return readWorkbook(bytes, wantedSheet);
  if (startsWith(bytes, 0xd0, 0xcf, 0x11, 0xe0))
    throw new DomainError(
      'not_text',
      'This is a workbook of the old binary kind (XLS), or one locked with a password. Save it as XLSX or CSV; nothing has been imported.',
    );
  const { text, encoding, otherLines } = decodeText(bytes);
  const file = { sheets: [], sheet: 0, encoding, otherLines, delimiter: '' };
  if (/^\s*BEGIN:VCARD/i.test(text.slice(0, 500))) return { ...file, kind: 'vcard', table: readVcards(text) };
  if (isJsonLines(text)) return { ...file, kind: 'json_lines', table: readJsonLines(text) };
  if (text.length < FREE_TEXT_LIMIT && isFreeText(text))
    return { ...file, kind: 'free_text', table: readFreeText(text) };
  const { delimiter, ...table } = readDelimited(text);
  return { ...file, kind: 'delimited', table, delimiter };
}

/** A longer address is no address that people write to. */
const FREE_TEXT_LIMIT = 200_000;

function readWorkbook(bytes: Uint8Array, wantedSheet: number | null): PeopleFile {
  const isOds = includesText(bytes.subarray(0, 200), 'opendocument.spreadsheet');
  const workbook = isOds ? openOds(bytes) : openXlsx(bytes);
  const sheet = wantedSheet ?? likeliestSheet(workbook);
  if (sheet < 0 || sheet >= workbook.sheets.length)
    throw new DomainError(
      'out_of_range',
      `The workbook has ${workbook.sheets.length} sheets; there is no number ${sheet + 1}.`,
    );
  const rows = workbook.rows(sheet);
  if (rows.length === 0)
    throw new DomainError(
      'empty_file',
      `The sheet “${workbook.sheets[sheet]}” is empty. ${workbook.sheets.length > 1 ? `The others are ${others(workbook, sheet)}.` : 'Expected a header row and one row per person.'}`,
    );
  return {
    kind: isOds ? 'ods' : 'xlsx',
    table: tableOfRows(rows),
    sheets: workbook.sheets,
    sheet,
    encoding: '',
    otherLines: 0,
    delimiter: '',
  };
}

const others = (workbook: Workbook, sheet: number): string =>
  workbook.sheets
    .filter((_, i) => i !== sheet)
    .map((s) => `“${s}”`)
    .join(', ');

/** Sheets looked into for addresses; people are on one of the first. */
const SHEETS_SEARCHED = 10;

function likeliestSheet(workbook: Workbook): number {
  let first = -1;
  for (let i = 0; i < Math.min(workbook.sheets.length, SHEETS_SEARCHED); i++) {
    const rows = workbook.rows(i);
    if (rows.length > 0 && first < 0) first = i;
    if (rows.slice(0, 50).some((r) => r.cells.some((c) => /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(c.trim())))) return i;
  }
  return Math.max(first, 0);
}

const startsWith = (bytes: Uint8Array, ...magic: number[]): boolean => magic.every((b, i) => bytes[i] === b);

function includesText(bytes: Uint8Array, text: string): boolean {
  return String.fromCharCode(...bytes).includes(text);
}
