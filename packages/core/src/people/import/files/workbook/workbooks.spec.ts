import { describe, expect, it } from 'vitest';
import { bomb, ods, xlsx, xlsxOfRows } from '../../../../testing/workbooks';
import { readPeopleFile, type ReadingChoices } from '../read-people-file';
import { builtInFormat, formatNumber, isoOfSerial } from './number-format';

const bytes = (text: string) => new Uint8Array(Buffer.from(text));
const cells = (file: Uint8Array, choices: ReadingChoices = {}) =>
  readPeopleFile(file, choices).table.rows.map((r) => r.cells);
const row = (line: number, ...c: Parameters<typeof xlsx>[0][string][number]['cells']) => ({ line, cells: c });
const ana = row(2, 'Ana', 'ana@x.example');

describe('a date in a workbook', () => {
  // 6 September 2026.
  const DAY = 46271;

  it.each([
    ...['m/d/yyyy', 'm/d/yy', 'mm/dd/yy', 'd/m/yyyy', 'd-mmm-yy', 'dd/mmm/yyyy', 'dddd, d mmmm yyyy', 'mmm-yy', 'yyyy'],
    ...['[$-409]mmmm d, yyyy;@', '[$-F800]dddd\\,\\ mmmm\\ dd\\,\\ yyyy', 'yyyy"年"m"月"d"日"', 'd. m. yyyy', 'mmmm'],
  ])('is its value, whatever its look: %s', (format) => {
    expect(formatNumber(DAY, format, false)).toBe('2026-09-06');
    expect(formatNumber(DAY - 1462, format, true)).toBe('2026-09-06');
  });

  it('has its time where it has one, and is a time of day where it is nothing else', () => {
    expect(formatNumber(DAY + 0.4375, 'd/m/yyyy h:mm', false)).toBe('2026-09-06 10:30');
    expect(formatNumber(DAY + 0.5, 'm/d/yyyy', false)).toBe('2026-09-06 12:00');
    expect(formatNumber(0.75, 'h:mm', false)).toBe('18:00');
    expect(formatNumber(0.75, 'h:mm:ss AM/PM', false)).toBe('6:00:00 PM');
    expect(formatNumber(0.002, 'mm:ss', false)).toBe('02:53');
    for (const id of [14, 15, 16, 17, 22]) expect(formatNumber(DAY, builtInFormat(id), false)).toBe('2026-09-06');
  });

  it('of the count from 1900 steps over the day that never was', () => {
    expect([1, 59, 61, 36526].map((n) => isoOfSerial(n, false))).toEqual([
      '1900-01-01',
      '1900-02-28',
      '1900-03-01',
      '2000-01-01',
    ]);
    expect(isoOfSerial(0, true)).toBe('1904-01-01');
    expect(isoOfSerial(-1, false)).toBeNull();
    expect(isoOfSerial(1e9, false)).toBeNull();
    expect(formatNumber(-5, 'd/m/yyyy', false)).toBe('-5');
  });

  it('of an ODS file is the value, not the text beside it', () => {
    const cell = (value: string, shown: string) =>
      `<table:table-cell office:value-type="date" office:date-value="${value}"><text:p>${shown}</text:p></table:table-cell>`;
    const text = (shown: string) => `<table:table-cell><text:p>${shown}</text:p></table:table-cell>`;
    const line = (...c: string[]) => `<table:table-row>${c.join('')}</table:table-row>`;
    const file = ods({
      A:
        line(text('email'), text('day')) +
        line(text('ana@x.example'), cell('2026-09-06', '09/06/26')) +
        line(text('bo@x.example'), cell('2026-09-06T10:30:00', '6.9. 10:30')),
    });
    expect(cells(file).map((c) => c[1])).toEqual(['2026-09-06', '2026-09-06 10:30']);
  });
});

