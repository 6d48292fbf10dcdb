import { nameIn, WORDS_OF_LIQUID } from './field-head';
import { opensQuote } from './split-tags';

/** A piece of a condition: a name of one or more words, or anything else. */
export interface ConditionPiece {
  text: string;
  name: string | null;
}

const KEYWORDS: ReadonlySet<string> = new Set([...WORDS_OF_LIQUID, 'and', 'or', 'not', 'contains']);

/** Splits a condition into names, which may have blanks in them, and what is between; nothing is lost. */
export function conditionPieces(condition: string): ConditionPiece[] {
  const pieces: ConditionPiece[] = [];
  let words = '';
  let blanks = '';
  const put = (text: string) => {
    if (words !== '') pieces.push({ text: words, name: nameIn(words) });
    if (blanks + text !== '') pieces.push({ text: blanks + text, name: null });
    [words, blanks] = ['', ''];
  };
  for (let at = 0; at < condition.length;) {
    const sign = condition[at] as string;
    if (/\s/.test(sign)) {
      blanks += sign;
      at++;
    } else if (opensQuote(condition, at)) {
      const close = condition.indexOf(sign, at + 1);
      const end = close < 0 ? condition.length : close + 1;
      put(condition.slice(at, end));
      at = end;
    } else if (/[=<>!()[\],:|]/.test(sign)) {
      const whole = /^(?:==|!=|<>|>=|<=|\|\|)/.exec(condition.slice(at, at + 2))?.[0] ?? sign;
      put(whole);
      at += whole.length;
    } else {
      let end = at + 1;
      while (end < condition.length && !/[\s=<>!()[\],:|"]/.test(condition[end] as string)) end++;
      const word = condition.slice(at, end);
      if (KEYWORDS.has(word)) put(word);
      else {
        // A field's name goes on over blanks.
        words += words === '' ? '' : blanks;
        if (words === '' && blanks !== '') pieces.push({ text: blanks, name: null });
        words += word;
        blanks = '';
      }
      at = end;
    }
  }
  put('');
  return pieces;
}

const COMPARISONS: ReadonlySet<string> = new Set(['==', '!=', '<>', '>=', '<=', '>', '<', '=', 'contains']);
const JOINED: ReadonlySet<string> = new Set(['and', 'or']);

/**
 * What is wrong with a condition that the engine would take and never find true, as a sentence; null where nothing is.
 *
 * @param pieces see {@link conditionPieces}
 */
export function conditionFault(pieces: readonly ConditionPiece[]): string | null {
  const told = pieces.map(({ text }) => text.trim()).filter((text) => text !== '');
  // A value, or what stands between two; the last one seen.
  let last = '';
  let isValue = false;
  for (const text of told) {
    if (/^[()[\],:|]$/.test(text) || text === 'not') return null;
    if (/^(["']).*[^"']$|^["']$/s.test(text)) return `the quotation mark in ${text} is not closed`;
    if (/&&|\|\|/.test(text)) return `“${text}” is no condition: write “and” or “or” between two`;
    const isSign = COMPARISONS.has(text) || JOINED.has(text);
    if (isSign && !isValue) return last === '' ? `nothing stands before “${text}”` : missing(last);
    if (!isSign && isValue)
      return `nothing compares ${quoted(last)} and ${quoted(text)}: write ==, !=, <, > or contains between them`;
    [last, isValue] = [text, !isSign];
  }
  return last === '' || isValue ? null : missing(last);
}

const missing = (sign: string): string => `nothing stands behind “${sign}”`;
const quoted = (text: string): string => (/^["']/.test(text) ? text : `“${text}”`);

/** A condition as the engine has it: one sign for each comparison, and what is empty is blank. */
export const asCompared = (piece: string): string => {
  const text = piece.trim();
  return text === '=' || text === 'empty' ? piece.replace(text, text === '=' ? '==' : 'blank') : piece;
};
