/** The language of the interface. Another one replaces this and the `texts.ts` of each room. */
const LANGUAGE = 'en-GB';

/** What a sentence can hold: words as they are, a number as the language writes it, nothing for null. */
export type Shown = string | number | null | undefined;

const NUMBERS = new Intl.NumberFormat(LANGUAGE);
const PLURALS = new Intl.PluralRules(LANGUAGE);
const LISTS = new Intl.ListFormat(LANGUAGE, { type: 'conjunction' });

const REGIONS = new Intl.DisplayNames(LANGUAGE, { type: 'region' });

/** A country by its two letters (ISO 3166-1). */
export const countryName = (code: string): string => REGIONS.of(code) ?? code;

/** A number with its thousands set apart: *12,400*; where `decimals` is given, with just so many: *50.0*. */
export function formatNumber(n: number, decimals?: number): string {
  if (decimals === undefined) return NUMBERS.format(n);
  return n.toLocaleString(LANGUAGE, { minimumFractionDigits: decimals, maximumFractionDigits: decimals });
}

/** A sentence with its values filled in: numbers through `Intl`, null and undefined as nothing. */
export function say(parts: TemplateStringsArray, ...values: Shown[]): string {
  const shown = values.map((v) => (typeof v === 'number' ? formatNumber(v) : (v ?? '')));
  return String.raw({ raw: parts }, ...shown);
}

/** The form that this number takes in the language: *1 person*, *2 people*. */
export function plural(n: number, forms: Partial<Record<Intl.LDMLPluralRule, string>> & { other: string }): string {
  return forms[PLURALS.select(n)] ?? forms.other;
}

/** Words one after another: *a, b and c*. */
export const listed = (words: readonly string[]): string => LISTS.format(words);

/** The seven days of a week, Monday first: *Mon* or *Monday*. */
export function weekdays(style: 'short' | 'long'): string[] {
  const format = new Intl.DateTimeFormat(LANGUAGE, { weekday: style, timeZone: 'UTC' });
  return Array.from({ length: 7 }, (_, i) => format.format(Date.UTC(2024, 0, 1 + i)));
}

/** The twelve months, January first: *Jan*. */
export function months(): string[] {
  const format = new Intl.DateTimeFormat(LANGUAGE, { month: 'short', timeZone: 'UTC' });
  return Array.from({ length: 12 }, (_, i) => format.format(Date.UTC(2024, i, 1)));
}
