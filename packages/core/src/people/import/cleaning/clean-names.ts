/** Words that belong to the family name and stay small inside a name. */
const PARTICLES = new Set(
  'van von der den de del della di da do dos das du la le les ten ter zu zum zur af av el al bin ibn y e i'.split(' '),
);
const TITLES =
  /^(?:(?:mr|mrs|ms|miss|mx|dr|prof|sir|herr|frau|hr|fr|ing|dipl|mag|mme|mlle|m|dott|sig|sra|sr|dra|rev)\.?|dipl\.?-?\s?ing\.?|med\.?|phil\.?)$/i;
const SUFFIXES = /^(?:jr|sr|ii|iii|iv|ph\.?d|mba|m\.?sc|b\.?sc|esq|m\.?a|ll\.?m|m\.?d)\.?$/i;

export interface NameParts {
  given: string;
  family: string;
}

/**
 * Splits a full name: `Dr. Ilse van der Meer, PhD`, `MARCHETTI, Odile`. Titles and suffixes are dropped, particles go
 * with the family name, a comma after one name turns the order round.
 *
 * @returns null for one word, or more than can be told apart
 */
export function splitName(fullName: string): NameParts | null {
  const [before = '', ...after] = fullName.split(',').map((p) => p.trim());
  const rest = after.filter((p) => p !== '' && !SUFFIXES.test(p));
  if (rest.length > 1) return null;
  if (rest[0] !== undefined) {
    const given = words(rest[0]);
    return given.length === 0 || before === '' ? null : { given: given.join(' '), family: words(before).join(' ') };
  }
  const parts = words(before);
  if (parts.length < 2 || parts.length > 6) return null;
  const particle = parts.findIndex((p, i) => i > 0 && PARTICLES.has(p.toLowerCase()));
  const from = particle > 0 ? particle : parts.length - 1;
  return { given: parts.slice(0, from).join(' '), family: parts.slice(from).join(' ') };
}

function words(text: string): string[] {
  const all = text.split(/\s+/).filter((w) => w !== '');
  while (all.length > 1 && TITLES.test(all[0] as string)) all.shift();
  while (all.length > 1 && SUFFIXES.test(all.at(-1) as string)) all.pop();
  return all;
}

/**
 * A name in the case in which people write it, where it is written in capitals or small letters throughout, or with
 * the case turned round (`jOSÉ`). Names of mixed case are left: their owners know best. So are initials (`JP`).
 */
export function nameCase(name: string): string {
  return WRITTEN.test(name) ? name : caseOfWords(name);
}

/** Names as most are written already, and numbers. */
const WRITTEN = /^(?:[A-Z][a-z]+|\d+)(?: (?:[A-Z][a-z]+|\d+))*$/;

function caseOfWords(name: string): string {
  const isShouted = name === name.toUpperCase() && /\p{Lu}{3}/u.test(name);
  return name
    .split(/(\s+)/)
    .map((word, i, all) => {
      if (/\s/.test(word)) return word;
      const place = { isAmong: all.length > 1, isLast: i > 0 && i === all.length - 1, before: all[i - 2] ?? '' };
      return wordCase(word, place, isShouted);
    })
    .join('');
}

/** Suffixes and degrees as they are written. */
const SUFFIXES_WRITTEN: ReadonlyMap<string, string> = new Map(
  'II III IV VI VII MBA MD PhD LLM MSc BSc CPA Esq Jr Sr'.split(' ').map((written) => [written.toLowerCase(), written]),
);
/** Names of two letters are no initials when they can be spoken. */
const SPOKEN = /^(?:ng|.*[aeiouy].*)$/i;

interface Place {
  /** Whether other words stand beside it. */
  isAmong: boolean;
  isLast: boolean;
  /** The word before it; ''. */
  before: string;
}

