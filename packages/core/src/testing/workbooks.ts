import { strToU8, zipSync } from 'fflate';

/** A cell of a test workbook: as written in the sheet's XML. */
export type TestCell = string | number | { xml: string };

const escape = (text: string): string => text.replace(/&/g, '&amp;').replace(/</g, '&lt;');
const letter = (i: number): string => String.fromCharCode(65 + i);

/** An XLSX file with shared strings; numbers take style 0 unless they come as XML of their own. */
export function xlsx(
  sheets: Record<string, { line: number; cells: TestCell[]; hidden?: boolean }[]>,
  over: { formats?: string[]; is1904?: boolean; states?: Record<string, string> } = {},
): Uint8Array {
  const strings: string[] = [];
  const cellXml = (cell: TestCell, reference: string): string => {
    if (typeof cell === 'object') return cell.xml.replace('<c', `<c r="${reference}"`);
    if (typeof cell === 'number') return `<c r="${reference}"><v>${cell}</v></c>`;
    if (cell === '') return '';
    strings.push(cell);
    return `<c r="${reference}" t="s"><v>${strings.length - 1}</v></c>`;
  };
  const names = Object.keys(sheets);
  const files: Record<string, string> = {};
  names.forEach((name, i) => {
    const rows = (sheets[name] ?? []).map(
      ({ line, cells, hidden }) =>
        `<row r="${line}"${hidden ? ' hidden="1"' : ''}>${cells.map((c, j) => cellXml(c, `${letter(j)}${line}`)).join('')}</row>`,
    );
    files[`xl/worksheets/sheet${i + 1}.xml`] =
      `<?xml version="1.0"?><worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>${rows.join('')}</sheetData></worksheet>`;
  });
  const formats = over.formats ?? [];
  files['xl/styles.xml'] =
    `<styleSheet><numFmts>${formats.map((f, i) => `<numFmt numFmtId="${164 + i}" formatCode="${escape(f).replace(/"/g, '&quot;')}"/>`).join('')}</numFmts><cellXfs><xf numFmtId="0"/>${formats.map((_, i) => `<xf numFmtId="${164 + i}"/>`).join('')}</cellXfs></styleSheet>`;
  files['xl/sharedStrings.xml'] =
    `<sst>${strings.map((s) => `<si><t xml:space="preserve">${escape(s)}</t></si>`).join('')}</sst>`;
  files['xl/workbook.xml'] =
    `<workbook xmlns:r="r"><workbookPr${over.is1904 ? ' date1904="1"' : ''}/><sheets>${names.map((n, i) => `<sheet name="${escape(n)}" sheetId="${i + 1}"${over.states?.[n] ? ` state="${over.states[n]}"` : ''} r:id="rId${i + 1}"/>`).join('')}</sheets></workbook>`;
  files['xl/_rels/workbook.xml.rels'] =
    `<Relationships>${names.map((_, i) => `<Relationship Id="rId${i + 1}" Target="worksheets/sheet${i + 1}.xml"/>`).join('')}</Relationships>`;
  return zip(files);
}

/** An ODS file whose tables are given as XML rows. */
export function ods(tables: Record<string, string>): Uint8Array {
  const body = Object.entries(tables).map(([name, rows]) => `<table:table table:name="${name}">${rows}</table:table>`);
  return zip({
    mimetype: 'application/vnd.oasis.opendocument.spreadsheet',
    'content.xml': `<office:document-content xmlns:office="o" xmlns:table="t" xmlns:text="x"><office:body><office:spreadsheet>${body.join('')}</office:spreadsheet></office:body></office:document-content>`,
  });
}

/** An XLSX file whose first sheet is given as the XML of its rows. */
export function xlsxOfRows(rows: string, strings = ''): Uint8Array {
  return zip({
    'xl/workbook.xml': '<workbook xmlns:r="r"><sheets><sheet name="A" sheetId="1" r:id="rId1"/></sheets></workbook>',
    'xl/_rels/workbook.xml.rels':
      '<Relationships><Relationship Id="rId1" Target="worksheets/sheet1.xml"/></Relationships>',
    'xl/sharedStrings.xml': `<sst>${strings}</sst>`,
    'xl/worksheets/sheet1.xml': `<worksheet><sheetData>${rows}</sheetData></worksheet>`,
  });
}

/** An archive of texts by name. The mimetype stands first and unpacked, as OpenDocument asks. */
export function zip(files: Record<string, string>): Uint8Array {
  return zipSync(
    Object.fromEntries(
      Object.entries(files).map(([name, text]) => [name, [strToU8(text), { level: name === 'mimetype' ? 0 : 6 }]]),
    ) as Parameters<typeof zipSync>[0],
  );
}

/** An archive with one entry of so many zero bytes, which packs to almost nothing. */
export function bomb(name: string, bytes: number): Uint8Array {
  return zipSync({ [name]: new Uint8Array(bytes) }, { level: 9 });
}
