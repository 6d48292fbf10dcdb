import { drawVariant, enrolledState, readSendOn, type SendOn, type Zone } from '@baton/core';
import type { CampaignRow, NewEnrolment } from '../store/campaigns/campaign-rows';
import type { ListPerson } from '../store/people/list/list-rows';
import { zones } from '../time/zones';
import type { AudienceMember } from './audience';

/** By whose clock a campaign writes to somebody. */
export const clockOf = (
  { windowZone }: Pick<CampaignRow, 'windowZone'>,
  person: { zone: string | null },
  workspaceZone: string,
): Zone => zones.get((windowZone === 'recipient' ? person.zone : null) ?? workspaceZone);

/** When somebody is first written to; null where their row does not say. */
export const sendOnOf = (
  campaign: Pick<CampaignRow, 'windowZone'>,
  person: Pick<ListPerson, 'sendOn' | 'zone'>,
  workspaceZone: string,
): SendOn | null =>
  person.sendOn === null ? null : readSendOn(person.sendOn, clockOf(campaign, person, workspaceZone));

/** An audience as it is enrolled; places are counted on from those there are. */
export function enrolled(
  campaign: Pick<CampaignRow, 'id' | 'variants' | 'windowZone'>,
  audience: readonly AudienceMember[],
  { before, workspaceZone, nowMs }: { before: number; workspaceZone: string; nowMs: number },
): NewEnrolment[] {
  let position = before;
  return audience.map(({ person, leftOut, units }) => {
    const sendOn = sendOnOf(campaign, person, workspaceZone);
    return {
      campaignId: campaign.id,
      contactId: person.contactId,
      listRowId: person.rowId,
      state: enrolledState(leftOut),
      reason: leftOut?.words ?? '',
      notBefore: sendOn?.day ?? null,
      sendMinute: sendOn?.minute ?? null,
      variant: drawVariant(campaign.variants, campaign.id, person.key),
      units,
      position: leftOut === null ? ++position : 0,
      changedAt: nowMs,
    };
  });
}
