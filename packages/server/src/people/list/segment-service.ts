import { DomainError, filterWords, type ListQuery } from '@baton/core';
import type { SegmentView } from '@baton/contract';
import { announce } from '../../store/changes';
import type { Database, Queryable } from '../../store/database';
import { countRows, lockList, readColumns } from '../../store/people/list/list-rows';
import { bumpRevision } from '../../store/people/list/list-change-rows';
import {
  addSegment,
  campaignsOfSegment,
  readSegment,
  readSegments,
  removeSegment,
  updateSegment,
  type SegmentRow,
} from '../../store/people/list/segment-rows';
import { noList } from './change-list';

/** Segments of a list (of all lists without one), each with how many people it finds now. */
export async function viewSegments(db: Queryable, nowMs: number, listId?: number): Promise<SegmentView[]> {
  const out: SegmentView[] = [];
  for (const { id, listId: of, name, query } of await readSegments(db, listId)) {
    const columns = await readColumns(db, of);
    out.push({ id, listId: of, name, query, people: await countRows(db, { listId: of, columns }, query, nowMs) });
  }
  return out;
}

export async function saveSegment(
  db: Database,
  listId: number,
  name: string,
  query: ListQuery,
  nowMs: number,
): Promise<number> {
  return db.transaction(async (tx) => {
    const list = await lockList(tx, listId);
    if (!list || list.removedAt !== null) throw noList();
    const same = (await readSegments(tx, listId)).find((s) => s.name.toLowerCase() === name.toLowerCase());
    if (same) throw new DomainError('invalid', `This list has a segment “${same.name}” already.`);
    const id = await addSegment(tx, { listId, name, query, createdAt: nowMs });
    await announce(tx, 'people');
    return id;
  });
}

/** Renames a segment, or lets it find others: campaigns that run follow it as they follow a change of the list. */
export async function changeSegment(
  db: Database,
  id: number,
  change: { name?: string; query?: ListQuery },
): Promise<void> {
  await db.transaction(async (tx) => {
    if (!(await updateSegment(tx, id, change))) throw noSegment();
    const segment = await readSegment(tx, id);
    if (segment && change.query) await bumpRevision(tx, segment.listId);
    await announce(tx, 'people', 'campaigns');
  });
}

/** @throws DomainError `conflict` while a campaign is for its people */
export async function dropSegment(db: Database, id: number): Promise<void> {
  await db.transaction(async (tx) => {
    const [campaign] = await campaignsOfSegment(tx, id);
    if (campaign) throw new DomainError('conflict', `The campaign “${campaign.name}” uses this segment; it stays.`);
    if (!(await removeSegment(tx, id))) throw noSegment();
    await announce(tx, 'people');
  });
}

/** What a segment's people have in common: `region is north and company contains vine`. */
export async function segmentWords(db: Queryable, segment: SegmentRow): Promise<string> {
  const columns = await readColumns(db, segment.listId);
  const words = segment.query.filters.map((f) => filterWords(f, columns));
  if (segment.query.search !== '') words.push(`“${segment.query.search}” is found`);
  return words.join(' and ');
}

const noSegment = () => new DomainError('not_found', 'There is no such segment any more.');
