/** Encodings of one byte a letter, by the names under which they may be chosen, with those that people know. */
export const ENCODINGS = {
  'windows-1252': 'Windows-1252',
  'windows-1250': 'Windows-1250',
  'iso-8859-2': 'ISO 8859-2',
  macintosh: 'Mac Roman',
  'windows-1254': 'Windows-1254',
  'windows-1257': 'Windows-1257',
  'windows-1251': 'Windows-1251',
  'koi8-u': 'KOI8-R',
  'iso-8859-5': 'ISO 8859-5',
  ibm866: 'DOS Cyrillic',
  'x-mac-cyrillic': 'Mac Cyrillic',
  'windows-1253': 'Windows-1253',
  'iso-8859-7': 'ISO 8859-7',
} as const;
export type Encoding = keyof typeof ENCODINGS;

/** The encoding that people know under a name; null for one of Unicode, or several. */
export const encodingNamed = (name: string): Encoding | null =>
  (Object.keys(ENCODINGS) as Encoding[]).find((encoding) => ENCODINGS[encoding] === name) ?? null;

/** Letters beyond ASCII of the languages that are written in an encoding, in lower case. */
const WESTERN = {
  French: 'àâæçéèêëîïôœùûüÿ',
  German: 'äöüßé',
  Spanish: 'áéíñóúüç',
  Italian: 'àèéìíîòóùú',
  Portuguese: 'àáâãçéêíóôõú',
  Catalan: 'àçèéíïòóúü',
  Dutch: 'áèéëíïóöü',
  Swedish: 'åäöéüà',
  Danish: 'æøåéöüäó',
  Icelandic: 'áðéíóúýþæö',
  Faroese: 'áðíóúýæø',
  Irish: 'áéíóú',
  Albanian: 'çë',
};
const NORTHERN = { Finnish: 'äöåšž', Estonian: 'äöõüšž' };
const CENTRAL = {
  Czech: 'áčďéěíňóřšťúůýž',
  Slovak: 'áäčďéíĺľňóôŕšťúýž',
  Polish: 'ąćęłńóśźż',
  Hungarian: 'áéíóöőúüű',
  Croatian: 'čćđšž',
  Romanian: 'ăâîșțşţ',
  German: 'äöüß',
};
const CYRILLIC = {
  Russian: 'абвгдежзийклмнопрстуфхцчшщъыьэюяё',
  Ukrainian: 'абвгдежзийклмнопрстуфхцчшщьюяєіїґ',
  Serbian: 'абвгдежзиклмнопрстуфхцчшђјљњћџ',
};
const GREEK = { Greek: 'αβγδεζηθικλμνξοπρσςτυφχψωάέήίόύώϊϋΐΰ' };

const LANGUAGES: Record<Encoding, Readonly<Record<string, string>>> = {
  'windows-1252': { ...WESTERN, ...NORTHERN },
  'windows-1250': CENTRAL,
  'iso-8859-2': CENTRAL,
  macintosh: WESTERN,
  'windows-1254': { Turkish: 'âçğıîöşüû' },
  'windows-1257': { Lithuanian: 'ąčęėįšųūž', Latvian: 'āčēģīķļņšūž', Estonian: NORTHERN.Estonian },
  'windows-1251': CYRILLIC,
  'koi8-u': CYRILLIC,
  'iso-8859-5': CYRILLIC,
  ibm866: CYRILLIC,
  'x-mac-cyrillic': CYRILLIC,
  'windows-1253': GREEK,
  'iso-8859-7': GREEK,
};

/** What stands around words of any language. */
const SIGNS = /[’‘“”„‚–—«»·•\u00a0]|…$/gu;
/** What stands by itself. */
const ALONE = /^[€…§°ºª№]+$/u;
const WORD = /[^\s\d,;|"'()<>@.:/&+-]*[^\p{ASCII}][^\s\d,;|"'()<>@.:/&+-]*/gu;

/** What is looked at. */
const WORDS_LOOKED_AT = 5_000;
/** What one language for all words weighs against each word's having one. */
const ONE_LANGUAGE = 0.25;
/** What a word is worth that has letters of several languages of the encoding. */
const OF_SEVERAL = 0.3;

/**
 * The encoding in which the words beyond ASCII are words: each of letters that one language has, capitals only where it
 * begins; and the more of them are of the same language the better. Where several make as much sense, it is the first of
 * {@link ENCODINGS}.
 *
 * @param decode the text under an encoding
 */
export function likeliestEncoding(decode: (encoding: Encoding) => string): Encoding {
  let best: Encoding = 'windows-1252';
  let most = -Infinity;
  for (const encoding of Object.keys(ENCODINGS) as Encoding[]) {
    const sense = senseOf(decode(encoding), Object.values(LANGUAGES[encoding]));
    if (sense > most + 1e-9) [best, most] = [encoding, sense];
  }
  return best;
}

function senseOf(text: string, languages: readonly string[]): number {
  const ofLanguage = languages.map(() => 0);
  let [sum, words] = [0, 0];
  for (const [written] of text.matchAll(WORD)) {
    const word = written.replace(SIGNS, '');
    const letters = [...new Set(word.toLowerCase().normalize('NFC'))].filter((c) => c > '\u007f' && c !== '\u0307');
    // One letter may be a sign by itself in another encoding.
    if (letters.length === 0 || ALONE.test(word) || [...word].length < 2) continue;
    if (++words > WORDS_LOOKED_AT) break;
    if (!isWritten(word)) continue;
    let isOfOne = false;
    languages.forEach((alphabet, i) => {
      if (!letters.every((c) => alphabet.includes(c))) return;
      isOfOne = true;
      ofLanguage[i] = (ofLanguage[i] as number) + 1;
    });
    if (isOfOne) sum++;
    else if (letters.every((c) => languages.some((alphabet) => alphabet.includes(c)))) sum += OF_SEVERAL;
  }
  return words === 0 ? 0 : (sum + ONE_LANGUAGE * Math.max(...ofLanguage)) / words;
}

/** Whether a word is of one script, and has capitals only where it begins, or throughout. */
function isWritten(word: string): boolean {
  if (/[a-z]/i.test(word) && /[\p{Script=Cyrillic}\p{Script=Greek}]/u.test(word)) return false;
  return /^\p{Lu}+$/u.test(word) || !/\p{Ll}\p{M}*(?=\P{ASCII})\p{Lu}|^(?=\P{ASCII})\p{Ll}[\p{Lu}]/u.test(word);
}
