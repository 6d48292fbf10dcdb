import { Liquid, type Template as LiquidTemplate } from 'liquidjs';
import { DomainError } from '../errors';
import { usualKey } from '../people/import/columns/column-roles';
import { escapeHtml } from './escape-html';
import { fieldKey } from './field-name';
import { linkAddress } from './link-address';

/** One place of a template where a value is put in. */
export interface FieldUse {
  /** The field as written. */
  name: string;
  key: string;
  /** The fallback for a blank field; null if none was chosen. */
  fallback: string | null;
  /** Whether it is inside a condition that requires it, so that a blank value leaves no gap. */
  guarded: boolean;
  /** Half-open range in the source. */
  start: number;
  end: number;
}

export interface Template {
  readonly source: string;
  /** Output tags in order of the source. */
  readonly fields: readonly FieldUse[];
  /**
   * Puts values in.
   *
   * @param values by field key; blank or absent values count as blank. A field that is absent is looked for under
   *   its {@link usualKey} too.
   */
  render(values: Values): Rendered;
}

/** Values by field key: as they are, or looked for when they are met. */
export type Values = Readonly<Record<string, string>> | ((key: string) => string | undefined);

/** What a template makes: text as it is, or HTML, into which no value brings markup. */
export type TemplateKind = 'text' | 'html';

export interface Rendered {
  text: string;
  /** Fields met in this rendering that were blank and had no fallback, as written; their place is left empty. */
  blanks: string[];
}

/** Where a template does not parse. Offsets count UTF-16 units of the source. */
export interface TemplateFault {
  message: string;
  line: number;
  column: number;
  offset: number;
}

/** Limits against templates that never end: liquidjs counts nodes for time and characters for memory. */
const RENDER_LIMIT_MS = 1000;
const MEMORY_LIMIT = 5_000_000;
const PARSE_LIMIT = 500_000;

const ENGINES: Record<TemplateKind, Liquid> = { text: newEngine('text'), html: newEngine('html') };

function newEngine(kind: TemplateKind): Liquid {
  const engine = new Liquid({
    strictVariables: true,
    strictFilters: true,
    lenientIf: true,
    ownPropertyOnly: true,
    renderLimit: RENDER_LIMIT_MS,
    memoryLimit: MEMORY_LIMIT,
    parseLimit: PARSE_LIMIT,
    // No template may reach for another file.
    templates: {},
    ...(kind === 'html' ? { outputEscape: (value: unknown) => lines(escapeHtml(spoken(value))) } : {}),
  });
  // The language's own `raw` would let values bring in markup.
  engine.registerFilter('raw', (value: unknown) => value);
  engine.registerFilter('url_part', (value: unknown) => encodeURIComponent(spoken(value)));
  engine.registerFilter('url_whole', (value: unknown) => linkAddress(spoken(value)) ?? '');
  engine.registerFilter('picture', (value: unknown) => pictureAddress(spoken(value)));
  engine.registerFilter('one_line', (value: unknown) => spoken(value).replace(/\s+/g, ' ').trim());
  return engine;
}

const spoken = (value: unknown): string => (typeof value === 'string' ? value : value == null ? '' : String(value));
const lines = (html: string): string => (html.includes('\n') ? html.replaceAll(/\r?\n/g, '<br>\n') : html);

/** Pictures that come with the message are named by {@link namedPicture}; others are asked of their server. */
function pictureAddress(value: string): string {
  const name = value.trim();
  return /^https?:/i.test(name) ? (linkAddress(name) ?? '') : name === '' ? '' : namedPicture(name);
}

/** The Content-ID of a picture named by a column, with its scheme (RFC 2392). */
export const namedPicture = (fileName: string): string => `cid:named.${encodeURIComponent(fileName)}`;

/**
 * Reads a Liquid template whose field names are forgiving: `{{ First Name }}` and `{{ first_name }}` are one.
 *
 * Beside the filters of the language: `url_part` and `url_whole` for values in links, `picture` for the source of one,
 * `one_line`.
 *
 * @throws DomainError `template_invalid` with a {@link TemplateFault} as its cause
 */
