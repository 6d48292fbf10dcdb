import { strToU8, zipSync } from 'fflate';
import { ods, xlsx, xlsxOfRows, zip, type TestCell } from '../workbooks';
import { ANA_AND_BO, joined, lines, utf8, type FileCase } from './file-case';

const row = (line: number, ...cells: TestCell[]) => ({ line, cells });
const PEOPLE = [
  row(1, 'name', 'email', 'city'),
  row(2, 'Ana Reyes', 'ana@x.example', 'Holm'),
  row(3, 'Bo Salt', 'bo@x.example', 'Ridge'),
];
const CITIES = { 'ana@x.example': { city: 'Holm' }, 'bo@x.example': { city: 'Ridge' } };
const MERGED = { 'ana@x.example': { city: 'Holm' }, 'bo@x.example': { city: 'Holm' } };
const ADDRESSES = { 'ana@x.example': '', 'bo@x.example': '' };
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

const XLSX_FILES: readonly FileCase[] = [
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

const cell = (value: string, attributes = ' office:value-type="string"') =>
  `<table:table-cell${attributes}><text:p>${value}</text:p></table:table-cell>`;
const tableRow = (...all: string[]) => `<table:table-row>${all.join('')}</table:table-row>`;
const ODS_HEADER = tableRow(cell('name'), cell('email'), cell('extra'));
const ODS_SHEET =
  tableRow(cell('name'), cell('email')) +
  tableRow(cell('Ana Reyes'), cell('ana@x.example')) +
  tableRow(cell('Bo Salt'), cell('bo@x.example'));
const odsFile = (
  name: string,
  rows: string,
  people: FileCase['people'] = ANA_AND_BO,
  more: Partial<FileCase> = {},
): FileCase => ({ name: `ODS: ${name}`, bytes: ods({ A: rows }), people, ...more });
const extra = (name: string, one: string, two: string, values: readonly [string, string]) =>
  odsFile(
    name,
    ODS_HEADER +
      tableRow(cell('Ana Reyes'), cell('ana@x.example'), one) +
      tableRow(cell('Bo Salt'), cell('bo@x.example'), two),
    ANA_AND_BO,
    { fields: { 'ana@x.example': { extra: values[0] }, 'bo@x.example': { extra: values[1] } } },
  );
const odsDates = tableRow(cell('email'), cell('send on'));

const ODS_FILES: readonly FileCase[] = [
  odsFile('plain', ODS_SHEET),
  odsFile(
    'rows and cells repeated to the end of the sheet',
    `${ODS_SHEET}<table:table-row table:number-rows-repeated="1048573"><table:table-cell table:number-columns-repeated="16384"/></table:table-row>`,
  ),
  odsFile(
    'blank cells repeated between',
    tableRow(cell('name'), '<table:table-cell table:number-columns-repeated="3"/>', cell('email')) +
      tableRow(cell('Ana Reyes'), '<table:table-cell table:number-columns-repeated="3"/>', cell('ana@x.example')) +
      tableRow(cell('Bo Salt'), '<table:table-cell table:number-columns-repeated="3"/>', cell('bo@x.example')),
  ),
  odsFile(
    'typed dates',
    odsDates +
      tableRow(cell('ana@x.example'), cell('24. Dez', ' office:value-type="date" office:date-value="2026-12-24"')) +
      tableRow(cell('bo@x.example'), cell('5/1', ' office:value-type="date" office:date-value="2027-01-05T08:00:00"')),
    ADDRESSES,
    { sendOn: { 'ana@x.example': '2026-12-24', 'bo@x.example': '2027-01-05' } },
  ),
  extra(
    'links and marked words',
    '<table:table-cell><text:p>see <text:a>the <text:span>port</text:span></text:a> map</text:p></table:table-cell>',
    cell('no'),
    ['see the port map', 'no'],
  ),
  extra(
    'several paragraphs',
    '<table:table-cell><text:p>one</text:p><text:p>two</text:p></table:table-cell>',
    cell('no'),
    ['one\ntwo', 'no'],
  ),
  extra(
    'blanks, tabs and line breaks of its own',
    '<table:table-cell><text:p>one<text:s/>two<text:line-break/>three</text:p></table:table-cell>',
    cell('no'),
    ['one two\nthree', 'no'],
  ),
  extra(
    'a comment on a cell',
    '<table:table-cell><office:annotation><text:p>do not read this</text:p></office:annotation><text:p>Holm</text:p></table:table-cell>',
    cell('no'),
    ['Holm', 'no'],
  ),
  extra(
    'numbers',
    cell('1.234,50 €', ' office:value-type="currency" office:value="1234.5"'),
    cell('7', ' office:value-type="float" office:value="7"'),
    ['1.234,50 €', '7'],
  ),
  extra(
    'covered cells',
    cell('Holm', ' table:number-columns-spanned="2"') + '<table:covered-table-cell/>',
    cell('no'),
    ['Holm', 'no'],
  ),
  odsFile(
    'a cell over several rows',
    tableRow(cell('city'), cell('name'), cell('email')) +
      tableRow(cell('Holm', ' table:number-rows-spanned="2"'), cell('Ana Reyes'), cell('ana@x.example')) +
      tableRow('<table:covered-table-cell/>', cell('Bo Salt'), cell('bo@x.example')),
    ANA_AND_BO,
    { fields: MERGED },
  ),
  odsFile(
    'the link alone holds the address',
    tableRow(cell('name'), cell('email')) +
      tableRow(cell('Ana Reyes'), cell('<text:a xlink:href="mailto:ana@x.example">Write</text:a>')) +
      tableRow(cell('Bo Salt'), cell('<text:a xlink:href="mailto:bo@x.example?subject=Hi">bo</text:a>')),
  ),
  odsFile(
    'hidden rows',
    `${ODS_SHEET}<table:table-row table:visibility="collapse">${cell('Cy Voss')}${cell('cy@x.example')}</table:table-row><table:table-row table:visibility="filter">${cell('Dee Holm')}${cell('dee@x.example')}</table:table-row>`,
  ),
  odsFile(
    'groups of rows and header rows',
    `<table:table-header-rows>${tableRow(cell('name'), cell('email'))}</table:table-header-rows><table:table-row-group>${tableRow(cell('Ana Reyes'), cell('ana@x.example'))}<table:table-row-group>${tableRow(cell('Bo Salt'), cell('bo@x.example'))}</table:table-row-group></table:table-row-group>`,
  ),
  {
    name: 'ODS: several sheets',
    bytes: ods({ About: tableRow(cell('About this file')), People: ODS_SHEET }),
    people: ANA_AND_BO,
  },
  {
    name: 'flat ODS',
    bytes: utf8(
      `<?xml version="1.0" encoding="UTF-8"?><office:document xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" office:mimetype="application/vnd.oasis.opendocument.spreadsheet"><office:body><office:spreadsheet><table:table table:name="A">${ODS_SHEET}</table:table></office:spreadsheet></office:body></office:document>`,
    ),
    people: ANA_AND_BO,
  },
];

const page = (
  name: string,
  html: string,
  people: FileCase['people'] = ANA_AND_BO,
  more: Partial<FileCase> = {},
): FileCase => ({ name: `HTML: ${name}`, bytes: utf8(html), people, ...more });
const TABLE =
  '<table><tr><th>Name</th><th>Email</th><th>City</th></tr><tr><td>Ana Reyes</td><td>ana@x.example</td><td>Holm</td></tr><tr><td>Bo Salt</td><td>bo@x.example</td><td>Ridge</td></tr></table>';
const XML_ROW = (...all: string[]) => `<Row>${all.map((c) => `<Cell>${c}</Cell>`).join('')}</Row>`;
const data = (value: string, type = 'String') => `<Data ss:Type="${type}">${value}</Data>`;
const xmlBook = (rows: string) =>
  utf8(
    lines(
      '<?xml version="1.0"?>',
      '<?mso-application progid="Excel.Sheet"?>',
      `<Workbook xmlns="urn:schemas-microsoft-com:office:spreadsheet" xmlns:ss="urn:schemas-microsoft-com:office:spreadsheet"><Styles><Style ss:ID="Default"/></Styles><Worksheet ss:Name="People"><Table>${rows}</Table></Worksheet></Workbook>`,
    ),
  );

const PAGE_FILES: readonly FileCase[] = [
  page('a table', TABLE, ANA_AND_BO, { fields: CITIES }),
  page(
    'tags in capitals without ends',
    '<HTML><BODY><TABLE BORDER=1><TR><TH>Name<TH>Email<TR><TD>Ana Reyes<TD>ana@x.example<TR><TD>Bo Salt<TD>bo@x.example</TABLE>',
  ),
  page(
    'styles, scripts and comments around',
    `<html><head><style>td{mso-number-format:"\\@"}</style><script>var a = "<table><tr><td>no@y.example</td></tr></table>";</script></head><body><!-- <table><tr><td>no@z.example</td></tr></table> -->${TABLE}</body></html>`,
    ANA_AND_BO,
    { fields: CITIES },
  ),
  page(
    'links, entities and line breaks',
    '<table><tr><th>Name</th><th>Email</th><th>Note</th></tr><tr><td>Ana&nbsp;Reyes</td><td><a href="mailto:ana@x.example">ana@x.example</a></td><td>Salt &amp; Sons<br>Holm</td></tr><tr><td><b>Bo</b> Salt</td><td>bo&#64;x.example</td><td>no</td></tr></table>',
    ANA_AND_BO,
    { fields: { 'ana@x.example': { note: 'Salt & Sons\nHolm' } } },
  ),
  page(
    'cells over several columns',
    '<table><tr><th colspan=3>Growers</th></tr><tr><th>Name</th><th colspan=2>Email</th></tr><tr><td>Ana Reyes</td><td colspan=2>ana@x.example</td></tr><tr><td>Bo Salt</td><td colspan=2>bo@x.example</td></tr></table>',
  ),
  page(
    'cells over several rows',
    '<table><tr><th>City</th><th>Name</th><th>Email</th></tr><tr><td rowspan=2>Holm</td><td>Ana Reyes</td><td>ana@x.example</td></tr><tr><td>Bo Salt</td><td>bo@x.example</td></tr></table>',
    ANA_AND_BO,
    { fields: { 'ana@x.example': { city: 'Holm' }, 'bo@x.example': { city: 'Holm' } } },
  ),
  page('a table that lays out another', `<table><tr><td>Menu</td><td>${TABLE}</td></tr></table>`, ANA_AND_BO, {
    fields: CITIES,
  }),
  page('several tables', `<table><tr><td>Printed on Monday</td></tr></table>${TABLE}`, ANA_AND_BO, { fields: CITIES }),
  page(
    'the link alone holds the address',
    '<table><tr><th>Name</th><th>Email</th></tr><tr><td>Ana Reyes</td><td><a href="mailto:ana@x.example">Write</a></td></tr><tr><td>Bo Salt</td><td><a href="mailto:bo@x.example">Write</a></td></tr></table>',
  ),
  {
    name: 'spreadsheet XML',
    bytes: xmlBook(
      XML_ROW(data('name'), data('email'), data('city')) +
        XML_ROW(data('Ana Reyes'), data('ana@x.example'), data('Holm')) +
        XML_ROW(data('Bo Salt'), data('bo@x.example'), data('Ridge')),
    ),
    people: ANA_AND_BO,
    fields: CITIES,
  },
  {
    name: 'spreadsheet XML with a cell over several rows, a link and a hidden row',
    bytes: xmlBook(
      XML_ROW(data('city'), data('name'), data('email')) +
        `<Row><Cell ss:MergeDown="1">${data('Holm')}</Cell><Cell>${data('Ana Reyes')}</Cell><Cell ss:HRef="mailto:ana@x.example">${data('Write')}</Cell></Row>` +
        `<Row><Cell ss:Index="2">${data('Bo Salt')}</Cell><Cell>${data('bo@x.example')}</Cell></Row>` +
        `<Row ss:Hidden="1"><Cell ss:Index="2">${data('Cy Voss')}</Cell><Cell>${data('cy@x.example')}</Cell></Row>`,
    ),
    people: ANA_AND_BO,
    fields: MERGED,
  },
  {
    name: 'spreadsheet XML with skipped cells and dates',
    bytes: xmlBook(
      `${XML_ROW(data('name'), data('city'), data('email'), data('send on'))}<Row><Cell>${data('Ana Reyes')}</Cell><Cell ss:Index="3">${data('ana@x.example')}</Cell><Cell>${data('2026-12-24T00:00:00.000', 'DateTime')}</Cell></Row>`,
    ),
    people: { 'ana@x.example': 'Ana Reyes' },
    sendOn: { 'ana@x.example': '2026-12-24' },
  },
];

export const WORKBOOK_FILES: readonly FileCase[] = [...XLSX_FILES, ...ODS_FILES, ...PAGE_FILES];
