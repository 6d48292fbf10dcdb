import type { ListColumn } from '@baton/core';
import { contactsWrittenTo, type CampaignRow } from '../store/campaigns/campaign-rows';
import type { Queryable } from '../store/database';
import { answersOfDomains } from '../store/people/list/domain-rows';
import { readColumns, readList } from '../store/people/list/list-rows';
import type { AudienceMember } from './audience';
import { listsOf } from './audience-parts';

/** A list that a campaign is for, and how sure it is that mail arrives there. */
export interface ListToCheck {
  id: number;
  name: string;
  createdAt: number;
  columns: readonly ListColumn[];
  /** Those who would be written to of whose address nobody has said anything: no verifier, no resolver, no campaign before. */
  unchecked: number;
  /** Those who would be written to at domains that accept no mail, and these. */
  withoutMail: { people: number; domains: readonly string[] };
}

/** The lists that a campaign is for, and names of those that have been deleted, of what it leaves out too. */
export async function listsToCheck(
  db: Queryable,
  campaign: CampaignRow,
  audience: readonly AudienceMember[],
): Promise<{ lists: ListToCheck[]; deleted: string[] }> {
  const lists: ListToCheck[] = [];
  const deleted: string[] = [];
  const own = listsOf(campaign);
  const people = audience.filter((a) => a.leftOut === null);
  const answers = await answersOfDomains(db, [...new Set(people.map((a) => a.person.domain))]);
  const silent = people.filter((a) => !a.isVerified && !answers.has(a.person.domain));
  const before = silent.length === 0 ? new Set<number>() : await contactsWrittenTo(db, own);
  const ofList = (members: readonly AudienceMember[], id: number) => members.filter((a) => a.person.listId === id);
  for (const id of new Set([...own, ...campaign.exceptParts.map((p) => p.listId)])) {
    const list = await readList(db, id);
    if (list?.removedAt !== null) deleted.push(list?.name ?? `${id}`);
    else if (own.includes(id)) {
      const without = ofList(people, id).filter((a) => answers.get(a.person.domain) === false);
      lists.push({
        ...{ id, name: list.name, createdAt: list.createdAt, columns: await readColumns(db, id) },
        unchecked: ofList(silent, id).filter((a) => !before.has(a.person.contactId)).length,
        withoutMail: { people: without.length, domains: [...new Set(without.map((a) => a.person.domain))] },
      });
    }
  }
  return { lists, deleted };
}
