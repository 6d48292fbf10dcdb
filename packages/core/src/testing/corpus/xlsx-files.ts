import { strToU8, zipSync } from 'fflate';
import { xlsx, xlsxOfRows, zip, type TestCell } from '../workbooks';
import { ADDRESSES, ANA_AND_BO, CITIES, joined, MERGED, type FileCase } from './file-case';

const row = (line: number, ...cells: TestCell[]) => ({ line, cells });
const PEOPLE = [
  row(1, 'name', 'email', 'city'),
  row(2, 'Ana Reyes', 'ana@x.example', 'Holm'),
  row(3, 'Bo Salt', 'bo@x.example', 'Ridge'),
];
const NOTES = [row(1, 'About this file'), row(2, 'Made on a Monday')];
const OLD = [row(1, 'name', 'email'), row(2, 'Cy Voss', 'cy@x.example')];

const book = (
  name: string,
  bytes: Uint8Array,
  people: FileCase['people'] = ANA_AND_BO,
  more: Partial<FileCase> = {},
): FileCase => ({ name: `XLSX: ${name}`, bytes, people, ...more });
/** A sheet of address and one more column, whose cells are given as XML. */
const cells = (
  name: string,
  header: string,
  xml: readonly [string, string],
  values: readonly [string, string],
  more: Parameters<typeof xlsx>[1] = {},
): FileCase => {
  const key = header.toLowerCase().replace(/\W/g, '');
  return book(
    name,
    xlsx(
      {
        A: [row(1, 'email', header), row(2, 'ana@x.example', { xml: xml[0] }), row(3, 'bo@x.example', { xml: xml[1] })],
      },
      more,
    ),
    ADDRESSES,
    header === 'send on'
      ? { sendOn: { 'ana@x.example': values[0], 'bo@x.example': values[1] } }
      : { fields: { 'ana@x.example': { [key]: values[0] }, 'bo@x.example': { [key]: values[1] } } },
  );
};
const dates = (
  name: string,
  format: string,
  serials: readonly [string, string] = ['46380', '46392.75'],
  more: Parameters<typeof xlsx>[1] = {},
) =>
  cells(
    `dates shown as ${name}`,
    'send on',
    [`<c s="1"><v>${serials[0]}</v></c>`, `<c s="1"><v>${serials[1]}</v></c>`],
    ['2026-12-24', '2027-01-05'],
    { formats: [format], ...more },
  );

/** The parts of a workbook as programs other than ours lay them out. */
const parts = (over: Record<string, string>) => zip({ ...PLAIN_PARTS, ...over });
const SHEET_XML = `<worksheet><sheetData>
<row r="1"><c r="A1" t="inlineStr"><is><t>name</t></is></c><c r="B1" t="inlineStr"><is><t>email</t></is></c></row>
<row r="2"><c r="A2" t="inlineStr"><is><t>Ana Reyes</t></is></c><c r="B2" t="inlineStr"><is><t>ana@x.example</t></is></c></row>
<row r="3"><c r="A3" t="inlineStr"><is><t>Bo Salt</t></is></c><c r="B3" t="inlineStr"><is><t>bo@x.example</t></is></c></row>
</sheetData></worksheet>`;
const PLAIN_PARTS: Record<string, string> = {
  'xl/workbook.xml': '<workbook xmlns:r="r"><sheets><sheet name="A" sheetId="1" r:id="rId1"/></sheets></workbook>',
  'xl/_rels/workbook.xml.rels':
    '<Relationships><Relationship Id="rId1" Target="worksheets/sheet1.xml"/></Relationships>',
  'xl/worksheets/sheet1.xml': SHEET_XML,
};
const text = (value: string) => `<c t="inlineStr"><is><t>${value}</t></is></c>`;
const sheetRows = (...all: string[][]) => all.map((row, i) => `<row r="${i + 1}">${row.join('')}</row>`).join('');

/** A sheet of texts, some of whose cells link to addresses. */
const linked = (rows: string[][], to: Record<string, string>): Uint8Array =>
  parts({
    'xl/worksheets/sheet1.xml': `<worksheet xmlns:r="r"><sheetData>${sheetRows(...rows.map((r) => r.map(text)))}</sheetData><hyperlinks>${Object.keys(
      to,
    )
      .map((ref, i) => `<hyperlink ref="${ref}" r:id="rId${i + 1}"/>`)
      .join('')}</hyperlinks></worksheet>`,
    'xl/worksheets/_rels/sheet1.xml.rels': `<Relationships>${Object.values(to)
      .map((address, i) => `<Relationship Id="rId${i + 1}" Target="mailto:${address}" TargetMode="External"/>`)
      .join('')}</Relationships>`,
  });

