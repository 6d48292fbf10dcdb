import {
  DomainError,
  numberOf,
  outcomeCells,
  outcomeHeader,
  vcardWriter,
  writeCsv,
  type ListColumn,
  type ListQuery,
} from '@baton/core';
import type { FileFormat } from '@baton/contract';
import writeXlsxFile, { type SheetData } from 'write-excel-file/node';
import type { Queryable } from '../../store/database';
import { readColumns, readList, readPeople, type StoredPerson } from '../../store/people/list/list-rows';
import { mostSteps, outcomesOfRows, seenAt } from '../../store/campaigns/outcome-rows';
import { readWorkspace } from '../../store/workspace-rows';
import { localTime } from '../../time/local-time';
import { noList } from './change-list';
import { viewRowIds } from './list-service';

/** Rows read at once. */
const CHUNK = 2000;
/** A sheet is put together whole; a file of more rows is a CSV. */
const MOST_SHEET_ROWS = 200_000;

export interface ListFile {
  name: string;
  type: string;
  content: AsyncIterable<string> | Buffer;
}

/** People of a list as a file: those picked, or all that a query finds, in its order. */
export async function listFile(
  db: Queryable,
  listId: number,
  what: { rows: number[] } | { query: ListQuery },
  format: FileFormat,
  withOutcomes: boolean,
  nowMs: number,
): Promise<ListFile> {
  const list = await readList(db, listId);
  if (!list || list.removedAt !== null) throw noList();
  const columns = (await readColumns(db, listId)).filter((c) => !c.hidden || c.role === 'address');
  const ids = 'rows' in what ? what.rows : await viewRowIds(db, listId, { query: what.query, removed: false }, nowMs);
  const name = `${list.name.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase()}.${format === 'vcard' ? 'vcf' : format}`;
  if (format === 'vcard')
    return { name, type: 'text/vcard; charset=utf-8', content: cards(people(db, listId, ids), columns) };
  const outcomes = withOutcomes ? await outcomeColumns(db, listId) : null;
  const header = [...columns.map((c) => c.name), ...(outcomes?.header ?? [])];
  const rows = cells(people(db, listId, ids), columns, outcomes);
  if (format === 'csv') return { name, type: 'text/csv; charset=utf-8', content: csv(header, rows) };
  if (ids.length > MOST_SHEET_ROWS)
    throw new DomainError(
      'too_large',
      `A sheet takes up to ${MOST_SHEET_ROWS.toLocaleString('en')} rows; these are ${ids.length.toLocaleString('en')}. Save them as CSV.`,
    );
  return {
    name,
    type: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
    content: await writeSheet(header, rows, columns),
  };
}

/** In the order of the ids, a chunk at a time. */
async function* people(db: Queryable, listId: number, ids: readonly number[]): AsyncGenerator<StoredPerson[]> {
  for (let i = 0; i < ids.length; i += CHUNK) {
    const chunk = ids.slice(i, i + CHUNK);
    const byId = new Map((await readPeople(db, listId, chunk)).map((p) => [p.rowId, p]));
    yield chunk.flatMap((id) => byId.get(id) ?? []);
  }
}

interface OutcomeColumns {
  header: string[];
  cellsOf(rowIds: number[]): Promise<(rowId: number) => string[]>;
}

async function outcomeColumns(db: Queryable, listId: number): Promise<OutcomeColumns> {
  const steps = await mostSteps(db, listId);
  const { zone } = await readWorkspace(db);
  const local = (ms: number | null) => (ms === null ? '' : localTime(ms, zone));
  return {
    header: ['campaign', ...outcomeHeader(steps)],
    cellsOf: async (rowIds) => {
      const outcomes = await outcomesOfRows(db, rowIds);
      return (rowId) => {
        const o = outcomes.get(rowId);
        const own = o && {
          ...{ ...o, sentAt: o.sentAt.map(local), repliedAt: local(o.repliedAt) },
          seen: seenAt(o.seen, local),
        };
        return [o?.campaign ?? '', ...outcomeCells(own, steps)];
      };
    },
  };
}

async function* cells(
  chunks: AsyncIterable<StoredPerson[]>,
  columns: readonly ListColumn[],
  outcomes: OutcomeColumns | null,
): AsyncGenerator<string[][]> {
  for await (const chunk of chunks) {
    const outcomeOf = outcomes === null ? () => [] : await outcomes.cellsOf(chunk.map((p) => p.rowId));
    yield chunk.map((p) => [
      ...columns.map((c) => (c.role === 'address' ? p.address : (p.fields[c.key] ?? ''))),
      ...outcomeOf(p.rowId),
    ]);
  }
}

async function* csv(header: string[], chunks: AsyncIterable<string[][]>): AsyncGenerator<string> {
  yield `\ufeff${writeCsv([header])}`;
  for await (const rows of chunks) yield writeCsv(rows);
}

async function* cards(chunks: AsyncIterable<StoredPerson[]>, columns: readonly ListColumn[]): AsyncGenerator<string> {
  const write = vcardWriter(columns);
  for await (const chunk of chunks) yield chunk.map(write).join('');
}

/**
 * A spreadsheet (XLSX). Numbers of the list's columns are numbers; every other cell is text, which no spreadsheet runs.
 *
 * @param columns of the first cells of each row; further ones are text
 */
export async function writeSheet(
  header: readonly string[],
  chunks: AsyncIterable<string[][]> | Iterable<string[][]>,
  columns: readonly ListColumn[],
): Promise<Buffer> {
  const data: SheetData = [header.map((value) => ({ value, type: String, fontWeight: 'bold' }))];
  for await (const rows of chunks) {
    for (const row of rows)
      data.push(
        row.map((value, i) => {
          const n = columns[i]?.kind === 'number' ? numberOf(value) : null;
          if (value === '') return null;
          return n === null ? { value, type: String } : { value: n, type: Number };
        }),
      );
  }
  return writeXlsxFile(data).toBuffer();
}