function wordCase(word: string, { isAmong, isLast, before }: Place, isShouted: boolean): string {
  const suffix = isLast && isAmong ? SUFFIXES_WRITTEN.get(word.toLowerCase().replace(/\./g, '')) : undefined;
  if (suffix !== undefined) return word.includes('.') ? word : suffix;
  const letters = [...word].filter((c) => /\p{L}/u.test(c));
  const text = letters.join('');
  const upper = text === text.toUpperCase() && text !== text.toLowerCase();
  const lower = text === text.toLowerCase() && text !== text.toUpperCase();
  const turned = letters.length > 2 && /^\p{Ll}\p{Lu}+$/u.test(text);
  const shoutedScot = /^M(?:a?)c[\p{Lu}]{2,}$/u.test(text);
  const isShort = letters.length === 2 && isShouted && (SPOKEN.test(text) || TITLES.test(word));
  if (!(upper && (letters.length > 2 || isShort)) && !lower && !turned && !shoutedScot) return word;
  const small = word.toLowerCase();
  // At the end it is a name: Anh Le.
  if (isAmong && !isLast && isSmall(small, before.toLowerCase())) return small;
  return small
    .replace(/(^|[-’'])(\p{L})/gu, (_, before: string, first: string) => before + capital(first))
    .replace(/^Mc(\p{L})/u, (_, c: string) => `Mc${capital(c)}`);
}

/** Whether a particle is written small: all are but the French article, unless it follows `de`. */
const isSmall = (word: string, before: string): boolean =>
  PARTICLES.has(word) && (!/^(?:le|les|la)$/.test(word) || before === 'de');

/**
 * A name with the family's part first and in capitals, as several countries write lists, in the order in which it is
 * spoken: `DE LA CRUZ María` is María de la Cruz. Other names as they are.
 */
export function givenNameFirst(name: string): string {
  const all = name.trim().split(/\s+/);
  const capitals = all.findIndex((w) => !/^\p{Lu}[\p{Lu}\p{M}'’.-]*$/u.test(w) || w.endsWith('.'));
  if (capitals <= 0) return name;
  const [family, given] = [all.slice(0, capitals), all.slice(capitals)];
  if (!family.some((w) => /\p{Lu}{3}/u.test(w)) || !given.every((w) => /^\p{Lu}\P{Lu}/u.test(w))) return name;
  return `${given.join(' ')} ${caseOfWords(family.join(' '))}`;
}

/** A letter at the head of a word. Where its capital is two letters (`ß`, `ᾐ`), the second stays small. */
function capital(letter: string): string {
  const [head = '', ...rest] = letter.toUpperCase();
  return head + rest.join('').toLowerCase();
}

const LEGAL_FORMS = [
  String.raw`gmbh\s*&\s*co\.?\s*kg`,
  String.raw`gmbh|mbh|ag|kg|ohg|gbr|ug|e\.?\s?k\.?|e\.?\s?v\.?|eg`,
  String.raw`b\.?v\.?|n\.?v\.?|v\.?o\.?f\.?`,
  String.raw`ltd\.?|limited|llc|l\.l\.c\.|llp|inc\.?|incorporated|corp\.?|plc|co\.?`,
  String.raw`sarl|s\.a\.r\.l\.|sas|s\.a\.s\.|sasu|eurl|s\.?a\.?|sprl|srl|s\.r\.l\.|s\.?p\.?a\.?|snc`,
  String.raw`s\.?l\.?u?\.?|lda\.?|ltda\.?|ab|as|a/s|aps|oy|oyj|sp\.?\s*z\s*o\.?\s*o\.?|s\.r\.o\.|a\.s\.|kft\.?|d\.o\.o\.`,
].join('|');
const LEGAL = new RegExp(String.raw`[\s,]+(?:${LEGAL_FORMS})\s*$`, 'iu');

/** Whether a text is a form of address or a degree alone: `Frau`, `Dr.`. */
export const isNameTitle = (text: string): boolean => TITLES.test(text.trim());

/** A company as one speaks of it: without its legal form. What would leave nothing stays. */
export function withoutLegalForm(company: string): string {
  const short = company.replace(LEGAL, '').trim();
  return short === '' ? company : short;
}
