import { drawVariant, enrolledState } from '@baton/core';
import type { CampaignRow, NewEnrolment } from '../store/campaigns/campaign-rows';
import type { AudienceMember } from './audience';
import { startsOn } from './first-message-time';

/** An audience as it is enrolled; places are counted on from those there are. */
export function enrolled(
  campaign: Pick<CampaignRow, 'id' | 'variants' | 'windowZone'>,
  audience: readonly AudienceMember[],
  { before, workspaceZone, nowMs }: { before: number; workspaceZone: string; nowMs: number },
): NewEnrolment[] {
  let position = before;
  return audience.map(({ person, leftOut, units, mailboxId }) => ({
    campaignId: campaign.id,
    contactId: person.contactId,
    listRowId: person.rowId,
    state: enrolledState(leftOut),
    reason: leftOut?.words ?? '',
    ...startsOn(campaign, person, workspaceZone),
    variant: drawVariant(campaign.variants, campaign.id, person.key),
    units,
    mailboxId,
    position: leftOut === null ? ++position : 0,
    changedAt: nowMs,
  }));
}
