import {
  clearLosers,
  dayWords,
  drawVariant,
  HOUR_MS,
  isoDate,
  lookDue,
  stoppedWords,
  VARIANT_SETTLED_MS,
  type VariantTally,
} from '@baton/core';
import type { Duty } from '../duties/duty';
import { announce } from '../store/changes';
import { listCampaigns, lockCampaign, updateCampaign, type CampaignRow } from '../store/campaigns/campaign-rows';
import { putVariants, waitingWithVariants } from '../store/campaigns/variant-rows';
import type { Queryable, Store } from '../store/database';
import { countResults } from '../store/results/result-counting';
import { talliesOfVariants } from '../store/results/result-rows';
import { readWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';

/** Stops variants that clearly get fewer replies, in campaigns that say so: whoever waits for a first message gets another. */
export function variantDuty(store: Store): Duty {
  return {
    name: 'stop variants',
    eventful: true,
    askEveryMs: HOUR_MS,
    nextDue: async (nowMs) => {
      const watched = (await listCampaigns(store.db)).filter(isWatched);
      if (watched.length === 0) return null;
      await countResults(store);
      for (const campaign of watched) if ((await lookAt(store.db, campaign, nowMs)) !== null) return nowMs;
      return null;
    },
    run: async (nowMs) => {
      let looks = 0;
      for (const { id } of (await listCampaigns(store.db)).filter(isWatched))
        looks += await store.db.transaction((tx) => look(tx, id, nowMs));
      if (looks > 0) await announce(store.db, 'campaigns');
      return looks;
    },
  };
}

const isWatched = (c: CampaignRow): boolean => c.state === 'running' && c.stopsLosers && c.variants.length > 1;

/** A look that is to be made now: the variants that people still get, and how many looks it makes. */
async function lookAt(
  db: Queryable,
  { id, variants, variantLooks }: CampaignRow,
  nowMs: number,
): Promise<{ tallies: VariantTally[]; looks: number } | null> {
  const found = await talliesOfVariants(db, id, nowMs - VARIANT_SETTLED_MS);
  const tallies = variants.flatMap((share, variant) =>
    share > 0 ? [found.find((t) => t.variant === variant) ?? { variant, count: 0, of: 0 }] : [],
  );
  const looks = lookDue(variantLooks, tallies);
  return looks === null ? null : { tallies, looks };
}

/** @returns how many looks were made: 0 or 1 */
async function look(tx: Queryable, id: number, nowMs: number): Promise<number> {
  const campaign = await lockCampaign(tx, id);
  const due = campaign && isWatched(campaign) ? await lookAt(tx, campaign, nowMs) : null;
  if (!campaign || due === null) return 0;
  const stopped = clearLosers(due.tallies);
  const losers = new Set(stopped.map((s) => s.loser.variant));
  const variants = campaign.variants.map((share, variant) => (losers.has(variant) ? 0 : share));
  const { zone, dateForm } = await readWorkspace(tx);
  const day = dayWords(isoDate(zones.get(zone).toLocal(nowMs).day), 'short', dateForm);
  await updateCampaign(tx, id, {
    variantLooks: due.looks,
    ...(stopped.length === 0
      ? {}
      : {
          variants,
          variantsStopped: [...campaign.variantsStopped, ...stopped.map((s) => stoppedWords(s, day))],
          // Whoever is changing it meanwhile is told.
          revision: campaign.revision + 1,
        }),
  });
  const waiting = await waitingWithVariants(tx, id, [...losers]);
  await putVariants(
    tx,
    waiting.map((w) => ({ id: w.id, variant: drawVariant(variants, id, w.key) })),
  );
  return 1;
}
