import { ANA_AND_BO, CITIES, lines, MERGED, textFile, utf8, type FileCase } from './file-case';

const page = (name: string, html: string, ...more: [people?: FileCase['people'], more?: Partial<FileCase>]): FileCase =>
  textFile(`HTML: ${name}`, html, ...more);
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

/** Sheets saved as a page of HTML or as the XML of a spreadsheet. */
export const PAGE_FILES: readonly FileCase[] = [
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
