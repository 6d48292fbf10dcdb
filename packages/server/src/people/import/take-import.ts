import { DomainError, type ColumnKind, type KeptColumn, type ListColumn, type RowAside } from '@baton/core';
import type { ImportEffect, ImportInto, ImportProgress } from '@baton/contract';
import { announce } from '../../store/changes';
import type { StagedRow } from '../../store/people/import/copy-writer';
import type { Queryable, Store } from '../../store/database';
import { remember, removeImport, type ImportRow } from '../../store/people/import/import-rows';
import { addAside, addList, readColumns, reserveListId } from '../../store/people/list/list-rows';
import {
  effectOfStaged,
  noteDomains,
  noteLines,
  recordStagedChange,
  stageRows,
  storeStagedContacts,
  storeStagedRows,
} from '../../store/people/import/staged-rows';
import { storeNewList } from '../../store/people/import/store-new-list';
import { changeList } from '../list/change-list';
import { count, recompute } from '../list/edit-rows';
import { isLarge, kindsOf, readImportColumns, type ReadImport } from './read-import';
import { NAMES_BESIDE, readLarge } from './read-large';
import { ownText, SeenAddresses } from './seen-addresses';

/** More rows set aside than this means that something else is wrong. */
const MOST_ASIDE = 200_000;

/** What an import says while it is taken, and whether it is still wanted. */
export interface TakingWatch {
  progress(progress: ImportProgress): Promise<void>;
  /** @throws DomainError when it was cancelled */
  check(): Promise<void>;
}

/** An import whose rows are ready to be stored. */
interface StagedImport {
  /** The list that they make. */
  newList: number | null;
  rows: number;
  columns: ListColumn[];
  aside: RowAside[];
}

/** The columns of a list to be, each with the kind that was said or that its values show. */
function newColumns(columns: readonly KeptColumn[], kindOf: (column: KeptColumn) => ColumnKind): ListColumn[] {
  return columns.map((column) => {
    const { name, key, role } = column;
    return { name, key, role, kind: kindOf(column), hidden: false, formula: null, verdicts: null };
  });
}

/** Under which key of the list each column of the file is kept; a role goes to the list's column of that role. */
function keysInto(columns: readonly ListColumn[], own: readonly ListColumn[]): Map<string, string> {
  return new Map(
    columns.map((c) => [c.key, (c.role === 'field' ? undefined : own.find((o) => o.role === c.role)?.key) ?? c.key]),
  );
}

/** A person as the list keeps them. */
const laidReady = (
  { line, address, key, domain, zone, sendOn }: Omit<StagedRow, 'fields' | 'notes' | 'plain' | 'at'>,
  fields: StagedRow['fields'],
  notes: StagedRow['notes'],
  plain: StagedRow['plain'] = null,
  at = 0,
): StagedRow => ({ line, address, key, domain, zone, sendOn, fields, notes, plain, at });

/** Reads, cleans and checks the whole file and lays its rows ready beside the lists. */
export async function stageImport(
  store: Store,
  row: ImportRow,
  read: ReadImport,
  into: ImportInto,
  watch: TakingWatch,
): Promise<StagedImport> {
  const own = into.kind === 'list' ? await readColumns(store.db, into.listId) : [];
  const large = isLarge(row) ? readLarge(store, row, read) : null;
  const mayHaveNames = large !== null && !read.sorted.columns.some((c) => c.key === NAMES_BESIDE.key);
  const columns = newColumns(
    [...read.sorted.columns, ...(mayHaveNames ? [NAMES_BESIDE] : [])],
    kindsOf(row, read.sorted),
  );
  const keys = keysInto(columns, own);
  const isSame = [...keys].every(([from, to]) => from === to);
  const rename = (fields: Record<string, string>) =>
    isSame ? fields : Object.fromEntries(Object.entries(fields).map(([k, v]) => [keys.get(k) ?? k, v]));
  const aside: RowAside[] = [];
  const seen = new SeenAddresses();
  const newList = into.kind === 'new' ? await reserveListId(store.db) : null;
  async function* batches(): AsyncGenerator<StagedRow[]> {
    if (large === null) {
      aside.push(...read.sorted.aside);
      yield read.sorted.taken.map((p) =>
        laidReady(
          p,
          rename(p.fields),
          (read.notes.get(p.line) ?? []).map((n) => n.kind),
        ),
      );
      return;
    }
    for await (const piece of large.pieces()) {
      await watch.check();
      await watch.progress({ step: 'reading', rows: piece.rows, share: piece.share });
      for (const a of piece.aside) aside.push(keptAlone(a));
      if (aside.length > MOST_ASIDE) throw tooManyAside(aside);
      yield piece.taken.map(({ person, fields, plain, at }) =>
        laidReady(person, rename(fields), seen.add(person), plain, at),
      );
    }
  }
  const cellKeys = (large?.keys ?? []).map((key) => (key === null ? null : (keys.get(key) ?? key)));
  const rows = await stageRows(store, { importId: row.id, newList }, batches(), cellKeys);
  if (large) {
    await watch.progress({ step: 'storing', rows, share: 1 });
    await noteDomains(store.db, row.id, 'misspelt', seen.misspelt());
    await noteLines(store.db, row.id, 'doubled', seen.doubled(large.lines));
  }
  const renamedAside = aside.map((a) => (a.fields === undefined ? a : { ...a, fields: rename(a.fields) }));
  const isUnused = mayHaveNames && large.lateNames() === 0;
  const kept = (isUnused ? columns.slice(0, -1) : columns).map((c) => ({ ...c, key: keys.get(c.key) ?? c.key }));
  return { newList, rows, columns: kept, aside: renamedAside };
}

