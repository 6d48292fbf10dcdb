import { readSendOn, type Zone } from '@baton/core';
import type { Candidate } from '../planning/plan-workspace';
import type { CampaignRow } from '../store/campaigns/campaign-rows';
import type { ListPerson } from '../store/people/list/list-rows';
import { zones } from '../time/zones';

/** By whose clock a campaign writes to somebody. */
export const clockOf = (
  { windowZone }: Pick<CampaignRow, 'windowZone'>,
  person: { zone: string | null },
  workspaceZone: string,
): Zone => zones.get((windowZone === 'recipient' ? person.zone : null) ?? workspaceZone);

/** The day before which nothing is sent to a person, and the minute of the first message; null where their row does not say. */
export function startsOn(
  campaign: Pick<CampaignRow, 'windowZone'>,
  person: Pick<ListPerson, 'sendOn' | 'zone'>,
  workspaceZone: string,
): Pick<Candidate, 'notBefore' | 'sendMinute'> {
  if (person.sendOn === null) return { notBefore: null, sendMinute: null };
  const { day, minute } = readSendOn(person.sendOn, clockOf(campaign, person, workspaceZone));
  return { notBefore: day, sendMinute: minute };
}
