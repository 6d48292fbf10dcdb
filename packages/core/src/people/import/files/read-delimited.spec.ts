import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DomainError } from '../../../errors';
import { decodeText } from './decode-text';
import { readDelimited } from './read-delimited';
import { MAX_COLUMNS } from './table-of-rows';
import { writeCsv } from '../../list/write-csv';

const bytes = (...parts: (string | number[])[]) =>
  new Uint8Array(parts.flatMap((p) => (typeof p === 'string' ? [...Buffer.from(p, 'utf8')] : p)));
const failure = (act: () => unknown): DomainError => {
  try {
    act();
  } catch (error) {
    if (error instanceof DomainError) return error;
    throw error;
  }
  throw new Error('expected a DomainError');
};

describe('decodeText', () => {
  it.each([
    ['UTF-8', bytes('naïve')],
    ['UTF-8', bytes([0xef, 0xbb, 0xbf], 'naïve')],
    ['UTF-16', new Uint8Array([0xff, 0xfe, ...Buffer.from('naïve', 'utf16le')])],
    ['UTF-16', new Uint8Array(Buffer.from('naïve, yes', 'utf16le'))],
    ['Windows-1252', bytes('na', [0xef], 've')],
  ])('reads %s', (encoding, input) => {
    const decoded = decodeText(input);
    expect(decoded.encoding).toBe(encoding);
    expect(decoded.text).toContain('naïve');
  });

  it('reads a file whose lines differ in encoding', () => {
    const decoded = decodeText(bytes('José\nFran', [0xe7], 'ois\nZoë\n'));
    expect(decoded).toEqual({ text: 'José\nFrançois\nZoë\n', encoding: 'UTF-8 and Windows-1252 mixed', otherLines: 1 });
  });

  it('refuses what is not text, and says where', () => {
    expect(failure(() => decodeText(bytes('abc', [0, 0, 1], 'def'))).message).toContain('byte 6');
    expect(failure(() => decodeText(new Uint8Array(0))).code).toBe('empty_file');
  });
});