export function compileTemplate(source: string, kind: TemplateKind = 'text'): Template {
  const fault = findFault(source);
  if (fault)
    throw new DomainError('template_invalid', `Line ${fault.line}, column ${fault.column}: ${fault.message}`, {
      cause: fault,
    });
  const joined = joinNames(source);
  const engine = ENGINES[kind];
  const parsed = engine.parse(joined);
  const names = engine.globalVariablesSync(parsed, { partials: false }).map((name) => ({ name, key: fieldKey(name) }));
  return { source, fields: listFields(source), render: (values) => render(engine, parsed, names, values) };
}

/** Says where a template does not parse, or null when it does. */
export function findFault(source: string): TemplateFault | null {
  // A field inside which another begins would parse, and swallow all the text in between.
  const swallows = unclosedField(source, 'swallows');
  if (swallows !== null) return faultAt(source, swallows, UNCLOSED(source.slice(swallows)));
  try {
    ENGINES.text.parse(joinNames(source));
    return null;
  } catch (error) {
    const open = unclosedField(source, 'breaks');
    return open === null ? faultOf(source, error) : faultAt(source, open, UNCLOSED(source.slice(open)));
  }
}

function render(
  engine: Liquid,
  parsed: LiquidTemplate[],
  names: readonly { name: string; key: string }[],
  values: Values,
): Rendered {
  const scope: Record<string, string> = {};
  for (const { name, key } of names) {
    const value = valueOf(values, key);
    if (value !== undefined && value.trim() !== '') scope[name] = value;
  }
  const blanks: string[] = [];
  for (;;) {
    try {
      return { text: engine.renderSync(parsed, scope) as string, blanks };
    } catch (error) {
      const missing = undefinedName(error);
      // A name is met at most once: it is in the scope from then on.
      if (missing === null || Object.hasOwn(scope, missing))
        throw new DomainError(
          'template_invalid',
          'The message could not be rendered: it takes too long or grows too large.',
          { cause: error },
        );
      blanks.push(missing.replaceAll('_', ' '));
      scope[missing] = '';
    }
  }
}

/** The field itself, else what the list keeps under the usual name for it. */
export function valueOf(values: Values, key: string): string | undefined {
  const of = typeof values === 'function' ? values : (k: string) => (Object.hasOwn(values, k) ? values[k] : undefined);
  return of(key) ?? of(usualKey(key));
}

interface LiquidFailure {
  name?: string;
  originalError?: LiquidFailure;
  variableName?: string;
  message?: string;
  token?: { begin?: number; input?: string };
}

function undefinedName(error: unknown): string | null {
  for (let e = error as LiquidFailure | undefined; e; e = e.originalError) {
    if (e.variableName) return e.variableName.split('.')[0] as string;
  }
  return null;
}

/**
 * Where a field begins that is not closed: the parser finds that only later, where the next one ends, if at all.
 *
 * @param how `swallows`: another field begins before this one ends; `breaks`: the line ends before it does, or the text
 */
