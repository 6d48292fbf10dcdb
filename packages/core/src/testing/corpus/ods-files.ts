import { ods } from '../workbooks';
import { ADDRESSES, ANA_AND_BO, MERGED, utf8, type FileCase } from './file-case';

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

export const ODS_FILES: readonly FileCase[] = [
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
