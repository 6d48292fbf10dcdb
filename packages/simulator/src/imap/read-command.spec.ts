import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readCommand } from './read-command';

const read = (text: string) => readCommand(Buffer.from(text, 'latin1'));

describe('readCommand', () => {
  it('takes words, quoted strings and lists apart', () => {
    expect(read('a1 uid FETCH 3:* (UID BODY.PEEK[HEADER.FIELDS (TO)])\r\n')).toMatchObject({
      command: { tag: 'a1', name: 'UID', args: ['FETCH', '3:*', '(UID BODY.PEEK[HEADER.FIELDS (TO)])'] },
    });
    expect(read('2 LOGIN "ines@x.example" "a \\"b\\" \\\\c"\r\n')).toMatchObject({
      command: { args: ['ines@x.example', 'a "b" \\c'] },
    });
  });

  it('puts literals in, and waits until they are whole', () => {
    expect(read('1 LOGIN {4}\r\n')).toBe('wants_literal');
    expect(read('1 LOGIN {4}\r\nin')).toBeNull();
    expect(read('1 LOGIN {4+}\r\n')).toBeNull();
    expect(read('1 LOGIN {4}\r\ni"\\s pass\r\n')).toMatchObject({ command: { args: ['i"\\s', 'pass'] }, length: 24 });
  });

  it('gives the length of the first command only', () => {
    expect(read('1 NOOP\r\n2 NOOP\r\n')).toMatchObject({ command: { tag: '1' }, length: 8 });
    expect(read('1 NOO')).toBeNull();
  });

  it('never stumbles, whatever comes', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 200 }), (s) => readCommand(Buffer.from(`${s}\r\n`, 'latin1')) !== undefined),
    );
  });
});
