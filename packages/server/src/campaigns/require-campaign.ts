import { DomainError } from '@baton/core';
import { lockCampaign, readCampaign, type CampaignRow } from '../store/campaigns/campaign-rows';
import type { Queryable } from '../store/database';

function orGone(campaign: CampaignRow | null): CampaignRow {
  if (!campaign) throw new DomainError('not_found', 'There is no such campaign.');
  return campaign;
}

/** @throws DomainError `not_found` */
export const requireCampaign = async (db: Queryable, id: number): Promise<CampaignRow> =>
  orGone(await readCampaign(db, id));

/** The same, locked. */
export const requireLocked = async (tx: Queryable, id: number): Promise<CampaignRow> =>
  orGone(await lockCampaign(tx, id));
