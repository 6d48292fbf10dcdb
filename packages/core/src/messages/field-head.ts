import { opensQuote } from './split-tags';

/** Words of Liquid that are no field's name. */
export const WORDS_OF_LIQUID: ReadonlySet<string> = new Set(['true', 'false', 'nil', 'null', 'empty', 'blank']);
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

/** Like {@link nameIn}, where a value is put in: a number or a word of Liquid alone can be but the name of a column there. */
export function outputNameIn(expression: string): string | null {
  const name = expression.trim();
  return WORDS_OF_LIQUID.has(name) || /^\d+$/.test(name) ? name : nameIn(expression);
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
  return at < 0 ? { head: inner, filters: '' } : { head: inner.slice(0, at), filters: straightQuotes(inner.slice(at)) };
}

/** Texts in quotation marks, and those in typographic ones where only a text can stand. */
const QUOTED = /"[^"]*"|'[^']*'|((?:[:,=<>]|\b(?:contains|and|or|when))\s*)[“„«]([^“”„«»"]*)[“”»]/g;

/** Typographic quotation marks around a text, as word processors and phones write them, as Liquid has them. */
export const straightQuotes = (text: string): string =>
  /[“„«]/.test(text)
    ? text.replace(QUOTED, (whole, before?: string, quoted = '') =>
        before === undefined ? whole : `${before}"${quoted}"`,
      )
    : text;

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

/**
 * The column whose value is the fallback among some filters (`| default: given name`), and the filters with another word
 * for it; null where there is none.
 */
export function otherFallbackIn(filters: string): { name: string; with(word: string): string } | null {
  const before = /\|\s*default:/.exec(filters);
  if (!before) return null;
  const from = before.index + before[0].length;
  const bar = filters.indexOf('|', from);
  const written = filters.slice(from, bar < 0 ? undefined : bar);
  const name = /["':,]/.test(written) ? null : nameIn(written);
  if (name === null) return null;
  return { name, with: (word) => `${filters.slice(0, from)} ${word} ${bar < 0 ? '' : filters.slice(bar)}` };
}

/** The text that is the fallback among some filters; null where there is none. */
export function fallbackIn(filters: string): string | null {
  const fallback = /\|\s*default:\s*(?:"([^"]*)"|'([^']*)')/.exec(filters);
  return fallback ? (fallback[1] ?? fallback[2] ?? '') : null;
}

const TAG = /^\s*(\w+)([\s\S]*)$/;

/** A tag's name and what is behind it. */
export function tagName(inner: string): { name: string; rest: string } {
  const m = TAG.exec(inner);
  return { name: m?.[1] ?? '', rest: m?.[2] ?? '' };
}
