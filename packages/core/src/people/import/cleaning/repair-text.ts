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

/**
 * Mends text whose UTF-8 was read as Windows-1252: `MÃ¼ller` is Müller. Only what reads as UTF-8 from end to end is
 * mended, so that a rightly written `Ã…` stays.
 */
export function repairText(text: string): string {
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
