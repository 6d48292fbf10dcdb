import { withoutLegalForm } from '../people/import/cleaning/clean-names';
import { isNoName } from './no-name';
import { usualKey } from '../people/import/columns/column-roles';
import { valueOf, type FieldUse, type Values } from './template';

/*
 * Which finished messages are worth reading before anything leaves. What goes wrong in a message comes from the values
 * that are put into it, so these are judged, not the text: a look at a value costs far less than filling in a message,
 * and the reason can be named.
 */

/** What may be wrong with a message, the weightiest first. */
export const RISKS = [
  'empty',
  'broken',
  'no_name',
  'fallback',
  'digits',
  'capitals',
  'small',
  'odd',
  'legal_form',
  'spaces',
  'script',
  'long',
  'longest',
  'shortest',
] as const;
export type Risk = (typeof RISKS)[number];

export interface RiskReason {
  risk: Risk;
  words: string;
}

export interface RankedRisk {
  /** The recipient's place in the list. */
  index: number;
  reasons: RiskReason[];
}

/** How much each weighs; two of a lesser kind do not outweigh one of the kind above. */
const WEIGHTS: Record<Risk, number> = {
  empty: 1000,
  broken: 400,
  no_name: 160,
  fallback: 120,
  digits: 110,
  capitals: 90,
  small: 70,
  odd: 60,
  legal_form: 40,
  spaces: 30,
  script: 16,
  long: 14,
  longest: 12,
  shortest: 10,
};

const NAMES = new Set(['givenname', 'familyname', 'fullname']);

/** A field of the message, as its values are judged by. */
interface JudgedField {
  key: string;
  name: string;
  fallback: string | null;
  guarded: boolean;
  isName: boolean;
  isCompany: boolean;
}

/** A value longer than this in a sentence is more than its field says. */
const LONG = 60;

