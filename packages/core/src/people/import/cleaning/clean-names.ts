/** Words that belong to the family name and stay small inside a name. */
const PARTICLES = new Set(
  'van von der den de del della di da do dos das du la le les ten ter zu zum zur af av el al bin ibn y e'.split(' '),
);
const TITLES =
  /^(?:(?:mr|mrs|ms|miss|mx|dr|prof|sir|herr|frau|hr|fr|ing|dipl|mag|mme|mlle|m|dott|sig|sra|sr|dra|rev)\.?|dipl\.?-?\s?ing\.?|med\.?|phil\.?)$/i;
const SUFFIXES = /^(?:jr|sr|ii|iii|iv|ph\.?d|mba|m\.?sc|b\.?sc|esq|m\.?a|ll\.?m|md)\.?$/i;

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
    .map((word, i, all) =>
      /\s/.test(word) ? word : wordCase(word, i > 0 || all.length > 1, i > 0 && i === all.length - 1, isShouted),
    )
    .join('');
}

/** Suffixes and degrees as they are written. */
const SUFFIXES_WRITTEN: ReadonlyMap<string, string> = new Map(
  'II III IV VI VII MBA MD PhD LLM MSc BSc CPA Esq Jr Sr'.split(' ').map((written) => [written.toLowerCase(), written]),
);
/** Names of two letters are no initials when they can be spoken. */
const SPOKEN = /^(?:ng|.*[aeiouy].*)$/i;

function wordCase(word: string, among: boolean, isLast: boolean, isShouted: boolean): string {
  const suffix = isLast && among ? SUFFIXES_WRITTEN.get(word.toLowerCase().replace(/\./g, '')) : undefined;
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
  if (among && !isLast && PARTICLES.has(small)) return small;
  return small
    .replace(/(^|[-’'])(\p{L})/gu, (_, before: string, first: string) => before + capital(first))
    .replace(/^Mc(\p{L})/u, (_, c: string) => `Mc${capital(c)}`);
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