/** A row without the piece of the file that it came from. */
const keptAlone = ({ line, cells, reason, fields }: RowAside): RowAside => ({
  line,
  cells: cells.map(ownText),
  reason: ownText(reason),
  ...(fields && { fields: Object.fromEntries(Object.entries(fields).map(([key, value]) => [key, ownText(value)])) }),
});

/** What the rows laid ready would do to the list they go to; null for a new one. */
export function effectOf(db: Queryable, importId: number, into: ImportInto): Promise<ImportEffect> | null {
  return into.kind === 'new' ? null : effectOfStaged(db, importId, into.listId, into.how);
}

/** Stores the rows laid ready, whole or not at all, and forgets the import. @returns the list's id */
export async function storeImport(
  store: Store,
  row: ImportRow,
  staged: StagedImport,
  into: ImportInto,
  nowMs: number,
): Promise<number> {
  const finish = async (tx: Queryable, listId: number) => {
    await addAside(tx, listId, staged.aside);
    if (!(await removeImport(tx, row.id))) throw over();
    await announce(tx, 'people', 'imports');
  };
  if (into.kind === 'new') {
    const id = staged.newList as number;
    const name = into.name.trim() || row.name.replace(/\.[^.]+$/, '');
    await storeNewList(store, {
      importId: row.id,
      listId: id,
      rows: staged.rows,
      now: nowMs,
      addList: (tx) => addList(tx, { id, name, source: row.name, createdAt: nowMs }, staged.columns),
      finish: (tx) => finish(tx, id),
    });
    return id;
  }
  await changeList(store.db, into.listId, nowMs, async (list) => {
    const added = staged.columns.filter((c) => c.role !== 'address' && !list.columns.some((o) => o.key === c.key));
    const columns = [
      ...list.columns,
      ...added.map((c) => ({ ...c, role: list.columns.some((o) => o.role === c.role) ? ('field' as const) : c.role })),
    ];
    if (added.length > 0) list.setColumns(columns);
    await storeStagedContacts(list.tx, row.id, nowMs);
    await storeStagedRows(list.tx, row.id, into.listId, true);
    const keys = staged.columns.map((c) => c.key);
    const ids = await recordStagedChange(
      list.tx,
      { importId: row.id, changeId: list.changeId, listId: into.listId, how: into.how, nowMs },
      keys,
    );
    await list.changedAlready(ids.length);
    await recompute({ ...list, columns }, ids);
    await finish(list.tx, into.listId);
    return `${count(ids.length, 'row')} from ${row.name}`;
  });
  return into.listId;
}

/** Remembers the choices for the columns, for the next file with the same header. */
export async function rememberRoles(db: Queryable, row: ImportRow, nowMs: number): Promise<void> {
  if (!row.roles && !row.kinds && !row.cleanings && !row.reading) return;
  const read = await readImportColumns(row);
  const roles = read.roles.slice(0, read.mended.header.length);
  await remember(
    db,
    headerOf(read.mended),
    { roles, kinds: row.kinds, cleanings: row.cleanings, reading: withoutRows(row.reading) },
    nowMs,
  );
}

/** Whether hidden rows come too is asked of each file anew. */
function withoutRows(reading: ImportRow['reading']): ImportRow['reading'] {
  const { monthFirst, encoding } = reading ?? {};
  if (monthFirst === undefined && encoding == null) return null;
  return { ...(monthFirst === undefined ? {} : { monthFirst }), ...(encoding == null ? {} : { encoding }) };
}

/** By what a file of the same kind is known again. */
export const headerOf = (table: ReadImport['mended']): string => JSON.stringify(table.header);

function tooManyAside(aside: readonly RowAside[]): DomainError {
  const first = aside[0];
  return new DomainError(
    'invalid',
    `More than ${MOST_ASIDE.toLocaleString('en')} rows cannot be used (line ${first?.line}: ${first?.reason}). Is the right column set as the address? Nothing has been imported.`,
  );
}

export const over = (): DomainError => new DomainError('not_found', 'This import is finished or was discarded.');
