import { ADDRESS_NOTES } from '../address/check-address';
import type { ColumnKind, ListColumn } from './list-columns';

/** Columns that every list has beside its own; no field key begins so. */
export const ADDRESS_KEY = '@address';
export const NOTES_KEY = '@notes';

/**
 * Columns that a list has beside its own once a campaign has written to it: what became of each row in the newest campaign
 * that took it in.
 */
export const OUTCOME_COLUMNS = [
  { key: '@campaign', name: 'campaign', kind: 'text' },
  { key: '@state', name: 'state', kind: 'text' },
  { key: '@sent', name: 'last sent', kind: 'date' },
  { key: '@next', name: 'next message', kind: 'date' },
  { key: '@replied', name: 'replied', kind: 'date' },
  { key: '@outcome', name: 'outcome', kind: 'text' },
] as const satisfies readonly { key: string; name: string; kind: ColumnKind }[];
export type OutcomeKey = (typeof OUTCOME_COLUMNS)[number]['key'];

/** The outcome column with a key; undefined for another key. */
export const outcomeColumn = (key: string): (typeof OUTCOME_COLUMNS)[number] | undefined =>
  OUTCOME_COLUMNS.find((c) => c.key === key);

/** What may be said of a row beside its own values; the first are found in the address itself. */
export const ROW_NOTES = [...ADDRESS_NOTES, 'suppressed', 'bounced', 'written'] as const;
export type RowNote = (typeof ROW_NOTES)[number];

/** Days back from which on a message counts for the note `written`, “written to lately”, where a filter does not say. */
export const WRITTEN_DAYS = 30;
export const MAX_WRITTEN_DAYS = 3650;

export const TEXT_TESTS = ['contains', 'lacks', 'is', 'is_not', 'begins', 'ends'] as const;
export type TextTest = (typeof TEXT_TESTS)[number];

/** What a column's values must be. Texts are compared without regard to case. */
export type ColumnFilter = { key: string } & (
  | { kind: 'text'; test: TextTest; value: string }
  /** One of these, '' for blank; of tags: any of them. Of the notes: `written` looks back `days` days. */
  | { kind: 'among'; values: string[]; not: boolean; days?: number }
  /** Bounds included; null for none. */
  | { kind: 'number'; from: number | null; to: number | null }
  /** ISO dates, bounds included; null for none. */
  | { kind: 'date'; from: string | null; to: string | null }
  | { kind: 'blank'; blank: boolean }
);

export interface SortBy {
  key: string;
  descending: boolean;
}

/** Which rows of a list, and in what order. All filters must hold. Blanks come last in either direction. */
export interface ListQuery {
  /** Found anywhere in the address or a value. */
  search: string;
  filters: ColumnFilter[];
  /** The first weighs most; then the list's own order. */
  sort: SortBy[];
}

export const WHOLE_LIST: ListQuery = { search: '', filters: [], sort: [] };

export function isWholeList(query: ListQuery): boolean {
  return query.search === '' && query.filters.length === 0;
}

const TEST_WORDS: Record<TextTest, string> = {
  contains: 'contains',
  lacks: 'does not contain',
  is: 'is',
  is_not: 'is not',
  begins: 'begins with',
  ends: 'ends with',
};

const NOTE_WORDS: Record<RowNote, string> = {
  misspelt: 'domain misspelt?',
  shared: 'shared address',
  throw_away: 'throw-away address',
  doubled: 'same person twice?',
  no_server: 'no mail server',
  suppressed: 'suppressed',
  bounced: 'bounced before',
  written: 'written to lately',
};

/** A note in words. */
export function noteWords(note: RowNote): string {
  return NOTE_WORDS[note];
}

/** A filter as part of a sentence: `region is north or south`. */
export function filterWords(filter: ColumnFilter, columns: readonly Pick<ListColumn, 'key' | 'name'>[]): string {
  const name =
    filter.key === ADDRESS_KEY
      ? 'address'
      : filter.key === NOTES_KEY
        ? 'notes'
        : ((outcomeColumn(filter.key) ?? columns.find((c) => c.key === filter.key))?.name ?? filter.key);
  switch (filter.kind) {
    case 'text':
      return `${name} ${TEST_WORDS[filter.test]} ${filter.value}`;
    case 'among':
      return `${name} is ${filter.not ? 'not ' : ''}${amongWords(filter)}`;
    case 'blank':
      return `${name} is ${filter.blank ? '' : 'not '}blank`;
    case 'number':
    case 'date':
      return `${name} is ${rangeWords(filter.from, filter.to)}`;
  }
}

function amongWords({ key, values, days }: Extract<ColumnFilter, { kind: 'among' }>): string {
  const ofNote = (v: string) =>
    v === 'written' && days !== undefined ? `written to in the last ${days} days` : noteWords(v as RowNote);
  const words = values.map((v) => (v === '' ? 'blank' : key === NOTES_KEY ? ofNote(v) : v));
  return words.length <= 3 ? words.join(' or ') : `${words.slice(0, 2).join(', ')} or ${words.length - 2} more`;
}

function rangeWords(from: string | number | null, to: string | number | null): string {
  if (from === null) return `at most ${String(to)}`;
  if (to === null) return `at least ${from}`;
  return from === to ? String(from) : `from ${from} to ${to}`;
}
