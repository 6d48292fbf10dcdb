import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PeopleStream, readHead, type PieceRead } from './people-stream';
import { readPeopleFile } from './read-people-file';
import { rowSorter, sortRows } from '../../list/sort-rows';
import type { RowAside, TableRow } from './table';
import { writeCsv } from '../../list/write-csv';

/** The file's rows as they come in pieces of these sizes, over and over. */
function streamed(
  bytes: Uint8Array,
  sizes: readonly number[],
  headBytes = bytes.length,
  isWanted: (column: number) => boolean = () => true,
) {
  const head = bytes.subarray(0, headBytes);
  const stream = new PeopleStream(head, readHead(head), isWanted);
  const rows: TableRow[] = [];
  const aside: RowAside[] = [];
  const take = (read: PieceRead) => {
    for (const row of read.rows) {
      const { line, cells } = stream.whole(row);
      rows.push({ line, cells });
    }
    aside.push(...read.aside);
  };
  for (let at = 0, i = 0; at < bytes.length; i++) {
    const size = sizes[i % sizes.length] as number;
    take(stream.push(bytes.subarray(at, at + size)));
    at += size;
  }
  take(stream.end());
  return { rows, aside };
}

const quoted = (cell: string) => (/[",\n]/.test(cell) ? `"${cell}"` : cell);
const utf16 = (text: string) => Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(text, 'utf16le')]);

const cell = fc.oneof(
  fc.string({ unit: 'grapheme', maxLength: 12 }).filter((s) => !/^[=+\-@\t\r]|[\r\ufeff]|(?![\t\n])\p{Cc}/u.test(s)),
  fc.constantFrom('two\nlines', 'a "quoted" word', 'semi;colon', '', 'Łódź', 'Αθήνα'),
);
const rows = fc
  .array(fc.tuple(cell, cell), { minLength: 1, maxLength: 30 })
  .map((all) => [['email', 'name', 'note'], ...all.map(([name, note], i) => [`p${i}@x.example`, name, note])]);
const sizes = fc.array(fc.integer({ min: 1, max: 60 }), { minLength: 1, maxLength: 6 });

