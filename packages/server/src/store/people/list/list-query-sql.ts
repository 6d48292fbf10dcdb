import {
  ADDRESS_KEY,
  DAY_MS,
  NOTES_KEY,
  outcomeColumn,
  ROW_NOTES,
  UNTICKED_WORDS,
  WRITTEN_DAYS,
  type ColumnFilter,
  type ColumnKind,
  type ListColumn,
  type ListQuery,
  type RowNote,
  type SortBy,
} from '@baton/core';
import { and, eq, isNotNull, isNull, not, or, sql, type SQL } from 'drizzle-orm';
import { like } from '../../database';
import { contacts, deliveries, enrolments, events, listRows, mailDomains, suppressions } from '../../schema/schema';
import { outcomeCell } from './outcome-sql';
import { isBounce } from '../../campaigns/state-conditions';

/** Alphabetical as people expect it, and lower case of every script. */
const COLLATION = sql.raw('"und-x-icu"');

/** Which of a list's rows are meant: those on it, or those taken off it. */
export interface RowsOf {
  listId: number;
  columns: readonly Pick<ListColumn, 'key' | 'kind'>[];
  removed?: boolean;
}

const kindOf = (rows: RowsOf, key: string): ColumnKind =>
  (outcomeColumn(key) ?? rows.columns.find((c) => c.key === key))?.kind ?? 'text';

/** The condition for a list's rows that a query finds; the statement must have `contacts` joined. */
export function whereOf(rows: RowsOf, query: ListQuery, nowMs: number): SQL | undefined {
  return and(
    eq(listRows.listId, rows.listId),
    rows.removed ? isNotNull(listRows.removedAt) : isNull(listRows.removedAt),
    query.search === '' ? undefined : found(query.search),
    ...query.filters.map((f) => conditionOf(f, kindOf(rows, f.key), nowMs)),
  );
}

/** In values only: keys of the JSON are no text of the row. */
function found(search: string): SQL | undefined {
  const pattern = like(search);
  return or(
    sql`${contacts.address} ilike ${pattern}`,
    // The cheap look first, at the whole row as text; the exact one only where that finds something.
    sql`(${listRows.fields}::text collate ${COLLATION} ilike ${like(JSON.stringify(search).slice(1, -1))} and exists (select from jsonb_each_text(${listRows.fields}) f where f.value collate ${COLLATION} ilike ${pattern}))`,
  );
}

/** The cell as text, null where blank. A field key is letters and digits, so it can be written into the statement itself, where indexes see it. */
function cell(key: string): SQL {
  if (key === ADDRESS_KEY) return sql`${contacts.address}`;
  const outcome = outcomeColumn(key);
  if (outcome) return outcomeCell(outcome.key);
  if (!/^[\p{L}\p{N}]+$/u.test(key)) throw new RangeError(`no field key: ${key}`);
  return sql`(${listRows.fields}->>${sql.raw(`'${key}'`)})`;
}

function conditionOf(filter: ColumnFilter, kind: ColumnKind, nowMs: number): SQL | undefined {
  if (filter.key === NOTES_KEY) return notesCondition(filter, nowMs);
  const text = cell(filter.key);
  switch (filter.kind) {
    case 'text':
      return textCondition(text, filter);
    case 'among': {
      const is = or(
        filter.values.includes('') ? sql`${text} is null` : undefined,
        anyOf(
          text,
          filter.values.filter((v) => v !== ''),
          kind === 'tags',
        ),
      );
      return filter.not ? not(sql`coalesce(${is}, false)`) : is;
    }
    case 'number':
      return range(sql`cell_number(${text})`, filter.from, filter.to);
    case 'date':
      return and(
        sql`${text} ~ '^\\d{4}-\\d\\d-\\d\\d($|[ T]\\d)'`,
        range(sql`left(${text}, 10)`, filter.from, filter.to),
      );
    case 'blank':
      if (kind === 'tick') return filter.blank ? not(isTicked(text)) : isTicked(text);
      return filter.blank ? sql`${text} is null` : sql`${text} is not null`;
  }
}

