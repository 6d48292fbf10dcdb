import { describe, expect, it } from 'vitest';
import { PlainLines } from './plain-lines';

const COMMA = { delimiter: ',', newline: '\n' };

/** Cells of the first line; null where it is not plain. */
function read(text: string, width: number, form = COMMA): string[] | null {
  const lines = new PlainLines(form, width);
  const bytes = Buffer.from(text);
  const bounds = new Int32Array(2 * width);
  const end = lines.read(bytes, 0, bounds);
  if (end === 0) return null;
  expect(text.slice(0, end).endsWith('\n')).toBe(true);
  return Array.from({ length: width }, (_, i) => bytes.subarray(bounds[2 * i], bounds[2 * i + 1]).toString());
}

describe('plain lines', () => {
  it('are those of printable letters, in quotation marks or without, blanks among them', () => {
    expect(read('ana@x.example,Ana Reyes,,+353 1\nnext', 4)).toEqual(['ana@x.example', 'Ana Reyes', '', '+353 1']);
    expect(read('"Grove, Ltd","",b\n', 3)).toEqual(['Grove, Ltd', '', 'b']);
    expect(read('a;b,c\r\n', 2, { delimiter: ';', newline: '\r\n' })).toEqual(['a', 'b,c']);
    expect(read("Grove & Daughters,Sean O'Neil,a&,\n", 4)).toEqual(['Grove & Daughters', "Sean O'Neil", 'a&', '']);
    expect(read('a\tb\n', 2, { delimiter: '\t', newline: '\n' })).toEqual(['a', 'b']);
  });

  it.each([
    ['a cell too few', 'a\n', 2],
    ['a cell too many', 'a,b,c\n', 2],
    ['nothing in any cell', ',\n', 2],
    ['two spaces', 'a  b,c\n', 2],
    ['a space at an edge', 'a ,c\n', 2],
    ['a space at the head', 'a, c\n', 2],
    ['a cell of one space', 'a, \n', 2],
    ['a space at an edge in quotation marks', '"a ",c\n', 2],
    ['a quotation mark within', 'a,5" pipe\n', 2],
    ['a doubled quotation mark', 'a,"5"" pipe"\n', 2],
    ['a line break in quotation marks', 'a,"b\nc"\n', 2],
    ['a quotation mark that is never closed', 'a,"b', 2],
    ['an apostrophe at the head', "a,'012\n", 2],
    ['a sign of HTML', 'a,b &amp; c\n', 2],
    ['a backslash', 'a,b\\c\n', 2],
    ['a letter beyond ASCII', 'a,Zoë\n', 2],
    ['a control character', 'a,b\u0007\n', 2],
    ['a tab', 'a,"b\tc"\n', 2],
    ['a carriage return where lines have none', 'a,b\r\n', 2],
  ])('are none with %s', (_, text, width) => {
    expect(read(text, width)).toBeNull();
  });

  it('end as the others of their file do', () => {
    expect(read('a,b\n', 2, { delimiter: ',', newline: '\r\n' })).toBeNull();
    expect(read('"a\tb"\tc\n', 2, { delimiter: '\t', newline: '\n' })).toBeNull();
  });
});
