import { DomainError, renameField, type ListColumn } from '@baton/core';
import { followSender } from '../../campaigns/follow-sender';
import { followSendOn } from '../../campaigns/follow-send-on';
import { announce } from '../../store/changes';
import { type Database, type Queryable } from '../../store/database';
import { FAILED, failedBy } from '../../store/database-errors';
import {
  addChangedRows,
  beginChange,
  bumpRevision,
  describeChange,
  dropChange,
  markChange,
  moveFieldValues,
  nextChange,
  putChangedRows,
  type ChangedRow,
  type ListChange,
} from '../../store/people/list/list-change-rows';
import { lockList, readColumns, replaceColumns } from '../../store/people/list/list-rows';
import { dropSortIndexes } from '../../store/people/list/sort-index';
import { wantPlan } from '../../planning/want-plan';
import { followRename } from './follow-rename';

type Renamed = NonNullable<ListChange['renamed']>;

/** A list while something in it is changed: changes are collected, applied at the end, and can be undone. */
export interface ListInChange {
  readonly tx: Queryable;
  readonly listId: number;
  readonly nowMs: number;
  readonly columns: readonly ListColumn[];
  /** Changes rows, of which each may have been changed before. */
  changeRows(rows: readonly ChangedRow[]): Promise<void>;
  /** The change as it is stored, for statements that write down what it changes by themselves. */
  readonly changeId: number;
  /** So many rows were written down: they are changed at once, so that what follows sees them as they will be. */
  changedAlready(rows: number): Promise<void>;
  setColumns(columns: ListColumn[]): void;
  rename(renamed: Renamed): void;
}

export interface ListChanged {
  /** Rows. */
  changed: number;
  revision: number;
}

/**
 * Changes a list in one transaction, to be undone as a whole.
 *
 * @param work says what changes; returns what was done in words, as the undo button shows it
 * @throws DomainError `not_found` for a list that is not there or deleted
 */
export async function changeList(
  db: Database,
  listId: number,
  nowMs: number,
  work: (list: ListInChange) => Promise<string>,
): Promise<ListChanged> {
  return db.transaction(async (tx) => {
    const list = await lockList(tx, listId);
    if (!list || list.removedAt !== null) throw noList();
    const before = await readColumns(tx, listId);
    const changeId = await beginChange(tx, listId, nowMs);
    let changed = 0;
    let after: ListColumn[] | null = null;
    let renamed: Renamed | null = null;
    let moves = false;
    const label = await work({
      tx,
      listId,
      nowMs,
      columns: before,
      changeRows: async (rows) => {
        changed += rows.length;
        moves ||= rows.some((r) => 'zone' in r.after || 'sendOn' in r.after);
        await addChangedRows(tx, changeId, rows);
      },
      changeId,
      changedAlready: async (rows) => {
        changed += rows;
        moves = true;
        await putChangedRows(tx, changeId, 'after');
      },
      setColumns: (columns) => (after = columns),
      rename: (r) => (renamed = r),
    });
    if (changed === 0 && after === null && renamed === null) {
      await dropChange(tx, changeId);
      return { changed, revision: list.revision };
    }
    const columns = after === null ? null : { before, after };
    await describeChange(tx, changeId, { label, columns, renamed });
    const change = { id: changeId, listId, columnsBefore: before, columnsAfter: after, renamed };
    const { moved } = await apply(tx, change, 'after', nowMs);
    return { changed, revision: await finish(tx, listId, nowMs, moves || moved > 0) };
  });
}

/** @throws DomainError `conflict` when there is nothing to undo or do again, or a later change prevents it */
export async function stepChange(
  db: Database,
  listId: number,
  nowMs: number,
  way: 'undo' | 'redo',
): Promise<ListChanged & { label: string }> {
  try {
    return await db.transaction(async (tx) => {
      const list = await lockList(tx, listId);
      if (!list || list.removedAt !== null) throw noList();
      const change = await nextChange(tx, listId, way);
      if (!change)
        throw new DomainError('conflict', way === 'undo' ? 'There is nothing to undo.' : 'There is nothing to redo.');
      const { changed } = await apply(tx, change, way === 'undo' ? 'before' : 'after', nowMs);
      await markChange(tx, change.id, way === 'undo');
      return { changed, label: change.label, revision: await finish(tx, listId, nowMs, true) };
    });
  } catch (error) {
    if (failedBy(error, FAILED.uniqueViolation))
      throw new DomainError(
        'conflict',
        'This cannot be done: one of these people is on the list again. Remove them first.',
        { cause: error },
      );
    throw error;
  }
}

async function apply(
  tx: Queryable,
  change: Pick<ListChange, 'id' | 'listId' | 'columnsBefore' | 'columnsAfter' | 'renamed'>,
  as: 'before' | 'after',
  nowMs: number,
): Promise<{ changed: number; moved: number }> {
  const rename = async () => {
    if (!change.renamed) return;
    const { from, to } = as === 'after' ? change.renamed : { from: change.renamed.to, to: change.renamed.from };
    await moveFieldValues(tx, change.listId, from.key, to.key);
    await followRename(tx, change.listId, from, to, nowMs);
    await dropSortIndexes(tx, change.listId);
  };
  // A change's rows know the keys that held before its own renaming.
  if (as === 'before') await rename();
  const changed = await putChangedRows(tx, change.id, as);
  await followSendOn(tx, change.id, as);
  const moved = await followSender(tx, change, as, nowMs);
  if (as === 'after') await rename();
  const columns = as === 'after' ? change.columnsAfter : change.columnsBefore;
  if (change.columnsAfter && columns) await replaceColumns(tx, change.listId, columns);
  return { changed, moved };
}

async function finish(tx: Queryable, listId: number, nowMs: number, moves: boolean): Promise<number> {
  if (moves) await wantPlan(tx, nowMs);
  await announce(tx, 'people');
  return bumpRevision(tx, listId);
}

/** The columns of a list after one of them was renamed, with the formulas that name it. */
export function renamedColumns(columns: readonly ListColumn[], { from, to }: Renamed): ListColumn[] {
  return columns.map((c) => ({
    ...c,
    ...(c.key === from.key ? to : {}),
    formula: c.formula === null ? null : renameField(c.formula, from.key, to.name),
  }));
}

export const noList = (): DomainError => new DomainError('not_found', 'There is no such list, or it has been deleted.');
