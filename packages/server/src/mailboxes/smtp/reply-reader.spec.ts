import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ReplyReader, replyText, type Reply } from './reply-reader';

const read = (text: string | Buffer) => [...new ReplyReader().read(Buffer.from(text as string))];

describe('ReplyReader', () => {
  it('puts lines together to replies', () =>
    expect(read('250-mail.example\r\n250-SIZE 10\r\n250 AUTH PLAIN\r\n354\r\n')).toEqual([
      { code: 250, lines: ['mail.example', 'SIZE 10', 'AUTH PLAIN'] },
      { code: 354, lines: [''] },
    ]));

  it('takes lines that end without a carriage return', () =>
    expect(read('250-a\n250 b\n')).toEqual([{ code: 250, lines: ['a', 'b'] }]));

  it('finds the same replies however the bytes are cut', () => {
    const line = fc.stringMatching(/^[ -~éß]{0,60}$/);
    const reply = fc.record({
      code: fc.integer({ min: 200, max: 599 }),
      lines: fc.array(line, { minLength: 1, maxLength: 4 }),
    });
    fc.assert(
      fc.property(fc.array(reply, { maxLength: 5 }), fc.array(fc.nat(300), { maxLength: 8 }), (replies, cuts) => {
        const wire = Buffer.from(replies.map(written).join(''));
        const ends = [...cuts.map((c) => Math.min(c, wire.length)).sort((a, b) => a - b), wire.length];
        const reader = new ReplyReader();
        const found = ends.flatMap((end, i) => [...reader.read(wire.subarray(ends[i - 1] ?? 0, end))]);
        expect(found).toEqual(replies);
        expect(reader.isAmidReply).toBe(false);
      }),
    );
  });

  it.each([
    ['no code', 'what was the question\r\n', 'what was the question'],
    ['a code that is none', '999 hello\r\n', '999 hello'],
    ['another code in the middle', '250-a\r\n550 b\r\n', '550 b'],
    ['nothing', '\r\n', 'empty line'],
    ['a line without an end', `250 ${'x'.repeat(8189)}`, 'does not end'],
    ['lines without end', '250-and another thing\r\n'.repeat(4000), 'without end'],
    ['binary', Buffer.from([0xff, 0xfe, 0, 0x0a]), 'ÿþ'],
  ])('refuses %s', (_, wire, words) => expect(() => read(wire)).toThrow(words));

  it('takes a line one byte shorter', () => {
    const reader = new ReplyReader();
    expect([...reader.read(Buffer.from(`250 ${'x'.repeat(8188)}`))]).toEqual([]);
    expect(reader.isAmidReply).toBe(true);
    expect([...reader.read(Buffer.from('\r\n'))]).toHaveLength(1);
  });

  it('reads words in UTF-8, and others as they are', () => {
    expect(read('550 Empfänger unbekannt\r\n')[0]?.lines).toEqual(['Empfänger unbekannt']);
    expect(read(Buffer.from('550 Empf\xe4nger unbekannt\r\n', 'latin1'))[0]?.lines).toEqual(['Empfänger unbekannt']);
  });
});

const written = ({ code, lines }: Reply) =>
  lines.map((l, i) => `${code}${i < lines.length - 1 ? '-' : ' '}${l}\r\n`).join('');

it('a reply of several lines says its codes once', () =>
  expect(replyText({ code: 550, lines: ['5.1.1 No such', '5.1.1 person', 'here'] })).toBe(
    '550 5.1.1 No such person here',
  ));
