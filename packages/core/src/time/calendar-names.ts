/** Languages of Europe of which no month is called as another's other one. */
const LANGUAGES = 'en de de-AT fr es it pt ca nl pl sv da nb is fi cs sk hu ro tr et lv lt sl sr ru uk bg el'.split(
  ' ',
);
/** A name of a month is cut to this many letters at least. */
const LEAST = 3;

/** Letters without their marks, in lower case, so that `MÄRZ` and `marz` are one. */
const plain = (word: string): string =>
  word
    .toLowerCase()
    .replaceAll('ł', 'l')
    .replaceAll('ø', 'o')
    .replaceAll('ı', 'i')
    .normalize('NFD')
    .replace(/\p{M}/gu, '');

/** The words of a part of a date in a language, by itself and beside a day. */
function wordsOf(part: 'month' | 'weekday', language: string, date: Date): string[] {
  const forms: Intl.DateTimeFormatOptions[] = [{ [part]: 'long' }, { [part]: 'short' }];
  if (part === 'month') forms.push({ month: 'long', day: 'numeric' });
  return forms.flatMap((form) => {
    const parts = new Intl.DateTimeFormat(language, { ...form, timeZone: 'UTC' }).formatToParts(date);
    return parts.filter(({ type }) => type === part).flatMap(({ value }) => plain(value).match(/\p{L}+/gu) ?? []);
  });
}

/** Each month by its names and by what they may be cut to; 0 for what could be two. */
function monthsByName(): Map<string, number> {
  const names = LANGUAGES.flatMap((language) =>
    Array.from({ length: 12 }, (_, month) =>
      wordsOf('month', language, new Date(Date.UTC(2026, month, 1))).map((name) => ({
        name,
        language,
        month: month + 1,
      })),
    ).flat(),
  );
  const found = new Map<string, number>();
  // Finnish names are long, never cut, and begin as others do.
  for (const { name, month, language } of names)
    for (let n = LEAST; n < name.length && language !== 'fi'; n++) {
      const known = found.get(name.slice(0, n));
      found.set(name.slice(0, n), known === undefined || known === month ? month : 0);
    }
  // A whole name of a day is that day, and of a month that month, whatever else begins so.
  for (const name of dayWords()) found.delete(name);
  const whole = new Map<string, number>();
  for (const { name, month } of names) {
    const known = whole.get(name);
    whole.set(name, known === undefined || known === month ? month : 0);
  }
  return new Map([...found, ...whole]);
}

let months: Map<string, number> | null = null;

/** The month that a word means in any language known, whole or cut to three letters and more: 1 to 12, 0 for none. */
export const monthNamedAnywhere = (word: string): number => (months ??= monthsByName()).get(plain(word)) ?? 0;

const dayWords = (): string[] =>
  LANGUAGES.flatMap((language) =>
    Array.from({ length: 7 }, (_, day) => wordsOf('weekday', language, new Date(Date.UTC(2026, 0, 4 + day)))).flat(),
  );

/** The names of days, cut to two letters and more. */
const dayNames = (): Set<string> =>
  new Set(dayWords().flatMap((name) => Array.from({ length: name.length }, (_, i) => name.slice(0, i + 1)).slice(1)));

let days: Set<string> | null = null;

/** Whether a word is the name of a day of the week, whole or cut to two letters and more. */
export const isWeekdayNamed = (word: string): boolean => (days ??= dayNames()).has(plain(word));