describe('readDelimited', () => {
  it('finds the delimiter and keeps quoted line breaks in their cell', () => {
    const table = readDelimited('Courriel;Nom\r\nodile@cedres.example;"Marchetti\nOdile"\r\nbo@y.example;Bo');
    expect(table.header).toEqual(['Courriel', 'Nom']);
    expect(table.rows).toEqual([
      { line: 2, cells: ['odile@cedres.example', 'Marchetti\nOdile'] },
      { line: 4, cells: ['bo@y.example', 'Bo'] },
    ]);
  });

  it('finds the delimiter of a few rows too, whatever blank lines stand among them', () => {
    for (const text of ['a;b\nx;y\n', 'a;b\n\n\nx;y\n\n', 'a\tb\nx\ty\n\n'])
      expect(readDelimited(text).header, JSON.stringify(text)).toEqual(['a', 'b']);
  });

  it.each([
    ['a title above, and a comma in each row', 'Growers, autumn\n\na;b;c\nx;1,5;z\ny;2,5;z\n', ';'],
    [
      'names with commas beside addresses',
      'Who;Town\n"Dee, Dora" <d@x.example>;Bonn\n"Lind, Bo" <b@x.example>;Ulm\n',
      ';',
    ],
    ['short rows', 'a,b,c\n1;2\n1,2\n1,2,3\n', ','],
    ['a line break in quotation marks', 'a|b\n"x, y\nz, w, v"|c\n', '|'],
    ['one column', 'email\na@x.example\n', ','],
  ])('finds it with %s', (_, text, delimiter) => {
    expect(readDelimited(text).delimiter).toBe(delimiter);
  });

  it('fills short rows, keeps long ones aside and passes over blank ones', () => {
    const table = readDelimited('a,b,c\n1\n\n1,2,3,,\n1,2,3,4\n');
    expect(table.rows.map((r) => r.cells)).toEqual([
      ['1', '', ''],
      ['1', '2', '3'],
    ]);
    expect(table.aside).toEqual([
      { line: 5, cells: ['1', '2', '3', '4'], reason: 'The row has 4 cells, the header 3' },
    ]);
  });

  it('keeps a row aside whose quotation mark is never closed, and reads the others', () => {
    for (const after of ['c@x.example,late\n', 'c@x.example,"late"\n', 'c@x.example,""\n', 'c@x.example,"late']) {
      const table = readDelimited(`email,note\na@x.example,fine\nb@x.example,"oops\n${after}`);
      expect(table.rows.at(0)?.cells, after).toEqual(['a@x.example', 'fine']);
      expect(table.aside[0], after).toEqual({
        line: 3,
        cells: ['b@x.example', '"oops'],
        reason: 'A quotation mark that opens in this row is never closed',
        isWhole: true,
      });
      const rest = after.endsWith('"late') ? [3, 4] : [3];
      expect(
        table.aside.map((r) => r.line),
        after,
      ).toEqual(rest);
      if (rest.length === 1)
        expect(table.rows[1]).toMatchObject({ line: 4, cells: ['c@x.example', expect.anything()] });
    }
  });

  it('takes a cell as it stands where a name is in quotation marks beside its address', () => {
    const table = readDelimited(
      'Kontakt,Firma\n"Bo Lind" <bo@x.example>,"Lind, Gardens"\n"Dee, Dora" <dora@dee.example>,x\nc@x.example,"a\nb"\n',
    );
    expect(table.rows).toEqual([
      { line: 2, cells: ['"Bo Lind" <bo@x.example>', 'Lind, Gardens'] },
      { line: 4, cells: ['c@x.example', 'a\nb'] },
    ]);
    // The comma in the name parts it: there is a cell too many.
    expect(table.aside).toMatchObject([{ line: 3, reason: 'The row has 3 cells, the header 2' }]);
  });

  it('loses no line and no word, whatever marks stand in a file', () => {
    const bit = fc.constantFrom('"', '""', ',', '\n', 'a', 'b c', '@', ' ');
    fc.assert(
      fc.property(fc.array(bit, { maxLength: 60 }), (bits) => {
        const text = `email,n1,n2,n3\nx@x.example,,,\n${bits.join('')}`;
        const { rows, aside } = readDelimited(text);
        const all = [...rows, ...aside].sort((a, b) => a.line - b.line);
        const letters = (what: string) => what.replace(/[^a-c@]/g, '');
        expect(letters(all.flatMap((r) => r.cells).join(''))).toBe(letters(text.slice(text.indexOf('\n'))));
        expect(new Set(all.map((r) => r.line)).size).toBe(all.length);
      }),
      { numRuns: 1000 },
    );
  });

  it('numbers the columns of a sheet without header', () => {
    const table = readDelimited('ana@x.example,Ana\nbo@x.example,Bo');
    expect(table).toMatchObject({ headerLine: null, header: ['Column 1', 'Column 2'] });
    expect(table.rows).toHaveLength(2);
  });

  it(`takes ${MAX_COLUMNS} columns and refuses one more`, () => {
    expect(readDelimited(Array.from({ length: MAX_COLUMNS }, (_, i) => `c${i}`).join(',')).header).toHaveLength(
      MAX_COLUMNS,
    );
    expect(failure(() => readDelimited(Array.from({ length: 10_000 }, (_, i) => `c${i}`).join(','))).message).toContain(
      '10,000 columns',
    );
  });

  it('gives doubled and blank headers names of their own', () => {
    expect(readDelimited('name,Name,,x\n1,2,3,4').header).toEqual(['name', 'Name 2', 'Column 3', 'x']);
  });

  it('reads back whatever writeCsv wrote', () => {
    // Not what a spreadsheet would take for a sign of its own.
    const cell = fc.string().filter((c) => !/^[=+\-@'\t\r]/.test(c) && !c.includes('\ufeff'));
    fc.assert(
      fc.property(fc.array(fc.tuple(cell, cell, cell), { minLength: 1, maxLength: 20 }), (rows) => {
        const table = readDelimited(writeCsv([['h1', 'h2', 'h3'], ...rows]));
        const wanted = rows.filter((r) => r.some((c) => c.trim() !== ''));
        expect(table.rows.map((r) => r.cells)).toEqual(wanted);
      }),
    );
  });
});

describe('writeCsv', () => {
  it('neutralises cells that a spreadsheet would run, and leaves numbers alone', () => {
    expect(writeCsv([['=1+1', '@x', '-5', '+3,5', '-a', 'a,b']])).toBe(`'=1+1,'@x,-5,"+3,5",'-a,"a,b"\r\n`);
  });
});
