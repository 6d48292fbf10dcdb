const LISTS = new Intl.ListFormat('en', { type: 'conjunction' });

/** Several names in a sentence: `a, b, and c`. */
export const listed = (names: Iterable<string>): string => LISTS.format(names);