export const XLSX_FILES: readonly FileCase[] = [
  book('shared strings', xlsx({ A: PEOPLE }), ANA_AND_BO, { fields: CITIES }),
  book('strings in the cells', parts({})),
  book(
    'parts named from the root',
    parts({
      'xl/_rels/workbook.xml.rels':
        '<Relationships><Relationship Id="rId1" Target="/xl/worksheets/sheet1.xml"/></Relationships>',
    }),
  ),
  book(
    'elements with a prefix',
    parts({
      'xl/worksheets/sheet1.xml': SHEET_XML.replace(/<(\/?)(\w)/g, '<$1x:$2').replace(
        '<x:worksheet',
        '<x:worksheet xmlns:x="http://schemas.openxmlformats.org/spreadsheetml/2006/main"',
      ),
    }),
  ),
  book(
    'the strict form',
    parts({
      'xl/workbook.xml':
        '<workbook xmlns="http://purl.oclc.org/ooxml/spreadsheetml/main" xmlns:r="http://purl.oclc.org/ooxml/officeDocument/relationships" conformance="strict"><sheets><sheet name="A" sheetId="1" r:id="rId1"/></sheets></workbook>',
    }),
  ),
  book(
    'another prefix for relations',
    parts({
      'xl/workbook.xml':
        '<workbook xmlns:rel="http://schemas.openxmlformats.org/officeDocument/2006/relationships"><sheets><sheet name="A" sheetId="1" rel:id="rId1"/></sheets></workbook>',
    }),
  ),
  book(
    'cells and rows without references',
    xlsxOfRows(
      [
        ['name', 'email'],
        ['Ana Reyes', 'ana@x.example'],
        ['Bo Salt', 'bo@x.example'],
      ]
        .map((r) => `<row>${r.map(text).join('')}</row>`)
        .join(''),
    ),
  ),
  book(
    'rich text and its reading aid',
    xlsxOfRows(
      '<row><c t="s"><v>0</v></c><c t="s"><v>1</v></c></row><row><c t="s"><v>2</v></c><c t="s"><v>3</v></c></row>',
      '<si><t>name</t></si><si><t>email</t></si><si><r><rPr><b/></rPr><t>Ana</t></r><r><t xml:space="preserve"> Reyes</t></r><rPh sb="0" eb="1"><t>not this</t></rPh></si><si><r><t>ana@</t></r><r><t>x.example</t></r></si>',
    ),
    { 'ana@x.example': 'Ana Reyes' },
  ),
  cells(
    'results of formulas',
    'city',
    ['<c t="str"><f>A2&amp;"x"</f><v>Holm</v></c>', '<c><f>1+1</f><v>2</v></c>'],
    ['Holm', '2'],
  ),
  cells('truth values', 'invited', ['<c t="b"><v>1</v></c>', '<c t="b"><v>0</v></c>'], ['TRUE', 'FALSE']),
  book(
    'a cell with an error',
    xlsx({
      A: [
        row(1, 'email', 'city'),
        row(2, 'ana@x.example', { xml: '<c t="e"><v>#N/A</v></c>' }),
        row(3, 'bo@x.example', 'Ridge'),
      ],
    }),
    ADDRESSES,
    { fields: { 'bo@x.example': { city: 'Ridge' } } },
  ),
  cells(
    'long numbers',
    'phone',
    ['<c><v>4.47700900123E11</v></c>', '<c><v>447700900124</v></c>'],
    ['447700900123', '447700900124'],
  ),
  cells(
    'numbers with what arithmetic leaves',
    'price',
    ['<c><v>0.30000000000000004</v></c>', '<c><v>19.989999999999998</v></c>'],
    ['0.3', '19.99'],
  ),
  cells(
    'numbers with leading zeros by their look',
    'post code',
    ['<c s="1"><v>1234</v></c>', '<c s="1"><v>99</v></c>'],
    ['01234', '00099'],
    { formats: ['00000'] },
  ),
  cells('shares', 'share', ['<c s="1"><v>0.25</v></c>', '<c s="1"><v>0.125</v></c>'], ['25.0%', '12.5%'], {
    formats: ['0.0%'],
  }),
  cells(
    'escaped letters',
    'note',
    [text('one_x000D_\ntwo').replace('t="inlineStr"', 't="inlineStr"'), text('a_x0041_b')],
    ['one\ntwo', 'aAb'],
  ),
  cells(
    'blanks that are kept',
    'city',
    ['<c t="inlineStr"><is><t xml:space="preserve">  Holm </t></is></c>', text('Ridge')],
    ['Holm', 'Ridge'],
  ),
  dates('m/d/yyyy', 'm/d/yyyy'),
  dates('mm/dd/yy', 'mm/dd/yy'),
  dates('d.m.yyyy', 'd.m.yyyy'),
  dates('d-mmm-yy', 'd-mmm-yy'),
  dates('weekday and month', 'dddd, d mmmm yyyy'),
  dates('a language of its own', '[$-407]d. mmmm yyyy'),
  dates('year, month and day in Japanese', 'yyyy"年"m"月"d"日"'),
  dates('date and time', 'yyyy-mm-dd hh:mm'),
  dates('month and year alone', 'mmm yyyy'),
  dates('those of the system of 1904', 'd/m/yyyy', ['44918', '44930'], { is1904: true }),
  cells(
    'ISO dates of the strict form',
    'send on',
    ['<c t="d"><v>2026-12-24</v></c>', '<c t="d"><v>2027-01-05T12:00:00</v></c>'],
    ['2026-12-24', '2027-01-05'],
  ),
  book('a hidden sheet before the shown one', xlsx({ Old: OLD, New: PEOPLE }, { states: { Old: 'hidden' } })),
  book('a sheet hidden from menus, too', xlsx({ Old: OLD, New: PEOPLE }, { states: { Old: 'veryHidden' } })),
  book('notes on the first sheet', xlsx({ About: NOTES, People: PEOPLE })),
  book('an empty sheet first', xlsx({ Sheet1: [], People: PEOPLE })),
  book('hidden rows', xlsx({ A: [...PEOPLE, { ...row(4, 'Cy Voss', 'cy@x.example', 'Holm'), hidden: true }] })),
  book(
    'rows far down and columns far right',
    xlsx({
      A: [
        row(7, '', '', 'name', 'email'),
        row(9, '', '', 'Ana Reyes', 'ana@x.example'),
        row(20, '', '', 'Bo Salt', 'bo@x.example'),
      ],
    }),
  ),
  book(
    'a title above the header',
    xlsx({
      A: [
        row(1, 'Growers of 2026'),
        row(3, 'name', 'email', 'city'),
        row(4, 'Ana Reyes', 'ana@x.example', 'Holm'),
        row(5, 'Bo Salt', 'bo@x.example', 'Ridge'),
      ],
    }),
  ),
  book(
    'an address behind other words',
    parts({
      'xl/worksheets/sheet1.xml': `<worksheet xmlns:r="r"><sheetData>${sheetRows([text('name'), text('email')], [text('Ana Reyes'), '<c r="B2" t="inlineStr"><is><t>Write to her</t></is></c>'], [text('Bo Salt'), '<c r="B3" t="inlineStr"><is><t>bo@x.example</t></is></c>'])}</sheetData><hyperlinks><hyperlink ref="B2" r:id="rId1"/></hyperlinks></worksheet>`,
      'xl/worksheets/_rels/sheet1.xml.rels':
        '<Relationships><Relationship Id="rId1" Target="mailto:ana@x.example" TargetMode="External"/></Relationships>',
    }),
  ),
  book(
    'names that link to the addresses beside them',
    linked(
      [
        ['name', 'email'],
        ['Ana Reyes', 'ana@x.example'],
        ['Bo Salt', 'bo@x.example'],
      ],
      { A2: 'ana@x.example', A3: 'other@x.example' },
    ),
    ANA_AND_BO,
    { roles: ['full_name', 'address'] },
  ),
  book(
    'names that link to addresses which stand nowhere',
    linked(
      [
        ['name', 'city'],
        ['Ana Reyes', 'Holm'],
        ['Bo Salt', 'Ridge'],
      ],
      { A2: 'ana@x.example', A3: 'bo@x.example' },
    ),
    ANA_AND_BO,
    { fields: CITIES },
  ),
  book(
    'one word that links to each address',
    linked(
      [
        ['name', 'write'],
        ['Ana Reyes', 'Write'],
        ['Bo Salt', 'Write'],
      ],
      { B2: 'ana@x.example', B3: 'bo@x.example' },
    ),
  ),
  book(
    'a cell over several rows',
    parts({
      'xl/worksheets/sheet1.xml': `<worksheet><sheetData>${sheetRows([text('city'), text('name'), text('email')], [text('Holm'), text('Ana Reyes'), text('ana@x.example')], ['<c r="B3" t="inlineStr"><is><t>Bo Salt</t></is></c>', '<c r="C3" t="inlineStr"><is><t>bo@x.example</t></is></c>'])}</sheetData><mergeCells count="1"><mergeCell ref="A2:A3"/></mergeCells></worksheet>`,
    }),
    ANA_AND_BO,
    { fields: MERGED },
  ),
  book(
    'a column without a name',
    xlsx({
      A: [
        row(1, 'name', 'email'),
        row(2, 'Ana Reyes', 'ana@x.example'),
        row(3, 'Bo Salt', 'bo@x.example', 'called in June'),
      ],
    }),
    ANA_AND_BO,
    { fields: { 'bo@x.example': { column3: 'called in June' } } },
  ),
  book(
    'no compression',
    zipSync(Object.fromEntries(Object.entries(PLAIN_PARTS).map(([name, xml]) => [name, [strToU8(xml), { level: 0 }]]))),
  ),
  book('bytes before the archive’s end', joined(parts({}), new Uint8Array(0))),
];