describe('a file read in pieces', () => {
  it('has the rows of the file read whole, wherever it is cut', () => {
    fc.assert(
      fc.property(rows, sizes, fc.boolean(), (cells, cuts, wide) => {
        const text = writeCsv(cells);
        const bytes = wide ? utf16(text) : Buffer.from(text);
        const { table } = readPeopleFile(bytes);
        expect(streamed(bytes, cuts)).toEqual({ rows: table.rows, aside: table.aside });
      }),
    );
  });

  it('has them where line ends are of several kinds, and where its encoding was said', () => {
    const mixed = Buffer.from(
      'email,name\rana@x.example,Ana\nbo@x.example,"B\r\no"\r\ncy@x.example,Cy\n\r\ndee@x.example,Dee\r',
    );
    const { table } = readPeopleFile(mixed);
    expect(table.rows.map((r) => r.cells[0])).toEqual(['ana', 'bo', 'cy', 'dee'].map((name) => `${name}@x.example`));
    for (let size = 1; size < 12; size++)
      expect(streamed(mixed, [size])).toEqual({ rows: table.rows, aside: table.aside });
    const czech = Buffer.from('email,name\na@x.example,Ji\xf8\xed\n', 'latin1');
    const file = readHead(czech, { encoding: 'windows-1250' });
    expect(file).toMatchObject({ encoding: 'Windows-1250', table: { rows: [{ cells: ['a@x.example', 'Jiří'] }] } });
    const stream = new PeopleStream(czech, file);
    expect(stream.push(czech).rows.map((r) => stream.whole(r).cells[1])).toEqual(['Jiří']);
  });

  it('has them also where plain cells stay bytes until they are asked for', () => {
    const plain = fc.constantFrom('kelp', 'Grove & Daughters', 'a, b', '', '12', 'two\nlines', 'Łódź', 'x  y', ' z');
    const mixed = fc
      .array(fc.tuple(plain, plain, fc.boolean()), { minLength: 1, maxLength: 40 })
      .map((all) => all.map(([a, b, isBad], i) => (isBad ? [`p${i}@x.example`, a] : [`p${i}@x.example`, a, b])));
    fc.assert(
      fc.property(mixed, sizes, fc.boolean(), (cells, cuts, isWide) => {
        const lines = [['email', 'name', 'note'], ...cells].map((row) => `${row.map(quoted).join(',')}\n`).join('');
        const bytes = Buffer.from(isWide ? lines.replaceAll('\n', '\r\n') : lines);
        const { table } = readPeopleFile(bytes);
        expect(streamed(bytes, cuts, bytes.length, (i) => i === 0)).toEqual({ rows: table.rows, aside: table.aside });
      }),
    );
  });

  it('leaves cells as bytes on plain lines, and reads the others', () => {
    const bytes = Buffer.from('email,name\na@x.example,A\nb@x.example,Zoë\nc@x.example,C\n');
    const stream = new PeopleStream(bytes, readHead(bytes), (i) => i === 0);
    const { rows } = stream.push(bytes);
    expect(rows.map((r) => [r.line, ...r.cells, r.plain !== null])).toEqual([
      [2, 'a@x.example', '', true],
      [3, 'b@x.example', 'Zoë', false],
      [4, 'c@x.example', '', true],
    ]);
  });

  it('passes over titles, keeps bad rows aside, and numbers its lines as the file does', () => {
    const text = 'Growers\n\nemail,name\na@x.example,A\n\nb@x.example,B,more\nc@x.example,"C\nc"\nd@x.example\n';
    const { table } = readPeopleFile(Buffer.from(text));
    const read = streamed(Buffer.from(text), [7]);
    expect(read).toEqual({ rows: table.rows, aside: table.aside });
    expect(read.rows.map((r) => r.line)).toEqual([4, 7, 9]);
  });

  it('has no header row where the first is a person', () => {
    const bytes = Buffer.from('a@x.example,A\nb@x.example,B\n');
    expect(streamed(bytes, [5]).rows.map((r) => r.cells[1])).toEqual(['A', 'B']);
  });

  it('takes JSON lines, each key that the head shows', () => {
    const lines =
      '{"mail":"a@x.example","n":{"f":"A"}}\nno\n\n{"mail":"b@x.example"}\r\n{"mail":"c@x.example","n":{"f":"C"}}';
    const bytes = Buffer.from(lines);
    const { table } = readPeopleFile(bytes);
    expect(streamed(bytes, [9], 40)).toEqual({ rows: table.rows, aside: table.aside });
  });

  it('reads lines of another encoding among UTF-8, and breaks by carriage return alone', () => {
    const mixed = Buffer.concat([
      Buffer.from('email,name\na@x.example,Zoë\n'),
      Buffer.from('b@x.example,Zo\xeb\n', 'latin1'),
    ]);
    expect(streamed(mixed, [4]).rows.map((r) => r.cells[1])).toEqual(['Zoë', 'Zoë']);
    const old = Buffer.from('email,name\ra@x.example,A\rb@x.example,B\r');
    expect(streamed(old, [6]).rows.map((r) => r.cells[1])).toEqual(['A', 'B']);
  });

  it('has the same rows aside, and goes on as the whole does, where quotation marks stand anyhow', () => {
    const bit = fc.constantFrom('"', '"', '""', ',', ',', '\n', '\n', 'kelp', 'b c', 'Zoë');
    fc.assert(
      fc.property(fc.array(bit, { maxLength: 80 }), sizes, fc.boolean(), (bits, cuts, isWide) => {
        const lines = `email,name,note\na@x.example,A,\n${bits.join('')}\nb@x.example,B,\n`;
        const bytes = Buffer.from(isWide ? lines.replaceAll('\n', '\r\n') : lines);
        const { table } = readPeopleFile(bytes);
        const read = streamed(bytes, cuts);
        expect({ ...read, aside: read.aside.sort((a, b) => a.line - b.line) }).toEqual({
          rows: table.rows,
          aside: table.aside,
        });
      }),
      { numRuns: 500 },
    );
  });

  it('is in the encoding of its head to the end, whatever a piece alone would look like', () => {
    // In KOI8-R; the last name alone could be French in Windows-1252.
    const koi = (text: string) => Buffer.from(text, 'latin1');
    const bytes = Buffer.concat([
      Buffer.from('email,name\na@x.example,'),
      koi('\xe9\xd7\xc1\xce \xf0\xc5\xd4\xd2\xcf\xd7\nb@x.example,\xed\xc1\xd2\xc9\xd1\nc@x.example,\xe9\xc1\n'),
    ]);
    const names = streamed(bytes, [45]).rows.map((r) => r.cells[1]);
    expect(names).toEqual(['Иван Петров', 'Мария', 'Иа']);
  });

  it('takes control characters out of a row also where it goes on for many pieces', () => {
    const bytes = Buffer.from('email,note\na@x.example,"b\u0007ell\nand\nso\non\nand on"\n');
    expect(streamed(bytes, [1]).rows).toEqual([{ line: 2, cells: ['a@x.example', 'b ell\nand\nso\non\nand on'] }]);
  });

  it('says what it cannot read so', () => {
    expect(() => readHead(Buffer.from('BEGIN:VCARD\nVERSION:4.0\nEMAIL:a@x.example\nEND:VCARD\n'))).toThrow(
      'this is vCards',
    );
  });
});

describe('rows sorted one by one', () => {
  it('are sorted as all of them together', () => {
    const people = fc.array(fc.constantFrom('a@x.example', 'B@x.example', 'b@x.example', 'bad', '', 'c@y.example'));
    fc.assert(
      fc.property(people, (addresses) => {
        const table = {
          header: ['email'],
          headerLine: 1,
          titleRows: 0,
          rows: addresses.map((a, i) => ({ line: i + 2, cells: [a] })),
          aside: [],
        };
        const whole = sortRows(table, ['address'], { isKnown: () => false, isSuppressed: () => false });
        const { ownerOf } = rowSorter(table, ['address']);
        const each = table.rows.map(ownerOf);
        expect(each.flatMap((r) => ('reason' in r ? [] : [r.key]))).toEqual(whole.taken.map((t) => t.key));
        expect(each.flatMap((r) => ('reason' in r ? [r.reason] : []))).toEqual(whole.aside.map((t) => t.reason));
        expect(whole.counts.new + whole.counts.doubled + whole.counts.invalid).toBe(addresses.length);
      }),
    );
  });
});
