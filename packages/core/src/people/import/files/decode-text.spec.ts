import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DomainError } from '../../../errors';
import { decodeText } from './decode-text';

const bytes = (text: string, encoding: BufferEncoding) => new Uint8Array(Buffer.from(text, encoding));
const code = (input: Uint8Array) => {
  try {
    decodeText(input);
    return null;
  } catch (error) {
    return (error as DomainError).code;
  }
};

describe('decodeText', () => {
  it('gives back any text that was written as UTF-8', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', minLength: 1 }), (s) => {
        fc.pre([...s].every((c) => c >= ' ' && c !== '\ufeff'));
        expect(decodeText(bytes(s, 'utf8')).text).toBe(s);
      }),
    );
  });

  it.each([
    ['little', 'utf-16le', [0xff, 0xfe]],
    ['big', 'utf-16be', [0xfe, 0xff]],
  ])('reads UTF-16 of %s end, with its mark and without', (_, encoding, mark) => {
    const little = Buffer.from('email;name\nana@x.example;Ana Müller\n', 'utf16le');
    const body = encoding === 'utf-16le' ? little : Buffer.from(little).swap16();
    for (const input of [Buffer.concat([Buffer.from(mark), body]), body])
      expect(decodeText(new Uint8Array(input))).toMatchObject({
        encoding: 'UTF-16',
        text: expect.stringMatching(/^email;name\n.*Müller\n$/s),
      });
  });

  it('counts the lines of a mixed file that were not UTF-8', () => {
    const mixed = Buffer.concat([bytes('a,José\n', 'utf8'), bytes('b,Zo\xeb\n', 'latin1'), bytes('c,Łucja', 'utf8')]);
    expect(decodeText(new Uint8Array(mixed))).toEqual({
      text: 'a,José\nb,Zoë\nc,Łucja',
      encoding: 'UTF-8 and Windows-1252 mixed',
      otherLines: 1,
    });
  });

  it('takes what is not UTF-8 at all for Windows-1252', () => {
    expect(decodeText(Uint8Array.from([0x93, 0x41, 0x94, 0x0a, 0x80]))).toMatchObject({
      text: '“A”\n€',
      encoding: 'Windows-1252',
    });
  });

  it.each([
    ['nothing', [], 'empty_file'],
    ['a picture', [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 1, 2, 3, 4, 0, 0, 5, 5], 'not_text'],
    ['a PDF', [0x25, 0x50, 0x44, 0x46], 'not_text'],
    ['control codes', [65, 1, 2, 3, 66, 1, 67], 'not_text'],
  ])('refuses %s', (_, input, expected) => expect(code(Uint8Array.from(input))).toBe(expected));
});