describe('what a workbook hides', () => {
  it('comes last: a hidden sheet is read only where nobody is on those that are shown', () => {
    const sheets = {
      Old: [row(1, 'name', 'email'), row(2, 'Old', 'old@x.example')],
      New: [row(1, 'name', 'email'), ana],
    };
    const file = xlsx(sheets, { states: { Old: 'hidden' } });
    expect(readPeopleFile(file)).toMatchObject({ sheet: 1, sheets: [{ isHidden: true }, { isHidden: false }] });
    expect(cells(file, { sheet: 0 })).toEqual([['Old', 'old@x.example']]);
    const alone = xlsx({ ...sheets, New: [row(1, 'nothing')] }, { states: { Old: 'hidden' } });
    expect(readPeopleFile(alone).sheet).toBe(0);
    expect(readPeopleFile(xlsx(sheets, { states: { Old: 'veryHidden' } })).sheets).toHaveLength(1);
  });

  it('is counted: rows hidden by hand or by a filter come only when it is said', () => {
    const rows = [
      row(1, 'name', 'email'),
      ana,
      { ...row(3, 'Bo', 'bo@x.example'), hidden: true },
      row(4, 'Cy', 'cy@x.example'),
    ];
    const file = xlsx({ A: rows });
    expect(readPeopleFile(file)).toMatchObject({ hiddenRows: 1 });
    expect(cells(file).map(([name]) => name)).toEqual(['Ana', 'Cy']);
    expect(cells(file, { withHidden: true }).map(([name]) => name)).toEqual(['Ana', 'Bo', 'Cy']);
    const none = xlsx({ A: rows.map((r) => ({ ...r, hidden: true })) });
    expect(() => readPeopleFile(none)).toThrow('shows no row; 4 are hidden');
  });

  it('of an ODS file, filtered or collapsed, likewise', () => {
    const line = (name: string, over = '') =>
      `<table:table-row${over}><table:table-cell><text:p>${name}</text:p></table:table-cell><table:table-cell><text:p>${name}@x.example</text:p></table:table-cell></table:table-row>`;
    const file = ods({
      A: line('ana') + line('bo', ' table:visibility="filter"') + line('cy', ' table:visibility="collapse"'),
    });
    expect(readPeopleFile(file)).toMatchObject({ hiddenRows: 2 });
    expect(cells(file)).toEqual([['ana', 'ana@x.example']]);
  });
});

