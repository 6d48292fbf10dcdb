/** Letters as which the lead bytes of UTF-8 appear when it was read as Windows-1252. */
const BROKEN = /[ÂÃÄÅÆÇÈÉÊËÎÏÐÑÒÓÔÕÖ×ØÙâã][\u0080-\u00bf€‚ƒ„…†‡ˆ‰Š‹ŒŽ‘’“”•–—˜™š›œžŸ]/u;

/** Where Windows-1252 has the letters that Latin-1 has not. */
const HIGH = new Map(
  [...'€‚ƒ„…†‡ˆ‰Š‹ŒŽ‘’“”•–—˜™š›œžŸ'].map((c, i) => [
    c,
    [
      0x80, 0x82, 0x83, 0x84, 0x85, 0x86, 0x87, 0x88, 0x89, 0x8a, 0x8b, 0x8c, 0x8e, 0x91, 0x92, 0x93, 0x94, 0x95, 0x96,
      0x97, 0x98, 0x99, 0x9a, 0x9b, 0x9c, 0x9e, 0x9f,
    ][i] as number,
  ]),
);

interface WithTextDecoder {
  TextDecoder: new (encoding: string, options: { fatal: boolean }) => { decode(bytes: Uint8Array): string };
}

/** Signs of HTML by name (HTML 13.5), as far as lists of people have them; letters with accents are put together. */
const ENTITIES: Readonly<Record<string, string>> = {
  ...{ amp: '&', lt: '<', gt: '>', quot: '"', apos: "'", nbsp: ' ', szlig: 'ß', oslash: 'ø', Oslash: 'Ø' },
  ...{ aelig: 'æ', AElig: 'Æ', oelig: 'œ', OElig: 'Œ', eth: 'ð', ETH: 'Ð', thorn: 'þ', THORN: 'Þ', euro: '€' },
  ...{ ndash: '–', mdash: '—', hellip: '…', lsquo: '‘', rsquo: '’', ldquo: '“', rdquo: '”', laquo: '«', raquo: '»' },
};
const ACCENTS: Readonly<Record<string, string>> = {
  ...{ grave: '\u0300', acute: '\u0301', circ: '\u0302', tilde: '\u0303', uml: '\u0308', ring: '\u030a' },
  ...{ cedil: '\u0327', caron: '\u030c' },
};
const ACCENTED = /^([A-Za-z])(grave|acute|circ|tilde|uml|ring|cedil|caron)$/;

/** Signs that a program wrote as HTML does: `Salt &amp; Sons`, `Zo&euml;`; others with an ampersand are left. */
function withoutEntities(text: string): string {
  if (!/&#?\w+;/.test(text)) return text;
  return text.replace(/&(?:#(\d{1,7})|#x([\da-f]{1,6})|(\w{2,8}));/gi, (whole, decimal, hex, name?: string) => {
    if (name !== undefined) {
      const accented = ACCENTED.exec(name);
      if (accented) return `${accented[1]}${ACCENTS[accented[2] as string]}`.normalize('NFC');
      return Object.hasOwn(ENTITIES, name) ? (ENTITIES[name] as string) : whole;
    }
    const code = decimal === undefined ? parseInt(hex as string, 16) : Number(decimal);
    const isLetter =
      code >= 0x20 && code <= 0x10ffff && !(code >= 0x7f && code < 0xa0) && !(code >= 0xd800 && code < 0xe000);
    return isLetter ? String.fromCodePoint(code) : whole;
  });
}

/**
 * Mends text with signs of HTML in it ({@link withoutEntities}), and text whose UTF-8 was read as Windows-1252: `MÃ¼ller` is Müller. Only what reads as UTF-8 from end to end is
 * mended, so that a rightly written `Ã…` stays.
 */
export function repairText(written: string): string {
  const text = withoutEntities(written);
  if (!BROKEN.test(text)) return text;
  const bytes: number[] = [];
  for (const c of text) {
    const code = HIGH.get(c) ?? (c.codePointAt(0) as number);
    if (code > 0xff) return text;
    bytes.push(code);
  }
  try {
    const decoder = new (globalThis as unknown as WithTextDecoder).TextDecoder('utf-8', { fatal: true });
    return decoder.decode(Uint8Array.from(bytes));
  } catch {
    return text;
  }
}

/** One space for every run of white space of any kind, none at the ends, nothing that has no width. */
export function tidySpaces(text: string): string {
  return text
    .replace(/[\u200b-\u200f\u2060\ufeff\u00ad]/gu, '')
    .replace(/[^\S\n]+/gu, ' ')
    .replace(/ *\n */g, '\n')
    .trim();
}
