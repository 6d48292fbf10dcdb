import { DomainError } from '../../../errors';
import type { RowAside, Table, TableRow } from './table';
import { tableOfRows } from './table-of-rows';

/** Looks like JSON lines: the first line that is not blank is an object. */
export function isJsonLines(text: string): boolean {
  if (!/^\s*\{\s*"/.test(text.slice(0, 1000))) return false;
  const line = /\S[^\r\n]*/.exec(text)?.[0] ?? '';
  return parse(line) !== null;
}

/** Looks like one JSON value: a list of objects, or an object that goes on over several lines. */
export const isJson = (text: string): boolean => /^\s*(?:\[\s*\{|\{\s*")/.test(text.slice(0, 1000));

/**
 * Reads a JSON list of objects, or the first one inside an object: a row each, as {@link readJsonLines}. Their lines are
 * their places in the list.
 *
 * @throws DomainError `invalid` for what does not parse, or holds no list of objects
 */
export function readJson(text: string): Table {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    throw new DomainError(
      'invalid',
      'This begins as JSON does, but it does not parse: it is cut off or has a sign too many. Expected a list of objects, one per person.',
      { cause: error },
    );
  }
  const list = listIn(value, 0);
  if (list === null)
    throw new DomainError('invalid', 'This JSON holds no list of objects. Expected one object per person.');
  return tableOfObjects(
    list.map((object, i) => ({
      line: i + 1,
      object: isObject(object) ? object : null,
      shown: JSON.stringify(object) ?? '',
    })),
  );
}

/** The first list of objects, not deeper than {@link MAX_DEPTH}. */
function listIn(value: unknown, depth: number): unknown[] | null {
  if (Array.isArray(value)) return value.some(isObject) ? value : null;
  if (!isObject(value) || depth > MAX_DEPTH) return null;
  for (const inner of Object.values(value)) {
    const list = listIn(inner, depth + 1);
    if (list) return list;
  }
  return null;
}

/** The values of a line under the names of a table's columns; a key without a column is skipped. */
export function jsonLineCells(line: string, header: readonly string[]): string[] | null {
  const object = parse(line);
  if (object === null) return null;
  const values = new Map<string, string>();
  flatten('', object, values);
  return header.map((name) => values.get(name) ?? '');
}

/**
 * Reads JSON lines: an object a line, whose keys are the columns; lists are joined with commas, objects inside keep
 * their key with a dot. A line that is not an object is set aside.
 */
export function readJsonLines(text: string): Table {
  return tableOfObjects(
    text
      .split(/\r?\n/)
      .flatMap((shown, i) => (shown.trim() === '' ? [] : [{ line: i + 1, object: parse(shown), shown }])),
  );
}

interface ObjectRow {
  line: number;
  /** Null for what is no object. */
  object: Record<string, unknown> | null;
  shown: string;
}

function tableOfObjects(objects: readonly ObjectRow[]): Table {
  const columns = new Map<string, number>();
  const people: { line: number; values: Map<string, string> }[] = [];
  const aside: RowAside[] = [];
  for (const { line, object, shown } of objects) {
    if (object === null) {
      aside.push({ line, cells: [shown.slice(0, 200)], reason: NO_OBJECT });
      continue;
    }
    const values = new Map<string, string>();
    flatten('', object, values);
    for (const key of values.keys()) if (!columns.has(key)) columns.set(key, columns.size);
    people.push({ line, values });
  }
  const names = [...columns.keys()];
  const rows: TableRow[] = people.map((p) => ({ line: p.line, cells: names.map((n) => p.values.get(n) ?? '') }));
  // The keys are the header, whatever they look like.
  return { ...tableOfRows([{ line: 0, cells: names }, ...rows], aside), headerLine: null };
}

export const NO_OBJECT = 'The line is not a JSON object';

function parse(line: string): Record<string, unknown> | null {
  try {
    const value: unknown = JSON.parse(line);
    return isObject(value) ? value : null;
  } catch {
    return null;
  }
}

const isObject = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** Deeper than this an object is not a row of a table, and is written as it is. */
const MAX_DEPTH = 3;

function flatten(prefix: string, object: Record<string, unknown>, out: Map<string, string>, depth = 0): void {
  for (const [key, value] of Object.entries(object)) {
    const name = prefix === '' ? key : `${prefix}.${key}`;
    if (typeof value === 'object' && value !== null && !Array.isArray(value) && depth < MAX_DEPTH)
      flatten(name, value as Record<string, unknown>, out, depth + 1);
    else out.set(name, textOf(value));
  }
}

function textOf(value: unknown): string {
  if (value === null || value === undefined) return '';
  if (Array.isArray(value)) return value.map(textOf).join(', ');
  return typeof value === 'object' ? JSON.stringify(value) : String(value as string | number | boolean);
}
