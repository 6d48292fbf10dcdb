import { opensQuote } from './split-tags';

/** Words of Liquid that are no field's name. */
const WORDS_OF_LIQUID: ReadonlySet<string> = new Set(['true', 'false', 'nil', 'null', 'empty', 'blank']);
/** What has a meaning in Liquid, and so can be in no name. */
const SIGNS = /["{}[\]<>=|]|^[('-]|\.\./;
/** A value's part, or a list's item: `a.b`, `a[0]`. */
const PATH = /^[\p{L}_][\p{L}\p{N}_-]*(?:\.[\p{L}_][\p{L}\p{N}_-]*)+\??$/u;
const NUMBER = /^-?\d+(?:\.\d+)?$/;
/** A longer name is none. */
const MOST_NAME = 200;

/**
 * The name of a column where an expression is nothing else, as it stands in a sheet: `given name`, `City/Town`,
 * `Customer's name`, `2nd name`; null for any other expression of Liquid.
 */
export function nameIn(expression: string): string | null {
  const name = expression.trim();
  if (name === '' || name.length > MOST_NAME || SIGNS.test(name) || !/\p{L}/u.test(name)) return null;
  return WORDS_OF_LIQUID.has(name) || PATH.test(name) || NUMBER.test(name) ? null : name;
}

/** What is between the braces of a tag: without the signs that take blanks away around it. */
export interface TagParts {
  /** `{{`, `{{-`, `{%` or `{%-`. */
  open: string;
  inner: string;
  close: string;
}

export function tagParts(tag: string): TagParts {
  const open = tag[2] === '-' ? 3 : 2;
  const close = tag.length > open + 2 && tag.at(-3) === '-' ? 3 : 2;
  return { open: tag.slice(0, open), inner: tag.slice(open, tag.length - close), close: tag.slice(-close) };
}

/** An expression and the filters behind it; these begin with the bar, or are ''. */
export function splitFilters(inner: string): { head: string; filters: string } {
  const at = indexOutside(inner, '|');
  return at < 0 ? { head: inner, filters: '' } : { head: inner.slice(0, at), filters: inner.slice(at) };
}

/** Where a sign first stands outside of quotes; -1 for nowhere. */
function indexOutside(text: string, sign: string): number {
  for (let at = 0; at < text.length; at++) {
    if (text[at] === sign) return at;
    if (!opensQuote(text, at)) continue;
    const close = text.indexOf(text[at] as string, at + 1);
    if (close < 0) return -1;
    at = close;
  }
  return -1;
}

/** The fallback among some filters; null where there is none. */
export function fallbackIn(filters: string): string | null {
  const fallback = /\|\s*default:\s*(?:"([^"]*)"|'([^']*)')/.exec(filters);
  return fallback ? (fallback[1] ?? fallback[2] ?? '') : null;
}

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
      put(sign);
      at++;
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

const TAG = /^\s*(\w+)([\s\S]*)$/;

/** A tag's name and what is behind it. */
export function tagName(inner: string): { name: string; rest: string } {
  const m = TAG.exec(inner);
  return { name: m?.[1] ?? '', rest: m?.[2] ?? '' };
}
