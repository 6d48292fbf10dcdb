import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { envelopeAddress, needsUtf8, parseAddress } from './address';

const reason = (text: string) => {
  const r = parseAddress(text);
  return r.ok ? `taken as ${r.value.address}` : r.reason;
};

describe('parseAddress', () => {
  it('takes the address out of a cell that has a name beside it', () => {
    expect(parseAddress(' "Reyes, Ana" <Ana.Reyes@Cedres.example>, ')).toEqual({
      ok: true,
      value: {
        address: 'Ana.Reyes@cedres.example',
        key: 'ana.reyes@cedres.example',
        domain: 'cedres.example',
      },
    });
    expect(parseAddress('mailto:bo@y.example')).toMatchObject({ ok: true, value: { key: 'bo@y.example' } });
  });

  it('gives an internationalised domain one key in both spellings', () => {
    expect(parseAddress('jo@bücher.example')).toMatchObject({
      value: { key: 'jo@xn--bcher-kva.example', address: 'jo@bücher.example' },
    });
    expect(parseAddress('jo@xn--bcher-kva.example')).toMatchObject({ value: { key: 'jo@xn--bcher-kva.example' } });
  });

  it.each([
    ['', 'No address'],
    ['ana.example', 'no @'],
    ['a@b@c.example', '2 @ signs'],
    ['a@x.example, b@y.example', 'more than one'],
    ['@x.example', 'nothing before'],
    ['ana@', 'nothing after'],
    ['ana@vines', 'no dot'],
    ['ana..b@x.example', 'dot too many before'],
    ['ana@x..example', 'dot too many'],
    ['an a@x.example', 'a space before'],
    ['ana@-x.example', 'hyphen'],
    ['ana@127.0.0.1', 'ends in “1”'],
    ['ana@x.e', 'ends in “e”'],
    ['an\u0000a@x.example', 'an invisible character (U+0000) before'],
    ['an\u200ba@x.example', 'an invisible character (U+200B) before'],
    ['ana@x\u202e.example', 'an invisible character (U+202E)'],
    ['ana@xn--zzzzzz.example', 'none that can be looked up'],
    ['ana@xn--.example', 'hyphen at an edge'],
    ['mailto:a@x.example,b@y.example', 'more than one'],
    ['mailto:a%40b@x.example', '2 @ signs'],
    ['ana@x.example..', 'dot too many'],
    ['ana@exa%6dple.example', 'the character “%”'],
    ['ana@x.example:25', 'the character “:”'],
  ])('refuses %j and says why', (text, words) => expect(reason(text)).toContain(words));

  it.each([
    ['\u200e<ana@x.example>\u200f', 'ana@x.example'],
    ['\u0000ana@x.example\u0000\u0000', 'ana@x.example'],
    ['\ufeffana@x.example\u200b', 'ana@x.example'],
    ['ana@x.example.', 'ana@x.example'],
    ['ａｎａ＠ｘ．ｅｘａｍｐｌｅ', 'ana@x.example'],
    ['ana@例え。example', 'ana@xn--r8jz45g.example'],
    ['ana@BÜCHER.example', 'ana@xn--bcher-kva.example'],
    ['ana@bu\u0308cher.example', 'ana@xn--bcher-kva.example'],
    ['ana@straße.example', 'ana@xn--strae-oqa.example'],
    ['ana@XN--BCHER-KVA.example', 'ana@xn--bcher-kva.example'],
    ['mailto:ana%2Btrial@x.example?subject=Hello%20you', 'ana+trial@x.example'],
    ['MAILTO:ana@x.example', 'ana@x.example'],
    ['ana+100%@x.example', 'ana+100%@x.example'],
    ['mailto:100%@x.example', '100%@x.example'],
    ['anä@x.example', 'anä@x.example'],
  ])('takes %j for %s', (text, key) => expect(parseAddress(text)).toMatchObject({ ok: true, value: { key } }));

  it('goes to servers with its domain in ASCII, and says whether the rest needs more', () => {
    expect(envelopeAddress('Jo@bücher.example')).toBe('Jo@xn--bcher-kva.example');
    expect(envelopeAddress('jo@x.example')).toBe('jo@x.example');
    expect([needsUtf8('jo@bücher.example'), needsUtf8('jö@x.example')]).toEqual([false, true]);
  });

  it('takes 64 letters before the @ and refuses 65', () => {
    expect(parseAddress(`${'a'.repeat(64)}@x.example`).ok).toBe(true);
    expect(reason(`${'a'.repeat(65)}@x.example`)).toContain('more than 64');
  });

  it('gives the same key again for an address it has taken, whatever the text', () => {
    fc.assert(
      fc.property(fc.oneof(fc.emailAddress(), fc.string({ unit: 'grapheme' })), (text) => {
        const first = parseAddress(text);
        if (!first.ok) return first.reason.length > 0;
        const second = parseAddress(first.value.address);
        return second.ok && second.value.key === first.value.key && !/[\r\n<>,]/.test(first.value.address);
      }),
    );
  });

  it('reads plain addresses as it reads all others, letter by letter', () => {
    const letters = fc.constantFrom('a', 'B', '7', '.', '+', '-', '_', '@', 'xn--', 'example', 'é');
    const text = fc.array(letters, { maxLength: 12 }).map((l) => l.join(''));
    fc.assert(
      fc.property(fc.oneof(text, fc.emailAddress()), (address) => {
        // Brackets lead around the quick way.
        const slow = parseAddress(`<${address}>`);
        if (slow.ok) expect(parseAddress(address)).toEqual(slow);
        else expect(parseAddress(address).ok).toBe(false);
      }),
    );
  });
});
