import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { bomb, ods, xlsx } from '../../../testing/workbooks';
import { guessColumns } from '../columns/guess-columns';
import { readPeopleFile } from './read-people-file';
import { unzip } from './workbook/unzip';

const bytes = (text: string) => new Uint8Array(Buffer.from(text));
const read = (text: string) => readPeopleFile(bytes(text));
const cells = (input: Uint8Array, sheet?: number) =>
  readPeopleFile(input, { sheet: sheet ?? null }).table.rows.map((r) => r.cells);
const row = (line: number, ...c: Parameters<typeof xlsx>[0][string][number]['cells']) => ({ line, cells: c });

describe('an XLSX workbook', () => {
  it('is read from the sheet with the addresses, its header wherever it stands', () => {
    const file = readPeopleFile(
      xlsx({
        Notes: [row(1, 'Only words here')],
        'Contacts 2': [
          row(1, 'Contacts of the coast'),
          row(4, 'Prénom', 'Courriel', 'Surface'),
          row(5, 'Odile', 'odile@cedres.example', 42),
          row(9, 'Bo', 'bo@x.example', 7.5),
        ],
      }),
    );
    expect(file).toMatchObject({ kind: 'xlsx', sheets: [{ name: 'Notes' }, { name: 'Contacts 2' }], sheet: 1 });
    expect(file.table).toMatchObject({ headerLine: 4, titleRows: 1, header: ['Prénom', 'Courriel', 'Surface'] });
    expect(file.table.rows).toEqual([
      { line: 5, cells: ['Odile', 'odile@cedres.example', '42'] },
      { line: 9, cells: ['Bo', 'bo@x.example', '7.5'] },
    ]);
    expect(guessColumns(file.table).map((g) => g.role)).toEqual(['given_name', 'address', 'field']);
  });

  it('shows numbers as the sheet does, and dates as they are', () => {
    const formats = ['yyyy-mm-dd', 'd. mmmm yyyy', '0.0%', '#,##0.00 "€"', 'h:mm', '[Red]-0;0', '0000'];
    const styled = (style: number, value: number) => ({ xml: `<c s="${style}"><v>${value}</v></c>` });
    const day = 46350; // 24 November 2026
    const file = xlsx(
      {
        A: [
          row(1, 'email', 'a', 'b', 'c', 'd', 'e', 'f', 'g'),
          row(
            2,
            'a@x.example',
            styled(1, day),
            styled(2, day),
            styled(3, 0.125),
            styled(4, 1234567.5),
            styled(5, 0.75),
            styled(6, 5),
            styled(7, 42),
          ),
        ],
      },
      { formats },
    );
    expect(cells(file)[0]?.slice(1)).toEqual([
      '2026-11-24',
      '2026-11-24',
      '12.5%',
      '1,234,567.50 €',
      '18:00',
      '-5',
      '0042',
    ]);
  });

  it('counts from 1904 where the workbook does', () => {
    const file = xlsx(
      { A: [row(1, 'email', 'day'), row(2, 'a@x.example', { xml: '<c s="1"><v>44888</v></c>' })] },
      { formats: ['yyyy-mm-dd'], is1904: true },
    );
    expect(cells(file)[0]?.[1]).toBe('2026-11-24');
  });

  it('takes the last result of a formula, no error values, and what stands in rich and inline text', () => {
    const file = xlsx({
      A: [
        row(1, 'email', 'a', 'b', 'c', 'd'),
        row(
          2,
          'a@x.example',
          { xml: '<c t="str"><f>B1&amp;C1</f><v>ab</v></c>' },
          { xml: '<c t="e"><v>#N/A</v></c>' },
          { xml: '<c t="b"><v>1</v></c>' },
          { xml: '<c t="inlineStr"><is><t>in </t><t>line</t></is></c>' },
        ),
      ],
    });
    expect(cells(file)).toEqual([['a@x.example', 'ab', '', 'TRUE', 'in line']]);
  });

  it('says that a sheet is empty, and which others there are', () => {
    const file = xlsx({ Empty: [], People: [row(1, 'email'), row(2, 'a@x.example')] });
    expect(() => readPeopleFile(file, { sheet: 0 })).toThrow('The sheet “Empty” is empty. The others are “People”.');
    expect(() => readPeopleFile(file, { sheet: 2 })).toThrow('there is no number 3');
    expect(readPeopleFile(file).sheet).toBe(1);
  });

  it('does not unpack a bomb', () => {
    const taken: number[] = [];
    const open = () =>
      unzip(
        bomb('xl/workbook.xml', 3_000_000),
        () => true,
        (_, piece) => taken.push(piece.length),
        1_000_000,
      );
    expect(open).toThrow('unpacks to more than 1 MB');
    expect(taken.reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(1_000_000);
  });

  it('has a sentence for what is cut short, no workbook, or of the old kind', () => {
    const whole = xlsx({ A: [row(1, 'email'), row(2, 'a@x.example')] });
    expect(() => readPeopleFile(whole.subarray(0, whole.length / 2))).toThrow(/damaged|no sheet/);
    expect(() => readPeopleFile(bomb('other.txt', 10))).toThrow('not a workbook');
    expect(() => readPeopleFile(Uint8Array.from([0xd0, 0xcf, 0x11, 0xe0, 0, 0]))).toThrow('XLS');
  });

  it('never does anything but read or say why not, whatever is broken in it', () => {
    const whole = xlsx({ A: [row(1, 'email', 'name'), row(2, 'a@x.example', 'Ana')] });
    fc.assert(
      fc.property(fc.nat({ max: whole.length - 1 }), fc.nat({ max: 255 }), (at, value) => {
        const broken = Uint8Array.from(whole);
        broken[at] = value;
        try {
          readPeopleFile(broken);
        } catch (error) {
          expect((error as Error).name).toBe('DomainError');
        }
      }),
      { numRuns: 300 },
    );
  });
});

describe('an ODS workbook', () => {
  const cell = (text: string, attributes = '') =>
    `<table:table-cell ${attributes}><text:p>${text}</text:p></table:table-cell>`;
  const blank = (n: number) => `<table:table-cell table:number-columns-repeated="${n}"/>`;
  const tr = (inner: string, n = 1) => `<table:table-row table:number-rows-repeated="${n}">${inner}</table:table-row>`;

  it('is read as it shows, repeated cells and rows counted', () => {
    const file = ods({
      First: tr(blank(1024), 1_048_576),
      People:
        tr(cell('email') + cell('a') + cell('b')) +
        tr(cell('ana@x.example') + cell('same', 'table:number-columns-repeated="2"')) +
        tr(blank(3), 500) +
        tr(cell('bo@x.example') + blank(1) + cell('two <text:s text:c="2"/>spaces') + blank(1000)),
    });
    const read = readPeopleFile(file);
    expect(read).toMatchObject({ kind: 'ods', sheet: 1, sheets: [{ name: 'First' }, { name: 'People' }] });
    expect(read.table.rows).toEqual([
      { line: 2, cells: ['ana@x.example', 'same', 'same'] },
      { line: 503, cells: ['bo@x.example', '', 'two   spaces'] },
    ]);
  });
});

describe('vCards', () => {
  const card = (...lines: string[]) => ['BEGIN:VCARD', ...lines, 'END:VCARD'].join('\r\n');

  it('of version 3 and 4 give name, company, address and tags; further addresses are kept', () => {
    const file = read(
      [
        card(
          'VERSION:3.0',
          'N:Marchetti;Odile;;Dr.;',
          'FN:Odile Marchetti',
          'ORG:Domaine des Cèdres;Vines',
          'EMAIL;TYPE=HOME:odile@home.example',
          'EMAIL;TYPE=WORK,PREF:odile@cedres.example',
          'CATEGORIES:growers,coast',
        ),
        card('VERSION:4.0', 'FN:Bo Salt', 'EMAIL;PREF=1:bo@salt.example', 'NOTE:a long\\, folded', '  note'),
      ].join('\r\n'),
    );
    expect(file.kind).toBe('vcard');
    const [odile, bo] = file.table.rows.map((r) =>
      Object.fromEntries(file.table.header.map((h, i) => [h, r.cells[i]])),
    );
    expect(odile).toMatchObject({
      email: 'odile@cedres.example',
      'full name': 'Odile Marchetti',
      'given name': 'Odile',
      'family name': 'Marchetti',
      company: 'Domaine des Cèdres',
      tags: 'growers, coast',
      'other addresses': 'odile@home.example',
    });
    expect(bo).toMatchObject({ email: 'bo@salt.example', 'full name': 'Bo Salt', note: 'a long, folded note' });
  });

  it('with a broken picture, or broken altogether, do not hinder the others', () => {
    const file = read(
      [
        card('VERSION:3.0', 'FN:Ana', 'PHOTO;ENCODING=b;TYPE=JPEG:/9j/4AAQ', ' SkZJ;;;RgABAQE', 'EMAIL:ana@x.example'),
        card('VERSION:3.0', 'this line is nothing'),
        card('VERSION:3.0', 'FN:Bo', 'EMAIL:bo@x.example'),
      ].join('\r\n'),
    );
    expect(file.table.rows.map((r) => r.cells[0])).toEqual(['ana@x.example', 'bo@x.example']);
    expect(file.table.aside).toMatchObject([{ reason: 'The card does not read as a vCard' }]);
  });
});

describe('JSON lines', () => {
  it('become columns by key, in the order in which they are met', () => {
    const file = read(
      '{"email":"ana@x.example","tags":["a","b"],"place":{"town":"Carrow Bay"}}\n\nnonsense\n{"email":"bo@x.example","hectares":9}\n',
    );
    expect(file.kind).toBe('json_lines');
    expect(file.table.header).toEqual(['email', 'tags', 'place.town', 'hectares']);
    expect(file.table.rows.map((r) => r.cells)).toEqual([
      ['ana@x.example', 'a, b', 'Carrow Bay', ''],
      ['bo@x.example', '', '', '9'],
    ]);
    expect(file.table.aside).toMatchObject([{ line: 3, reason: 'The line is not a JSON object' }]);
  });
});

describe('a text with addresses in it', () => {
  it.each([
    [
      'Ana Reyes <ana@x.example>, bo@y.example; "Vidal, Noor" <noor@z.example>',
      [
        ['ana@x.example', 'Ana Reyes'],
        ['bo@y.example', ''],
        ['noor@z.example', 'Vidal, Noor'],
      ],
    ],
    [
      'Please write to our buyer at robin@harbour.example.\nOr to mo@coast.example!',
      [
        ['robin@harbour.example', ''],
        ['mo@coast.example', ''],
      ],
    ],
    [
      'Ana <ana@x.example>, Bo <bo@x.example>\nCy <cy@x.example>, Dee <dee@x.example>\n',
      [
        ['ana@x.example', 'Ana'],
        ['bo@x.example', 'Bo'],
        ['cy@x.example', 'Cy'],
        ['dee@x.example', 'Dee'],
      ],
    ],
    [
      'We met Ana, who is at ana@x.example, and Bo.\nBo is at bo@x.example.\n\nThe others, Cy, Dee and Eva,\nhave none.',
      [
        ['ana@x.example', ''],
        ['bo@x.example', ''],
      ],
    ],
  ])('gives each with its name: %s', (text, expected) => {
    const file = read(text);
    expect(file.kind).toBe('free_text');
    expect(file.table.rows.map((r) => r.cells)).toEqual(expected);
  });

  it.each([
    'email,name\nana@x.example,Ana',
    'ana@x.example\nbo@x.example',
    'Courriel;Nom\nana@x.example;Ana',
    'mail,work\nana@x.example,ana@y.example\nbo@x.example,bo@y.example',
    'email,note\nana@x.example,please write to bo@y.example instead\nbo@x.example,',
    'email;company\n"Ana Reyes <ana@x.example>";"Slate; Ltd"\nbo@x.example;Salt',
    'a\tb\nana@x.example\tbo@x.example',
    'Growers met in autumn\n\nKontakt;Ort\nAna Reyes <ana@x.example>;Kiel\nbo@x.example;Ulm',
    'Who,Town\n"Bo Lind" <bo@x.example>,"Ulm, Ost"\nAna Reyes <ana@x.example>,Kiel',
  ])('is not what a sheet is: %j', (text) => expect(read(text).kind).toBe('delimited'));
});

describe('the header', () => {
  it('is the first full row above the people, also when the first people have no usable address', () => {
    const { table } = read('mail,name,town\nbad,Bo,X\nalso bad,Cy,Y\nana@x.example,Ana,Z');
    expect([table.headerLine, table.rows.length]).toEqual([1, 3]);
  });

  it('is found under titles and after blank rows', () => {
    const { table } = read('Growers of the coast,,\n\nas of today,,\nname,e-mail,town\nAna,ana@x.example,Z');
    expect(table).toMatchObject({ headerLine: 4, titleRows: 2, header: ['name', 'e-mail', 'town'] });
  });
});

describe('odd cells', () => {
  it('lose control characters, and are set aside when they hold a document', () => {
    const { table } = read(
      `email,note\nana@x.example,\u0000be\u0007ll\u0000\u0000\nbo@x.example,${'x'.repeat(1_000_000)}\ncy@x.example,مرحبا`,
    );
    expect(table.rows.map((r) => r.cells[1])).toEqual(['be ll', 'مرحبا']);
    expect(table.aside[0]?.reason).toContain('1,000,000 letters');
  });
});