describe('a workbook made to take much', () => {
  const MEGABYTE = 1024 * 1024;

  it('costs what its rows hold: a first and a 590th cell are two', () => {
    const rows = Array.from(
      { length: 60_000 },
      (_, i) =>
        `<row r="${i + 1}"><c r="A${i + 1}" t="str"><v>a${i}@x.example</v></c><c r="VR${i + 1}" t="str"><v>x</v></c></row>`,
    );
    const { table } = readPeopleFile(xlsxOfRows(rows.join('')));
    expect(table.rows).toHaveLength(60_000);
    expect(table.rows[59_999]?.cells).toEqual(['a59999@x.example', 'x']);
  });

  it('says that it is too large: as it says of itself, in cells, in one cell, in texts', () => {
    const cell = (n: number, column: string) => `<c r="${column}${n}" t="str"><v>x</v></c>`;
    const wide = Array.from(
      { length: 540 },
      (_, i) => String.fromCharCode(65 + Math.floor(i / 26)) + String.fromCharCode(65 + (i % 26)),
    );
    // Each row has a cell of its own, so that together they are as wide as long.
    const diagonal = Array.from(
      { length: 20_000 },
      (_, i) => `<row r="${i + 1}">${cell(i + 1, wide[i % 540] as string)}</row>`,
    );
    expect(() => readPeopleFile(xlsxOfRows(diagonal.join('')))).toThrow('more than 3,000,000 cells');
    const long = `<row r="1"><c r="A1" t="str"><v>${'x'.repeat(9 * MEGABYTE)}</v></c></row>`;
    expect(() => readPeopleFile(xlsxOfRows(long))).toThrow('One cell of the workbook holds megabytes');
    const strings = `<si><t>${'y'.repeat(30_000)}</t></si>`.repeat(2100);
    expect(() => readPeopleFile(xlsxOfRows('', strings))).toThrow('more text than a list of people');
    const said = bomb('xl/workbook.xml', MEGABYTE);
    const entry = Buffer.from(said).indexOf(Buffer.from([0x50, 0x4b, 0x01, 0x02]));
    new DataView(said.buffer).setUint32(entry + 24, 450 * MEGABYTE, true);
    expect(() => readPeopleFile(said)).toThrow('unpacks to more than 400 MB');
  });

  it('repeats no cell or row beyond what a sheet can hold', () => {
    const huge =
      '<table:table-row table:number-rows-repeated="1000000000"><table:table-cell table:number-columns-repeated="1000000000"><text:p>a@x.example</text:p></table:table-cell></table:table-row>';
    expect(() => readPeopleFile(ods({ A: huge }))).toThrow('more than 3,000,000 cells');
    const blank =
      '<table:table-row table:number-rows-repeated="1000000000"><table:table-cell table:number-columns-repeated="1000000000"/></table:table-row>';
    const person =
      '<table:table-row><table:table-cell><text:p>a@x.example</text:p></table:table-cell></table:table-row>';
    expect(cells(ods({ A: person + blank }))).toEqual([['a@x.example']]);
  });

  it('that is locked says so', () => {
    const file = xlsx({ A: [row(1, 'email'), ana] });
    const at = Buffer.from(file).indexOf(Buffer.from([0x50, 0x4b, 0x01, 0x02]));
    for (let i = at; i >= 0; i = Buffer.from(file).indexOf(Buffer.from([0x50, 0x4b, 0x01, 0x02]), i + 4))
      file[i + 8] = 1;
    expect(() => readPeopleFile(file)).toThrow('locked with a password');
  });
});

describe('a table under the name of a workbook', () => {
  it('in HTML keeps all its columns, spanned and empty ones too', () => {
    const file = bytes(`<html><head><meta charset="utf-8"></head><body><table><tr><td>menu</td></tr></table>
      <table border=1><thead><tr><th>Name</th><th>E&#8209;Mail</th><th>Ort</th><th>Note</th></tr></thead>
      <tr><td>Ana&nbsp;Reyes<td>ana@x.example<td>Carrow<br>Bay<td></tr>
      <tr><td colspan="1">Bo</td><td><a href="mailto:bo@x.example">bo@x.example</a></td><td></td><td>met\n twice</td></tr></table>`);
    const read = readPeopleFile(file);
    expect(read).toMatchObject({ kind: 'html', sheet: 1 });
    expect(read.table.header).toEqual(['Name', 'E\u2011Mail', 'Ort', 'Note']);
    expect(read.table.rows.map((r) => r.cells)).toEqual([
      ['Ana\u00a0Reyes', 'ana@x.example', 'Carrow\nBay', ''],
      ['Bo', 'bo@x.example', '', 'met twice'],
    ]);
  });

  it('in flat XML is read like a packed one', () => {
    const file = bytes(
      `<?xml version="1.0"?><office:document xmlns:office="o" xmlns:table="t" xmlns:text="x" office:mimetype="application/vnd.oasis.opendocument.spreadsheet"><office:body><office:spreadsheet><table:table table:name="A"><table:table-row><table:table-cell><text:p>email</text:p></table:table-cell><table:table-cell><text:p>town</text:p></table:table-cell></table:table-row><table:table-row><table:table-cell><text:p>a@x.example</text:p></table:table-cell><table:table-cell><text:p>Carrow Bay</text:p></table:table-cell></table:table-row></table:table></office:spreadsheet></office:body></office:document>`,
    );
    expect(readPeopleFile(file)).toMatchObject({ kind: 'ods', table: { header: ['email', 'town'] } });
    expect(cells(file)).toEqual([['a@x.example', 'Carrow Bay']]);
  });
});
