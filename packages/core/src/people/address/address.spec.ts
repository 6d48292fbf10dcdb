import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { parseAddress } from './address';

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
  ])('refuses %j and says why', (text, words) => expect(reason(text)).toContain(words));

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
