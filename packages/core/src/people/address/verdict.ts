/** What a verifier's word about an address means for writing to it. */
export const VERDICTS = ['use', 'leave_out', 'ask'] as const;
export type Verdict = (typeof VERDICTS)[number];

const USE = new Set(
  'valid ok good deliverable verified safe true yes 1 gültig zustellbar valide válido valido geldig'.split(' '),
);
const LEAVE_OUT = new Set(
  'invalid bad undeliverable bounce rejected disposable spamtrap donotmail donotsend abuse false no 0 ungültig unzustellbar invalide inválido ongeldig'.split(
    ' ',
  ),
);

/** Words that hardly anybody but a verifier uses. */
const CHECKERS = new Set(
  'valid invalid deliverable undeliverable risky catchall acceptall disposable spamtrap donotmail gültig ungültig zustellbar unzustellbar valide invalide válido inválido valido geldig ongeldig'.split(
    ' ',
  ),
);

const wordOf = (value: string): string => value.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '');

/** Whether a value is the word of an address verifier, whatever its column is called. */
export const isCheckersWord = (value: string): boolean => CHECKERS.has(wordOf(value));

/** The default meaning of each word, until a person chooses another; unknown words are asked about. */
export function usualVerdict(value: string): Verdict {
  const word = wordOf(value);
  return word === '' || USE.has(word) ? 'use' : LEAVE_OUT.has(word) ? 'leave_out' : 'ask';
}

/** @param said what a person has said of values, in lower case */
export function verdictOf(value: string, said: Readonly<Record<string, Verdict>> | null): Verdict {
  const key = value.trim().toLowerCase();
  return said !== null && Object.hasOwn(said, key) ? (said[key] as Verdict) : usualVerdict(value);
}
