import { DomainError, partWords } from '@baton/core';
import type { AudiencePart } from '@baton/contract';
import { segmentWords } from '../people/list/segment-service';
import type { CampaignRow } from '../store/campaigns/campaign-rows';
import type { Queryable } from '../store/database';
import { everyRow, findRows, MAX_ROWS, readColumns, readList, type ListPerson } from '../store/people/list/list-rows';
import { readSegment } from '../store/people/list/segment-rows';

type Chosen = Pick<CampaignRow, 'listId' | 'segmentId' | 'alsoParts' | 'exceptParts' | 'picked'>;

/** What a campaign is for, the first list first. */
const partsOf = ({ listId, segmentId, alsoParts }: Chosen): AudiencePart[] =>
  listId === null ? [] : [{ listId, segmentId }, ...alsoParts];

/** The lists that a campaign's people come from, each once, the first one first. */
export const listsOf = (campaign: Chosen): number[] => [...new Set(partsOf(campaign).map((p) => p.listId))];

async function readPart(db: Queryable, { listId, segmentId }: AudiencePart, nowMs: number): Promise<ListPerson[]> {
  const segment = segmentId === null ? null : await readSegment(db, segmentId);
  if (segment?.listId !== listId) return everyRow(db, listId);
  const columns = await readColumns(db, listId);
  return findRows(db, { listId, columns }, { ...segment.query, sort: [] }, nowMs, { offset: 0, limit: MAX_ROWS });
}

/** Everybody whom a campaign is for, each once, in the order of its lists. A list that was deleted has nobody. */
export async function readChosen(db: Queryable, campaign: Chosen, nowMs: number): Promise<ListPerson[]> {
  const { picked } = campaign;
  const rows = picked === null ? null : new Set(picked.rowIds);
  const pickedOf = new Set(picked?.listIds ?? [campaign.listId]);
  const people = new Map<number, ListPerson>();
  for (const part of partsOf(campaign)) {
    const { listId } = part;
    if ((await readList(db, listId))?.removedAt != null) continue;
    for (const person of await readPart(db, part, nowMs))
      if (!people.has(person.contactId) && (rows === null || !pickedOf.has(listId) || rows.has(person.rowId)))
        people.set(person.contactId, person);
  }
  return [...people.values()];
}

/** Who is on what a campaign leaves out, by contact: on which of it, in words. Of a list that was deleted its people still count. */
export async function readExcluded(
  db: Queryable,
  { exceptParts }: Pick<Chosen, 'exceptParts'>,
  nowMs: number,
): Promise<Map<number, string[]>> {
  const out = new Map<number, string[]>();
  const words = await wordsOfParts(db, exceptParts);
  for (const [i, part] of exceptParts.entries())
    for (const { contactId } of await readPart(db, part, nowMs))
      out.set(contactId, [...(out.get(contactId) ?? []), words[i] as string]);
  return out;
}

/** Lists, or segments of them, in words. */
export async function wordsOfParts(db: Queryable, parts: readonly AudiencePart[]): Promise<string[]> {
  const words: string[] = [];
  for (const { listId, segmentId } of parts) {
    const name = (await readList(db, listId))?.name ?? '…';
    const segment = segmentId === null ? null : await readSegment(db, segmentId);
    words.push(partWords(name, segment?.listId === listId ? await segmentWords(db, segment) : null));
  }
  return words;
}

/**
 * The choice as it is kept: the segment of the first list only as long as it is one of that list.
 *
 * @throws DomainError `not_found` where another list or segment is not there
 */
export async function checkedParts<C extends Pick<Chosen, 'listId' | 'segmentId' | 'alsoParts' | 'exceptParts'>>(
  db: Queryable,
  chosen: C,
): Promise<C> {
  for (const { listId, segmentId } of [...chosen.alsoParts, ...chosen.exceptParts]) {
    if (!(await readList(db, listId))) throw new DomainError('not_found', 'There is no such list.');
    if (segmentId !== null && (await readSegment(db, segmentId))?.listId !== listId)
      throw new DomainError('not_found', 'There is no such segment any more. Choose another.');
  }
  const { segmentId, listId } = chosen;
  const isOfList = segmentId === null || (await readSegment(db, segmentId))?.listId === listId;
  return isOfList ? chosen : { ...chosen, segmentId: null };
}
