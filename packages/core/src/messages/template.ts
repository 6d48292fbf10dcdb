import { Context, type Liquid, type Template as LiquidTemplate } from 'liquidjs';
import { DomainError } from '../errors';
import { usualKey } from '../people/import/columns/column-roles';
import { engineSource, ownNames, type EngineSource, type NamedField } from './engine-source';
import { conditionPieces } from './condition';
import { fallbackIn, outputNameIn, splitFilters, tagName, tagParts } from './field-head';
import { fieldKey } from './field-name';
import { ENGINES, MOST_TEMPLATE, noted, type TemplateKind } from './liquid-engine';
import { liveTags } from './live-tags';
import { findTags, type Tag } from './split-tags';
import { usedNames } from './used-names';

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
   * Puts values in. Never throws: what one person's values make impossible is a fault of that rendering.
   *
   * @param values by field key; blank or absent values count as blank. A field that is absent is looked for under
   *   its {@link usualKey} too.
   */
  render(values: Values): Rendered;
}

/** Values by field key: as they are, or looked for when they are met. */
export type Values = Readonly<Record<string, string>> | ValueFinder;

export interface ValueFinder {
  (key: string): string | undefined;
  /** What was blank or wrong inside the values themselves that were looked for so far, as in a signature. */
  inner?: Pick<Rendered, 'blanks' | 'faults'>;
}

export interface Rendered {
  text: string;
  /** Fields met in this rendering that were blank and had no fallback, as written; their place is left empty. */
  blanks: string[];
  /** What keeps this rendering from being used, such as a link that must not lead where a value says. */
  faults: string[];
}

/** Where a template does not parse. Offsets count UTF-16 units of the source. */
export interface TemplateFault {
  message: string;
  line: number;
  column: number;
  offset: number;
}

/**
 * Reads a Liquid template whose field names are forgiving: `{{ First Name }}` and `{{ first_name }}` are one, and a
 * column's name may be as it stands in the sheet: `{{ Customer's name }}`, `{% if City/Town %}`.
 *
 * Beside the filters of the language: `url_part` and `url_whole` for values in links, `picture` for the source of one,
 * `one_line`.
 *
 * @throws DomainError `template_invalid` with a {@link TemplateFault} as its cause
 */
export function compileTemplate(source: string, kind: TemplateKind = 'text'): Template {
  const read = readTemplate(source, kind);
  if ('fault' in read) {
    const { fault } = read;
    throw new DomainError('template_invalid', `Line ${fault.line}, column ${fault.column}: ${fault.message}`, {
      cause: fault,
    });
  }
  const { parsed, fields } = read;
  return { source, fields: listFields(source), render: (values) => render(ENGINES[kind], parsed, fields, values) };
}

/** Says where a template does not parse, or null when it does. */
export function findFault(source: string): TemplateFault | null {
  const read = readTemplate(source, 'text');
  return 'fault' in read ? read.fault : null;
}

interface ParsedTemplate {
  parsed: LiquidTemplate[];
  fields: readonly TemplateField[];
}

/** A field with the word that the engine has for it. */
interface TemplateField extends NamedField {
  word: string;
  /** Whether the template itself notes that it is blank; otherwise the engine stumbles over it. */
  isNoted: boolean;
}

function readTemplate(source: string, kind: TemplateKind): ParsedTemplate | { fault: TemplateFault } {
  if (source.length > MOST_TEMPLATE) return { fault: faultAt(source, MOST_TEMPLATE, TOO_LONG) };
  const tags = findTags(source);
  const tooMany = tags[MOST_TAGS];
  if (tooMany) return { fault: faultAt(source, tooMany.start, TOO_MANY) };
  // A field inside which another begins would parse, and swallow all the text in between.
  const swallows = unclosedField(source, 'swallows');
  if (swallows !== null) return { fault: faultAt(source, swallows, UNCLOSED(source.slice(swallows))) };
  const written = engineSource(source, tags);
  try {
    const parsed = ENGINES[kind].parse(written.text);
    const used = usedNames(written.text);
    const own = ownNames(source);
    const part = used.find(([name = '', ...parts]) => parts.length > 0 && parts[0] !== 'size' && !own.has(name));
    if (part) return { fault: partFault(source, part) };
    const others = used
      .map(([word = '']) => word)
      .filter((word) => !written.fields.has(word))
      .map((word) => ({ word, name: word.replaceAll('_', ' '), key: fieldKey(word), isNoted: false }));
    if (written.fault) return { fault: faultAt(source, written.fault.offset, written.fault.message) };
    const named = [...written.fields].map(([word, field]) => ({ ...field, word, isNoted: true }));
    return { parsed, fields: [...named, ...others] };
  } catch (error) {
    const open = unclosedField(source, 'breaks');
    if (open !== null) return { fault: faultAt(source, open, UNCLOSED(source.slice(open))) };
    const { fault } = written;
    return { fault: fault ? faultAt(source, fault.offset, fault.message) : faultOf(source, written, error) };
  }
}