/** Characters read in the wrong encoding, replacement characters, markup, and leftover Liquid. */
const BROKEN = /\ufffd|Ã[\u0080-\u00bf]|â€|&(?:amp|lt|gt|quot|#\d+);|<\/?[a-z][^>]*>|\{\{|\}\}|\{%/i;
const LETTERS = /\p{L}/u;
/** Scripts that the message's own letters are not of. */
const OTHER_SCRIPT = /(?=\p{L})[^\p{Script=Latin}]/u;

/**
 * Ranks recipients by how likely something is wrong with their message. Takes them one by one and keeps the worst, and
 * those with the longest and the shortest values.
 */
export class RiskRanking {
  private readonly fields: JudgedField[];
  private kept: { index: number; score: number; reasons: RiskReason[] }[] = [];
  private least = 0;
  private longest = { index: -1, length: -1 };
  private shortest = { index: -1, length: Infinity };
  /** How many have each kind of risk. */
  readonly counts = new Map<Risk, number>();

  /**
   * @param uses fields of the message, each judged once
   * @param most how many are kept
   */
  constructor(
    uses: readonly FieldUse[],
    private readonly most: number,
  ) {
    // Of several uses of one field, the one that suffers most from a blank.
    const byKey = new Map<string, FieldUse>();
    for (const use of uses) {
      const other = byKey.get(use.key);
      if (!other || (use.fallback === null && !use.guarded)) byKey.set(use.key, use);
    }
    this.fields = [...byKey.values()].map(({ key, name, fallback, guarded }) => ({
      key,
      name: name.replaceAll('_', ' '),
      fallback,
      guarded,
      isName: NAMES.has(usualKey(key)),
      isCompany: usualKey(key) === 'company',
    }));
  }

  /** @param index place in the list, rising from call to call */
  take(index: number, values: Values): void {
    let score = 0;
    let length = 0;
    let reasons: RiskReason[] | null = null;
    for (const field of this.fields) {
      const value = valueOf(values, field.key) ?? '';
      length += value.length;
      for (const reason of judge(value, field)) {
        (reasons ??= []).push(reason);
        score += WEIGHTS[reason.risk];
      }
    }
    if (length > this.longest.length) this.longest = { index, length };
    if (length < this.shortest.length) this.shortest = { index, length };
    if (!reasons) return;
    for (const { risk } of reasons) this.counts.set(risk, (this.counts.get(risk) ?? 0) + 1);
    if (this.kept.length >= this.most && score <= this.least) return;
    this.kept.push({ index, score, reasons });
    if (this.kept.length >= this.most * 2) this.trim();
  }

  private trim(): void {
    this.kept.sort((a, b) => b.score - a.score || a.index - b.index);
    this.kept.length = Math.min(this.kept.length, this.most);
    this.least = this.kept.at(-1)?.score ?? 0;
  }

  /** The worst first; each kind of trouble is shown before a second one of its kind, for those of equal weight. */
  ranked(): RankedRisk[] {
    this.trim();
    const kept = this.kept.map((k) => ({ ...k, reasons: [...k.reasons] }));
    this.addExtreme(kept, this.longest.index, { risk: 'longest', words: 'the longest values' });
    if (this.shortest.index !== this.longest.index)
      this.addExtreme(kept, this.shortest.index, { risk: 'shortest', words: 'the shortest values' });
    const seen = new Map<Risk, number>();
    const turn = new Map(
      kept.map((k) => {
        const worst = worstOf(k.reasons);
        const n = seen.get(worst) ?? 0;
        seen.set(worst, n + 1);
        return [k.index, n];
      }),
    );
    // The first of every kind, then the second of every kind: six alike say no more than one.
    const of = (index: number) => turn.get(index) ?? 0;
    kept.sort((a, b) => of(a.index) - of(b.index) || b.score - a.score || a.index - b.index);
    return kept.map(({ index, reasons }) => ({
      index,
      reasons: reasons.sort((a, b) => WEIGHTS[b.risk] - WEIGHTS[a.risk]),
    }));
  }

  private addExtreme(
    kept: { index: number; score: number; reasons: RiskReason[] }[],
    index: number,
    reason: RiskReason,
  ) {
    if (index < 0) return;
    const there = kept.find((k) => k.index === index);
    if (there) there.reasons.push(reason);
    else kept.push({ index, score: WEIGHTS[reason.risk], reasons: [reason] });
  }
}

const worstOf = (reasons: readonly RiskReason[]): Risk =>
  reasons.reduce((a, b) => (WEIGHTS[b.risk] > WEIGHTS[a.risk] ? b : a)).risk;

const NONE: RiskReason[] = [];

function judge(raw: string, field: JudgedField): RiskReason[] {
  const value = raw.trim();
  if (value === '') return whenBlank(field);
  // Most values: a capital, small letters, spaces.
  if (ORDINARY.test(raw) && raw.length <= LONG && (!field.isCompany || !MAY_BE_FORM.test(raw))) return NONE;
  const out: RiskReason[] = [];
  const say = (risk: Risk, words: string) => out.push({ risk, words: `${field.name} ${words}` });
  if (BROKEN.test(value)) say('broken', `looks broken: ${quoted(value)}`);
  if (field.isName) judgeName(value, say);
  else if (isShouted(value) && value.length > 4) say('capitals', `is in capitals: ${quoted(value)}`);
  if (field.isCompany && withoutLegalForm(value) !== value)
    say('legal_form', `ends in its legal form: ${quoted(value)}`);
  if (raw !== value || /\s{2,}/.test(value)) say('spaces', 'has spaces too many');
  if (OTHER_SCRIPT.test(value)) say('script', `is in other letters: ${quoted(value)}`);
  if (value.length > LONG && field.key !== 'personalline') say('long', `is long: ${quoted(value)}`);
  return out;
}

const ORDINARY = /^[A-Z][a-z]+(?: [A-Z][a-z]+)*$/;
const MAY_BE_FORM = /[ ,](?:[A-Za-z]{2,4}|Limited|Incorporated)$/;

function whenBlank({ name, fallback, guarded }: JudgedField): RiskReason[] {
  // Nothing in its place was what the writer wanted.
  if (fallback === '') return NONE;
  if (fallback !== null) return [{ risk: 'fallback', words: `${name} is blank: ${quoted(fallback)}` }];
  if (guarded) return [{ risk: 'fallback', words: `${name} is blank` }];
  return [{ risk: 'empty', words: `${name} is blank and has no fallback` }];
}

function judgeName(value: string, say: (risk: Risk, words: string) => void): void {
  if (isNoName(value)) say('no_name', `is not a name: ${quoted(value)}`);
  else if (/\d/.test(value)) say('digits', `has digits: ${quoted(value)}`);
  else if (isShouted(value) && value.length > 2) say('capitals', `is in capitals: ${quoted(value)}`);
  else if (value === value.toLowerCase() && value !== value.toUpperCase())
    say('small', `is in small letters: ${quoted(value)}`);
  if (/[()[\]/\\|_*#=+;:"“”!?]|\.\.|,/.test(value)) say('odd', `has signs that names have not: ${quoted(value)}`);
}

const isShouted = (value: string): boolean =>
  LETTERS.test(value) && value === value.toUpperCase() && value !== value.toLowerCase();

const quoted = (value: string): string => `“${value.length > 40 ? `${value.slice(0, 39)}…` : value}”`;
