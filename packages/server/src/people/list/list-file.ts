import { outcomeCells, outcomeHeader, vcardWriter, writeCsv, type ListColumn, type ListQuery } from '@baton/core';
import type { FileFormat } from '@baton/contract';
import type { Queryable } from '../../store/database';
import { readColumns, readList, readPeople, type StoredPerson } from '../../store/people/list/list-rows';
import { mostSteps, outcomesOfRows, seenAt } from '../../store/campaigns/outcome-rows';
import { readWorkspace } from '../../store/workspace-rows';
import { localTime } from '../../time/local-time';
import { noList } from './change-list';
import { viewRowIds } from './list-service';
import { sheetType, writeSheet } from './write-sheet';

/** Rows read at once. */
const CHUNK = 2000;
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
  if (format === 'csv' || format === 'tsv')
    return { name, type: separatedType(format), content: separated(header, rows, format) };
  return {
    name,
    type: sheetType(format),
    content: await writeSheet(format, header, rows, columns),
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

/** The media type of values that are separated: by commas (RFC 4180) or tabs (IANA, text/tab-separated-values). */
export const separatedType = (format: 'csv' | 'tsv'): string =>
  `text/${format === 'csv' ? 'csv' : 'tab-separated-values'}; charset=utf-8`;

async function* separated(
  header: string[],
  chunks: AsyncIterable<string[][]>,
  format: 'csv' | 'tsv',
): AsyncGenerator<string> {
  const by = format === 'csv' ? ',' : '\t';
  yield `\ufeff${writeCsv([header], by)}`;
  for await (const rows of chunks) yield writeCsv(rows, by);
}

async function* cards(chunks: AsyncIterable<StoredPerson[]>, columns: readonly ListColumn[]): AsyncGenerator<string> {
  const write = vcardWriter(columns);
  for await (const chunk of chunks) yield chunk.map(write).join('');
}
