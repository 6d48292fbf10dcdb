/** What people write into a name's cell where they have none. */
const NOTHING = new Set(['n/a', 'na', 'n.a.', 'none', 'no name', 'null', 'nil', 'unknown', 'undefined', 'tbd', 'xxx']);
/** Scripts in which one letter is not a whole name. */
const ONE_LETTER = /^[\p{Script=Latin}\p{Script=Greek}\p{Script=Cyrillic}]\p{M}*\.?$/u;

/**
 * Whether a name's cell holds none: blank, dashes and other signs alone, `n/a` and its like, an address, one letter,
 * digits. One character of a script that writes names with one (`李`) is a name.
 */
export function isNoName(value: string): boolean {
  const text = value.trim();
  return !/\p{L}/u.test(text) || text.includes('@') || NOTHING.has(text.toLowerCase()) || ONE_LETTER.test(text);
}