function unclosedField(source: string, how: 'swallows' | 'breaks'): number | null {
  for (let at = source.indexOf('{{'); at >= 0;) {
    const close = source.indexOf('}}', at + 2);
    const end = source.indexOf(how === 'swallows' ? '{{' : '\n', at + 2);
    // Text in quotation marks is a literal.
    const isText = (source.slice(at, end).match(/["']/g)?.length ?? 0) % 2 === 1;
    if (end >= 0 && end < close && !isText) return at;
    if (close < 0) return how === 'breaks' ? at : null;
    at = source.indexOf('{{', close + 2);
  }
  return null;
}

const nearIn = (rest: string): string => rest.slice(0, 30).split('\n')[0] as string;
const UNCLOSED = (rest: string): string => `a field opened with {{ is not closed with }} (“${nearIn(rest)}”)`;

function faultAt(source: string, offset: number, message: string): TemplateFault {
  const before = source.slice(0, offset).split('\n');
  return { message, line: before.length, column: (before.at(-1) as string).length + 1, offset };
}

function faultOf(source: string, error: unknown): TemplateFault {
  const failure = error as LiquidFailure;
  const offset = Math.min(failure.token?.begin ?? 0, source.length);
  const said = (failure.originalError?.message ?? failure.message ?? 'it does not parse')
    .replace(/, line:\d+.*$/s, '')
    .split('\n')[0] as string;
  return faultAt(source, offset, inWords(said, source.slice(offset)));
}

function inWords(said: string, rest: string): string {
  const near = nearIn(rest);
  if (/output .* not closed/.test(said)) return UNCLOSED(rest);
  if (/tag .* not closed/.test(said)) return `“${near}” is not closed`;
  return `${said} (“${near}”)`;
}

/** An output tag: up to the first filter outside quotes. */
const OUTPUT = /\{\{-?((?:"[^"]*"|'[^']*'|(?!\}\})[^"'])*?)-?\}\}/gs;

/** Puts underscores for the spaces inside field names; lengths stay, so offsets stay true. */
function joinNames(source: string): string {
  return source.replace(OUTPUT, (tag: string, inner: string) => {
    const head = /^\s*([^|"'[\].]*)/.exec(inner)?.[1] ?? '';
    const name = head.trimEnd();
    if (!/^[\p{L}_][\p{L}\p{N}_ -]*$/u.test(name) || !/[ -]/.test(name)) return tag;
    return tag.replace(name, name.replace(/[ -]/g, '_'));
  });
}

/** Output tags of a source in order, whether or not the whole parses. */
export function listFields(source: string): FieldUse[] {
  const guards = source.includes('{%') ? guardsOf(source) : [];
  return [...source.matchAll(OUTPUT)].flatMap((m) => {
    const inner = m[1] as string;
    const name = (inner.split('|')[0] as string).trim();
    if (!/^[\p{L}_][\p{L}\p{N}_ -]*$/u.test(name)) return [];
    const fallback = /\|\s*default:\s*(?:"([^"]*)"|'([^']*)')/.exec(inner);
    const key = fieldKey(name);
    return [
      {
        name,
        key,
        fallback: fallback ? (fallback[1] ?? fallback[2] ?? '') : null,
        guarded: guards.some((g) => g.key === key && m.index > g.start && m.index < g.end),
        start: m.index,
        end: m.index + m[0].length,
      },
    ];
  });
}

const CONDITION = /\{%-?\s*(if|unless|elsif|else|endif|endunless|case|endcase)\b\s*([\s\S]*?)-?%\}/g;

/** Where a field is known to be filled: from `{% if field %}` to the branch's end. */
function guardsOf(source: string): { key: string; start: number; end: number }[] {
  const out: { key: string; start: number; end: number }[] = [];
  const open: { key: string; start: number }[] = [];
  const close = (end: number) => {
    const branch = open.pop();
    if (branch && branch.key !== '') out.push({ ...branch, end });
  };
  for (const m of source.matchAll(CONDITION)) {
    const [, tag, condition = ''] = m;
    if (tag === 'elsif' || tag === 'else' || tag?.startsWith('end')) close(m.index);
    if (tag?.startsWith('end')) continue;
    // A field alone, or compared to something that is not blank.
    const name = /^([\p{L}_][\p{L}\p{N}_-]*)\s*(?:$|!=\s*(?:""|''|blank|empty|nil)\s*$)/u.exec(condition.trim())?.[1];
    const guards = (tag === 'if' || tag === 'elsif') && name !== undefined;
    open.push({ key: guards ? fieldKey(name) : '', start: m.index });
  }
  return out;
}

/**
 * Gives uses of a field a fallback, or none.
 *
 * @param key as {@link fieldKey} makes it
 * @param which every use, or only those without a fallback of their own
 * @param fallback '' takes the fallback away; double quotes in it become typographic ones, which Liquid text can hold
 */
export function setFallback(source: string, key: string, fallback: string, which: 'all' | 'missing'): string {
  const text = fallback.replaceAll('"', '”');
  let out = '';
  let at = 0;
  for (const use of listFields(source)) {
    const tag = source.slice(use.start, use.end);
    out += source.slice(at, use.start);
    at = use.end;
    if (use.key !== key || (which === 'missing' && use.fallback !== null)) out += tag;
    else if (use.fallback !== null)
      out += tag.replace(/\s*\|\s*default:\s*(?:"[^"]*"|'[^']*')/, () => (text === '' ? '' : ` | default: "${text}"`));
    else out += text === '' ? tag : tag.replace(/\s*(-?\}\})$/, (_, end: string) => ` | default: "${text}" ${end}`);
  }
  return out + source.slice(at);
}
