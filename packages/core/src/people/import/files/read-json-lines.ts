import type { RowAside, Table, TableRow } from './table';
import { tableOfRows } from './table-of-rows';

/** Looks like JSON lines: the first line that is not blank is an object. */
export function isJsonLines(text: string): boolean {
  return /^\s*\{\s*"/.test(text.slice(0, 1000));
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
  const columns = new Map<string, number>();
  const people: { line: number; values: Map<string, string> }[] = [];
  const aside: RowAside[] = [];
  text.split(/\r?\n/).forEach((raw, i) => {
    if (raw.trim() === '') return;
    const values = new Map<string, string>();
    const object = parse(raw);
    if (object === null) {
      aside.push({ line: i + 1, cells: [raw.slice(0, 200)], reason: NO_OBJECT });
      return;
    }
    flatten('', object, values);
    for (const key of values.keys()) if (!columns.has(key)) columns.set(key, columns.size);
    people.push({ line: i + 1, values });
  });
  const names = [...columns.keys()];
  const rows: TableRow[] = people.map((p) => ({ line: p.line, cells: names.map((n) => p.values.get(n) ?? '') }));
  // The keys are the header, whatever they look like.
  return { ...tableOfRows([{ line: 0, cells: names }, ...rows], aside), headerLine: null };
}

export const NO_OBJECT = 'The line is not a JSON object';

function parse(line: string): Record<string, unknown> | null {
  try {
    const value: unknown = JSON.parse(line);
    return typeof value === 'object' && value !== null && !Array.isArray(value)
      ? (value as Record<string, unknown>)
      : null;
  } catch {
    return null;
  }
}

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
