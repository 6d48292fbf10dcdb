import { DomainError, numberOf, type ListColumn } from '@baton/core';
import { strToU8, zipSync } from 'fflate';
import writeXlsxFile, { type SheetData } from 'write-excel-file/node';

export type SheetFormat = 'xlsx' | 'ods';

/** A sheet is put together whole; a file of more rows is a CSV. */
const MOST_SHEET_ROWS = 200_000;

const TYPES: Readonly<Record<SheetFormat, string>> = {
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  ods: 'application/vnd.oasis.opendocument.spreadsheet',
};
export const sheetType = (format: SheetFormat): string => TYPES[format];

/**
 * A spreadsheet. Numbers of the list's columns are numbers; every other cell is text, which no spreadsheet runs.
 *
 * @param columns of the first cells of each row; further ones are text
 * @throws DomainError `too_large` for more rows than a sheet takes
 */
export async function writeSheet(
  format: SheetFormat,
  header: readonly string[],
  chunks: AsyncIterable<string[][]> | Iterable<string[][]>,
  columns: readonly ListColumn[],
): Promise<Buffer> {
  const data: (string | number)[][] = [];
  for await (const rows of chunks)
    for (const row of rows) {
      if (data.length === MOST_SHEET_ROWS)
        throw new DomainError(
          'too_large',
          `A sheet takes up to ${MOST_SHEET_ROWS.toLocaleString('en')} rows, and these are more. Save them as CSV.`,
        );
      data.push(row.map((value, i) => (columns[i]?.kind === 'number' ? (numberOf(value) ?? value) : value)));
    }
  return format === 'xlsx' ? xlsxOf(header, data) : odsOf(header, data);
}

function xlsxOf(header: readonly string[], rows: readonly (readonly (string | number)[])[]): Promise<Buffer> {
  const sheet: SheetData = [header.map((value) => ({ value, type: String, fontWeight: 'bold' }))];
  for (const row of rows)
    sheet.push(
      row.map((value) => {
        if (value === '') return null;
        return typeof value === 'string' ? { value, type: String } : { value, type: Number };
      }),
    );
  return writeXlsxFile(sheet).toBuffer();
}

const ODF = 'urn:oasis:names:tc:opendocument:xmlns';
const XML = '<?xml version="1.0" encoding="UTF-8"?>';

/** Source: OASIS, Open Document Format for Office Applications 1.3, part 2 (package) and part 3 (schema), section 9.1. */
function odsOf(header: readonly string[], rows: readonly (readonly (string | number)[])[]): Buffer {
  const row = (cells: readonly (string | number)[]) =>
    `<table:table-row>${cells.map(odsCell).join('')}</table:table-row>`;
  const content = `${XML}<office:document-content xmlns:office="${ODF}:office:1.0" xmlns:table="${ODF}:table:1.0" xmlns:text="${ODF}:text:1.0" office:version="1.3"><office:body><office:spreadsheet><table:table table:name="People">${[header, ...rows].map(row).join('')}</table:table></office:spreadsheet></office:body></office:document-content>`;
  const manifest = `${XML}<manifest:manifest xmlns:manifest="${ODF}:manifest:1.0" manifest:version="1.3"><manifest:file-entry manifest:full-path="/" manifest:version="1.3" manifest:media-type="${TYPES.ods}"/><manifest:file-entry manifest:full-path="content.xml" manifest:media-type="text/xml"/></manifest:manifest>`;
  return Buffer.from(
    zipSync({
      // First, and as it is, so that the kind of file can be told from its beginning (part 2, section 3.3).
      mimetype: [strToU8(TYPES.ods), { level: 0 }],
      'content.xml': strToU8(content),
      'META-INF/manifest.xml': strToU8(manifest),
    }),
  );
}

function odsCell(value: string | number): string {
  if (value === '') return '<table:table-cell/>';
  if (typeof value === 'number')
    return `<table:table-cell office:value-type="float" office:value="${value}"><text:p>${value}</text:p></table:table-cell>`;
  const lines = value.split(/\r\n|\r|\n/).map((line) => `<text:p>${odsText(line)}</text:p>`);
  return `<table:table-cell office:value-type="string">${lines.join('')}</table:table-cell>`;
}

/** Whether XML can hold a character (XML 1.0, 2.2). */
const isFit = (character: string): boolean =>
  character === '\t' || (character >= ' ' && !/^[\ud800-\udfff\ufffe\uffff]$/.test(character));

/** White space that would be put together is written out (part 3, section 6.1.2). */
const odsText = (line: string): string =>
  Array.from(line, (character) => (isFit(character) ? character : '\ufffd'))
    .join('')
    .replace(/[&<>]/g, (c) => (c === '&' ? '&amp;' : c === '<' ? '&lt;' : '&gt;'))
    .replace(/\t/g, '<text:tab/>')
    .replace(/^ +| {2,}| +$/g, (spaces) => `<text:s text:c="${spaces.length}"/>`);