/** A file's `no` is no tick. */
const isTicked = (text: SQL): SQL =>
  sql`(${text} is not null and lower(${text}) <> all(${sql.param(UNTICKED_WORDS)}::text[]))`;

/** The value as a whole; of tags, one of them. */
function anyOf(text: SQL, values: readonly string[], tags: boolean): SQL {
  const own = sql`lower(${text} collate ${COLLATION})`;
  const wanted = sql`array(select lower(v collate ${COLLATION}) from jsonb_array_elements_text(${JSON.stringify(values)}::jsonb) v)`;
  return tags ? sql`regexp_split_to_array(${own}, '\\s*,\\s*') && ${wanted}` : sql`${own} = any (${wanted})`;
}

function textCondition(text: SQL, { test, value }: Extract<ColumnFilter, { kind: 'text' }>): SQL {
  const pattern = like(value);
  const matches = (p: string) => sql`coalesce(${text} collate ${COLLATION} ilike ${p}, false)`;
  switch (test) {
    case 'contains':
      return matches(pattern);
    case 'lacks':
      return not(matches(pattern));
    case 'is':
      return matches(pattern.slice(1, -1));
    case 'is_not':
      return not(matches(pattern.slice(1, -1)));
    case 'begins':
      return matches(pattern.slice(1));
    case 'ends':
      return matches(pattern.slice(0, -1));
  }
}

function range(value: SQL, from: string | number | null, to: string | number | null): SQL | undefined {
  return and(
    sql`${value} is not null`,
    from === null ? undefined : sql`${value} >= ${from}`,
    to === null ? undefined : sql`${value} <= ${to}`,
  );
}

function notesCondition(filter: ColumnFilter, nowMs: number): SQL | undefined {
  const days = filter.kind === 'among' ? filter.days : undefined;
  const some = (notes: readonly RowNote[]) => or(...notes.map((n) => hasNote(n, nowMs, days)));
  const any = sql`(${some(ROW_NOTES)})`;
  if (filter.kind === 'blank') return filter.blank ? not(any) : any;
  if (filter.kind !== 'among') return undefined;
  const is = or(
    filter.values.includes('') ? not(any) : undefined,
    some(filter.values.filter((v): v is RowNote => v !== '')),
  );
  return filter.not ? not(sql`(${is})`) : is;
}

/** Whether a note holds for the row: kept with it, or asked of what Baton knows now; `days` is what “lately” means. */
export function hasNote(note: RowNote, nowMs: number, days = WRITTEN_DAYS): SQL {
  switch (note) {
    case 'suppressed':
      return sql`exists (select from ${suppressions} s where s.key in (${contacts.key}, ${contacts.domain}))`;
    case 'bounced':
      return sql`exists (select from ${events} e where e.contact_id = ${listRows.contactId} and ${isBounce(sql`e.kind`)} and e.undone_at is null)`;
    case 'written':
      return sql`exists (select from ${enrolments} e join ${deliveries} d on d.enrolment_id = e.id where e.contact_id = ${listRows.contactId} and d.sent_at >= ${nowMs - days * DAY_MS})`;
    case 'no_server':
      return sql`exists (select from ${mailDomains} m where m.domain = ${contacts.domain} and m.takes_mail = false)`;
    default:
      return sql`${listRows.notes} @> ${JSON.stringify([note])}::jsonb`;
  }
}

/** The order asked for, ending in the list's own. */
export function orderOf(rows: RowsOf, sort: readonly SortBy[]): SQL[] {
  return [
    ...sort.map(({ key, descending }) => sortTerm(key, kindOf(rows, key), descending)),
    sql`${listRows.position}`,
    sql`${listRows.id}`,
  ];
}

/** One column of an order, as an index on it would have it. */
export function sortTerm(key: string, kind: ColumnKind, descending: boolean): SQL {
  const by = key === NOTES_KEY ? sql`nullif(${listRows.notes}::text, '[]')` : cell(key);
  const value = kind === 'number' && !key.startsWith('@') ? sql`cell_number(${by})` : sql`${by} collate ${COLLATION}`;
  return descending ? sql`${value} desc nulls last` : sql`${value}`;
}
