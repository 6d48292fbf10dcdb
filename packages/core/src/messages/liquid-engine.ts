import { defaultOperators, filters, Liquid, type Context } from 'liquidjs';
import { dateReader } from '../people/import/columns/read-dates';
import { numberOf } from '../people/list/list-columns';
import { COMPARED, NOTE_BLANK } from './engine-source';
import { escapeHtml } from './escape-html';
import { linkAddress } from './link-address';

/** What a template makes: text as it is, or HTML, into which no value brings markup. */
export type TemplateKind = 'text' | 'html';

/** Limits against templates that never end: liquidjs counts nodes for time and characters for memory. */
const RENDER_LIMIT_MS = 1000;
const MEMORY_LIMIT = 5_000_000;
/** Characters of a template. */
export const MOST_TEMPLATE = 500_000;

/** What was noted while a template was filled in: blank fields, and sentences about values that cannot be used. */
export const noted = (context: Context, what: 'blanks' | 'faults'): Set<string> =>
  context.getRegister(what, new Set<string>()) as Set<string>;

/** What a filter is called with. */
interface FilterThis {
  context: Context;
}

function newEngine(kind: TemplateKind): Liquid {
  const engine = new Liquid({
    strictVariables: true,
    strictFilters: true,
    lenientIf: true,
    ownPropertyOnly: true,
    renderLimit: RENDER_LIMIT_MS,
    memoryLimit: MEMORY_LIMIT,
    parseLimit: 2 * MOST_TEMPLATE,
    // No template may reach for another file.
    templates: {},
    operators: LIKE_NUMBERS,
    ...(kind === 'html' ? { outputEscape: (value: unknown) => lines(escapeHtml(spoken(value))) } : {}),
  });
  // The language's own `raw` would let values bring in markup.
  engine.registerFilter('raw', (value: unknown) => value);
  engine.registerFilter('url_part', (value: unknown) => encoded(spoken(value)));
  // In `mailto:` and `tel:` (RFC 6068 and RFC 3966) these signs stand for themselves.
  engine.registerFilter('url_mailto', (value: unknown) => encoded(spoken(value).trim()).replaceAll('%40', '@'));
  engine.registerFilter('url_tel', (value: unknown) => spoken(value).replace(/[^\d+*#]/g, ''));
  engine.registerFilter('url_whole', function (this: FilterThis, value: unknown) {
    return wholeAddress(this.context, spoken(value).trim());
  });
  engine.registerFilter('picture', (value: unknown) => pictureAddress(spoken(value)));
  engine.registerFilter('one_line', (value: unknown) => spoken(value).replace(/\s+/g, ' ').trim());
  engine.registerFilter('date', dateFilter);
  engine.registerFilter(COMPARED, (value: unknown) => (typeof value === 'string' ? new ComparedValue(value) : value));
  engine.registerFilter(NOTE_BLANK, function (this: FilterThis, value: unknown, name: string) {
    if (value == null || value === '') noted(this.context, 'blanks').add(name);
    return value ?? '';
  });
  return engine;
}

const spoken = (value: unknown): string => (typeof value === 'string' ? value : value == null ? '' : String(value));
const lines = (html: string): string => (html.includes('\n') ? html.replaceAll(/\r?\n/g, '<br>\n') : html);

/** Percent-encoded (RFC 3986 2.1), an apostrophe too; half a letter, as cut texts end with, is shown as unknown. */
const encoded = (text: string): string =>
  encodeURIComponent(text.replace(/\p{Surrogate}/gu, '\ufffd')).replaceAll("'", '%27');

/** The address that a value is, or '' with a sentence noted. */
function wholeAddress(context: Context, value: string): string {
  const address = linkAddress(value);
  if (address === null && value !== '')
    noted(context, 'faults').add(`“${value.slice(0, 80)}” is no address that a link may lead to`);
  return address ?? '';
}

/** Pictures that come with the message are named by {@link namedPicture}; others are asked of their server. */
function pictureAddress(value: string): string {
  const name = value.trim();
  return /^https?:/i.test(name) ? (linkAddress(name) ?? '') : name === '' ? '' : namedPicture(name);
}

/** The Content-ID of a picture named by a column, with its scheme (RFC 2392). */
export const namedPicture = (fileName: string): string => `cid:named.${encoded(fileName)}`;

const readDay = dateReader([]);
/** A moment, with its time and zone. */
const MOMENT = /\d{4}-\d\d-\d\dT\d\d:\d\d.*(?:Z|[+-]\d\d:?\d\d)$/;

/** A day of the calendar is the same day everywhere: it is not moved by the zone of anything. */
function dateFilter(this: FilterThis, value: unknown, ...given: unknown[]): unknown {
  const text = spoken(value).trim();
  const day = MOMENT.test(text) ? null : readDay(text);
  const written: unknown[] = day === null ? [value, ...given] : [`${day}T00:00:00Z`, given[0], 'UTC'];
  return (filters['date'] as unknown as (this: FilterThis, ...args: unknown[]) => unknown).apply(this, written);
}

/** A value as a number in a comparison; null where it is none, as a post code that begins with 0. */
function comparedNumber(value: unknown): number | null {
  if (typeof value === 'number') return value;
  return typeof value === 'string' && !/^\s*\+?0\d/.test(value) ? numberOf(value) : null;
}

type Operator = (l: unknown, r: unknown, context: Context) => ReturnType<(typeof defaultOperators)[string]>;

/** Comparisons that take numbers as lists do: `1 200,50` is more than `9`, and equal to `1200.5`. */
const LIKE_NUMBERS = {
  ...defaultOperators,
  '==': likeNumbers('==', (a, b) => a === b),
  '!=': likeNumbers('!=', (a, b) => a !== b),
  '>': likeNumbers('>', (a, b) => a > b),
  '<': likeNumbers('<', (a, b) => a < b),
  '>=': likeNumbers('>=', (a, b) => a >= b),
  '<=': likeNumbers('<=', (a, b) => a <= b),
};

function likeNumbers(sign: string, holds: (a: number, b: number) => boolean): Operator {
  const otherwise = defaultOperators[sign] as Operator;
  return (l, r, context) => {
    const [a, b] = [comparedNumber(l), comparedNumber(r)];
    return a !== null && b !== null ? holds(a, b) : otherwise(l, r, context);
  };
}

/** A value that `case` compares: what Liquid's engine takes for one that knows how. */
class ComparedValue {
  constructor(private readonly text: string) {}

  toString(): string {
    return this.text;
  }

  equals(other: unknown): boolean {
    const [a, b] = [comparedNumber(this.text), comparedNumber(other)];
    return a !== null && b !== null ? a === b : this.text === other;
  }

  readonly gt = (): boolean => false;
  readonly geq = (): boolean => false;
  readonly lt = (): boolean => false;
  readonly leq = (): boolean => false;
}

export const ENGINES: Readonly<Record<TemplateKind, Liquid>> = { text: newEngine('text'), html: newEngine('html') };