/** Fields and conditions of a template; no message has so many. */
const MOST_TAGS = 3000;
const TOO_MANY = `the text has more than ${MOST_TAGS.toLocaleString('en')} fields and conditions`;
const TOO_LONG = `the text has more than ${MOST_TEMPLATE.toLocaleString('en')} letters`;

function partFault(source: string, [field = '', ...parts]: readonly string[]): TemplateFault {
  const path = [field, ...parts].join('.');
  const message = `${path}: ${field} is text and has no part “${parts[0]}”; if “${path}” is a column, insert it as a field`;
  return faultAt(source, Math.max(0, source.indexOf(path)), message);
}

/** Blank values met where none may be, beside those that are noted: each is found by another rendering. */
const MOST_ATTEMPTS = 50;

function render(engine: Liquid, parsed: LiquidTemplate[], fields: ParsedTemplate['fields'], values: Values): Rendered {
  const scope = Object.create(null) as Record<string, string | null>;
  for (const { word, key, isNoted } of fields) {
    const value = valueOf(values, key);
    if (value !== undefined && value.trim() !== '') scope[word] = value;
    else if (isNoted) scope[word] = null;
  }
  const blanks = new Set<string>();
  for (let attempt = 0; ; attempt++) {
    const context = new Context(scope, engine.options, { sync: true });
    try {
      const text = engine.renderSync(parsed, context) as string;
      for (const name of noted(context, 'blanks')) blanks.add(name);
      return { text, blanks: [...blanks], faults: [...noted(context, 'faults')] };
    } catch (error) {
      const missing = undefinedName(error);
      const field = missing === null || missing in scope ? undefined : fields.find(({ word }) => word === missing);
      if (!field || attempt >= MOST_ATTEMPTS)
        return { text: '', blanks: [...blanks], faults: [whyNotRendered(error, missing)] };
      blanks.add(field.name);
      scope[field.word] = '';
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
  for (let e = error as LiquidFailure | undefined; e; e = e.originalError) if (e.variableName) return e.variableName;
  return null;
}

/** Why a template cannot be filled in for somebody. */
function whyNotRendered(error: unknown, missing: string | null): string {
  const said = saidBy(error as LiquidFailure);
  const zone = /invalid time ?zone(?: specified)?:? (.*)/i.exec(said)?.[1];
  let why = said;
  if (missing !== null) why = `“${missing.replaceAll('_', ' ')}” has no value`;
  else if (zone !== undefined) why = `${zone} is no time zone`;
  else if (/limit exceeded/.test(said)) why = 'it takes too long or grows too large';
  return `The message could not be filled in: ${why}`;
}

/** What the engine said, without where it stood. */
function saidBy(failure: LiquidFailure): string {
  let last = failure;
  while (last.originalError) last = last.originalError;
  return (last.message ?? 'it does not parse').replace(/, line:\d+.*$/s, '').split('\n')[0] as string;
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
    if (end >= 0 && end < close) {
      // Text in quotation marks is a literal.
      const isText = (source.slice(at, end).match(/["']/g)?.length ?? 0) % 2 === 1;
      if (!isText) return at;
    }
    if (close < 0) return how === 'breaks' || (end >= 0 && how === 'swallows') ? at : null;
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

function faultOf(source: string, written: EngineSource, error: unknown): TemplateFault {
  const failure = error as LiquidFailure;
  const offset = Math.min(written.placeOf(failure.token?.begin ?? 0), source.length);
  return faultAt(source, offset, inWords(saidBy(failure), source.slice(offset)));
}

function inWords(said: string, rest: string): string {
  const near = nearIn(rest);
  const noField = /^invalid value expression: "(.*)"$/.exec(said)?.[1];
  if (noField !== undefined)
    return noField.trim() === ''
      ? 'a field or a condition is opened, and nothing is in it'
      : `“${noField}” is no field`;
  const tag = /^tag "(.*)" not found$/.exec(said)?.[1];
  if (tag !== undefined)
    return /^(?:end|els|when)/.test(tag)
      ? `{% ${tag} %} ends or divides nothing that was begun before it`
      : `“${tag}” is no tag that Baton knows`;
  const filter = /^undefined filter: (.*)$/.exec(said)?.[1];
  if (filter !== undefined) return `“${filter}” is no filter that Baton knows`;
  if (/output .* not closed/.test(said)) return UNCLOSED(rest);
  if (/tag .* not closed/.test(said)) return `“${near}” is not closed`;
  return `${said} (“${near}”)`;
}

/** Output tags of a source in order, whether or not the whole parses. */
export function listFields(source: string): FieldUse[] {
  const tags = findTags(source);
  const guards = source.includes('{%') ? guardsOf(source, tags) : new Map<string, Range[]>();
  const own = ownNames(source);
  return [...liveTags(source, tags)].flatMap(({ start, end, isOutput }) => {
    if (!isOutput) return [];
    const { head, filters } = splitFilters(tagParts(source.slice(start, end)).inner);
    const name = outputNameIn(head);
    if (name === null || own.has(name)) return [];
    const key = fieldKey(name);
    const guarded = guards.get(key)?.some((g) => start > g.start && start < g.end) === true;
    return [{ name, key, fallback: fallbackIn(filters), guarded, start, end }];
  });
}

/** Fields that a source asks of and does not put in: those of its conditions, and other columns as fallbacks. */
export function askedFields(source: string): NamedField[] {
  const tags = findTags(source);
  const put = new Set(listFields(source).map((use) => use.key));
  return [...engineSource(source, tags).fields.values()].filter(({ key }) => !put.has(key));
}

interface Range {
  start: number;
  end: number;
}

const OPENING: ReadonlySet<string> = new Set(['if', 'unless', 'case']);
const TURNING: ReadonlySet<string> = new Set(['elsif', 'else']);

/** Where fields are known to be filled, by key: from `{% if field %}` to the branch's end. */
function guardsOf(source: string, tags: readonly Tag[]): Map<string, Range[]> {
  const out = new Map<string, Range[]>();
  const open: { key: string; start: number }[] = [];
  const close = (end: number) => {
    const branch = open.pop();
    if (!branch || branch.key === '') return;
    const ranges = out.get(branch.key) ?? [];
    ranges.push({ start: branch.start, end });
    out.set(branch.key, ranges);
  };
  for (const { start, end, isOutput } of tags) {
    if (isOutput) continue;
    const { name, rest } = tagName(tagParts(source.slice(start, end)).inner);
    if (TURNING.has(name)) close(start);
    if (name.startsWith('end') && OPENING.has(name.slice(3))) close(start);
    if (OPENING.has(name) || TURNING.has(name))
      open.push({ key: name === 'if' || name === 'elsif' ? guardedKey(rest) : '', start });
  }
  return out;
}

/** The field that a condition finds filled: one alone, or compared to something that is not blank; '' for none. */
function guardedKey(condition: string): string {
  const pieces = conditionPieces(condition.replace(/!=\s*(?:""|''|blank|empty|nil)\s*$/, ''));
  const told = pieces.filter(({ text }) => text.trim() !== '');
  const name = told.length === 1 ? told[0]?.name : null;
  return name == null ? '' : fieldKey(name);
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
      out += tag.replace(/\s*\|\s*default:\s*(?:"[^"]*"|'[^']*'|[“„«][^“”„«»"]*[“”»])/, () =>
        text === '' ? '' : ` | default: "${text}"`,
      );
    else out += text === '' ? tag : tag.replace(/\s*(-?\}\})$/, (_, end: string) => ` | default: "${text}" ${end}`);
  }
  return out + source.slice(at);
}
