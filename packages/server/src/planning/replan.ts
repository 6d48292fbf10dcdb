import { HOUR_MS, planSends, type EarlierPlan, type Plan, type PlanInput, type RestMoved } from '@baton/core';
import { finishCampaigns } from '../campaigns/apply-event';
import type { Duty } from '../duties/duty';
import { announce } from '../store/changes';
import { LOCKS, TransactionRollbackError, withLock, type Queryable, type Store } from '../store/database';
import { FAILED, failedBy } from '../store/database-errors';
import {
  plannedColumns,
  putPlanned,
  removeDeliveries,
  type PlannedColumns,
  type PlannedRow,
} from '../store/planning/planned-rows';
import { localDay, restsOn } from '../mailboxes/capacity';
import { updateMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { campaignsAtEnd } from '../store/campaigns/campaign-rows';
import { planMade, readWorkspace, updateWorkspace } from '../store/workspace-rows';
import { zones } from '../time/zones';
import { readWork, type Candidate, type WorkspacePlan, type WorkToPlan } from './plan-workspace';

/** Where more than this part of the people comes into the plan anew it is made from scratch: they must share with the others. */
const MOST_NEW = 0.02;

export interface ReplanWish {
  /** When messages were to leave whose times were taken, by delivery: they keep them if they can. */
  times?: ReadonlyMap<number, number>;
  /** A message that is to be on another day, if it can be. */
  move?: { enrolmentId: number; step: number; day: number };
}

/** How often a plan is made again because something changed while it was made; then the last one is taken, and followed by another. */
const MOST_TRIES = 3;

/**
 * Makes a new plan and stores what differs from the old one. What need not move stays, unless somebody asked for
 * a plan from scratch. It is made outside of any transaction, so that nothing waits for it; what changed meanwhile makes
 * it old.
 *
 * @returns how many deliveries changed, or null while another process plans
 */
export async function replan(store: Store, nowMs: number, wish: ReplanWish = {}): Promise<number | null> {
  const make = (work: WorkToPlan, earlier: EarlierPlan, isFresh: boolean) =>
    isFresh ? planSends(work.input, 'full') : planKeeping(work, { ...earlier, ...moveOf(work, wish) });
  return planWith(store, nowMs, make, wish.times);
}

/** The plan in which what need not move stays, or one from scratch where many come into it anew. */
function planKeeping(work: WorkToPlan, earlier: EarlierPlan): Plan {
  const kept = planSends(work.input, 'quick', earlier);
  return bringsMany(kept, earlier, work) ? planSends(work.input, 'full') : kept;
}

/** A plan, and what is stored of the one before. */
export interface PlanAsStored extends WorkspacePlan {
  stored: PlannedColumns;
}

/** The plan of some work as it would be stored now, which it is not. */
export async function planAsStored(tx: Queryable, work: WorkToPlan): Promise<PlanAsStored> {
  const stored = await readStored(tx, work);
  return { ...work, plan: planKeeping(work, earlierPlan(work, stored)), stored: stored.rows };
}

/** The night's plan: from scratch with all care, taken only where it is plainly better than what there is. */
export async function planNight(store: Store, nowMs: number): Promise<boolean | null> {
  let takes = false;
  const changed = await planWith(store, nowMs, (work, earlier) => {
    const kept = planSends(work.input, 'quick', earlier);
    const better = planSends(work.input, 'full');
    takes = isPlainlyBetter(work.input, better, kept);
    return takes ? better : kept;
  });
  return changed === null ? null : takes;
}

/** @param make the plan of some work; `isFresh` where one from scratch was asked for */
async function planWith(
  store: Store,
  nowMs: number,
  make: (work: WorkToPlan, earlier: EarlierPlan, isFresh: boolean) => Plan,
  times?: ReadonlyMap<number, number>,
): Promise<number | null> {
  return withLock(store, LOCKS.planning, 0, async () => {
    for (let tries = 1; ; tries++) {
      const { work, stored, asked, isFresh } = await store.db.transaction(async (tx) => {
        const { planAsked, planFresh } = await readWorkspace(tx);
        const read = await readWork(tx, nowMs);
        return { work: read, stored: await readStored(tx, read), asked: planAsked, isFresh: planFresh };
      }, SNAPSHOT);
      const plan = make(work, earlierPlan(work, stored, times), isFresh);
      const changed = await store.db
        .transaction(async (tx) => {
          const n = await storePlan(tx, work, stored, plan, nowMs);
          // Last, as everybody has it who asks for a plan: deliveries, then the workspace.
          return (await planMade(tx, asked)) || tries >= MOST_TRIES ? n : tx.rollback();
        })
        .catch(unlessOld);
      if (changed !== null) return changed;
    }
  });
}

/** All that is read for a plan is of one moment. */
const SNAPSHOT = { isolationLevel: 'repeatable read', accessMode: 'read only' } as const;

function unlessOld(error: unknown): null {
  if (error instanceof TransactionRollbackError || failedBy(error, FAILED.deadlock)) return null;
  throw error;
}

/** The plan that is stored. */
interface StoredPlan {
  rows: PlannedColumns;
  /** Where its deliveries are in the plan to come: person * width + step, or -1 for people who are in none. */
  at: Int32Array;
  width: number;
}

async function readStored(tx: Queryable, { candidates, campaigns }: WorkToPlan): Promise<StoredPlan> {
  const rows = await plannedColumns(
    tx,
    campaigns.map((c) => c.id),
  );
  const personAt = new Map(candidates.map((c, i) => [c.id, i]));
  const width = campaigns.reduce((most, c) => Math.max(most, c.steps.length), 1);
  const placeOf = placesIn(campaigns);
  const at = rows.enrolmentId.map((id, k) => {
    const person = personAt.get(id) ?? -1;
    const campaignId = candidates[person]?.campaignId;
    const place = campaignId === undefined ? undefined : placeOf.get(campaignId)?.get(rows.step[k] as number);
    return place === undefined ? -1 : person * width + place;
  });
  return { rows, at, width };
}

/** By campaign: where the steps of its sequence stand, by their numbers. */
const placesIn = (campaigns: WorkToPlan['campaigns']): Map<number, Map<number, number>> =>
  new Map(campaigns.map((c) => [c.id, new Map(c.steps.map((s, place) => [s.position, place]))]));

/** Writes what differs from the plan that is stored. @returns how many deliveries changed */
async function storePlan(
  tx: Queryable,
  { candidates, mailboxes, campaigns }: WorkToPlan,
  { rows, at, width }: StoredPlan,
  plan: Plan,
  nowMs: number,
): Promise<number> {
  const rowAt = new Int32Array(candidates.length * width).fill(-1);
  at.forEach((to, k) => {
    if (to >= 0) rowAt[to] = k;
  });
  const byId = new Map(campaigns.map((c) => [c.id, c]));
  const stays = new Uint8Array(rows.id.length);
  const changed: PlannedRow[] = [];
  const heldCells = new Set<string>();
  const rests = newRests(mailboxes, nowMs);
  const { recipient, step, mailbox, day, instant } = plan.columns;
  for (let k = 0; k < recipient.length; k++) {
    const { id, campaignId, units } = candidates[recipient[k] as number] as Candidate;
    const mailboxId = (mailboxes[mailbox[k] as number] as MailboxRow).id;
    const was = rowAt[(recipient[k] as number) * width + (step[k] as number)] as number;
    if (was >= 0) {
      stays[was] = 1;
      noteMoved(
        rests.get(rows.mailboxId[was] as number),
        mailboxId !== rows.mailboxId[was],
        (day[k] as number) > (rows.day[was] as number),
      );
    }
    const isSame = was >= 0 && rows.instant[was] === instant[k] && rows.mailboxId[was] === mailboxId;
    if (!isSame || rows.day[was] !== day[k] || rows.units[was] !== units)
      changed.push({
        ...{ enrolmentId: id, campaignId, mailboxId, units },
        step: byId.get(campaignId)?.steps[step[k] as number]?.position ?? 0,
        ...{ day: day[k] as number, instant: instant[k] as number },
        // Let go for a day, it waits again only on another.
        heldAt: byId.get(campaignId)?.releasedByHand && (was < 0 || rows.day[was] !== day[k]) ? nowMs : null,
      });
    else if (rows.held[was] === 1) heldCells.add(`${mailboxId}/${day[k]}`);
  }
  // Whatever comes into a batch that is held waits with it.
  for (const row of changed) if (heldCells.has(`${row.mailboxId}/${row.day}`)) row.heldAt = nowMs;
  const gone = [...rows.id].filter((_, k) => stays[k] === 0);
  await removeDeliveries(tx, gone);
  await putPlanned(tx, changed);
  for (const [id, restMoved] of rests) await updateMailbox(tx, id, { restMoved });
  if (rests.size > 0) await announce(tx, 'mailboxes');
  if (gone.length + changed.length > 0) await announce(tx, 'today', 'progress');
  return gone.length + changed.length;
}

/** Mailboxes whose rest no plan has been made for yet. */
const newRests = (mailboxes: readonly MailboxRow[], nowMs: number): Map<number, RestMoved> =>
  new Map(
    mailboxes
      .filter((m) => m.restMoved === null && restsOn(m, localDay(m, nowMs)))
      .map((m) => [m.id, { elsewhere: 0, later: 0 }]),
  );

function noteMoved(rest: RestMoved | undefined, isElsewhere: boolean, isLater: boolean): void {
  if (rest && isElsewhere) rest.elsewhere++;
  else if (rest && isLater) rest.later++;
}

/** The stored plan with recipients and mailboxes numbered as in the input. */
function earlierPlan(
  { mailboxes }: WorkToPlan,
  { rows, at, width }: StoredPlan,
  times?: ReadonlyMap<number, number>,
): EarlierPlan {
  const mailboxAt = new Map(mailboxes.map((m, i) => [m.id, i]));
  const instantOf = (k: number) => {
    const instant = rows.instant[k] as number;
    return Number.isNaN(instant) ? (times?.get(rows.id[k] as number) ?? NaN) : instant;
  };
  const kept = at.map((_, k) => k).filter((k) => (at[k] as number) >= 0 && !Number.isNaN(instantOf(k)));
  return {
    recipient: kept.map((k) => Math.floor((at[k] as number) / width)),
    step: kept.map((k) => (at[k] as number) % width),
    mailbox: kept.map((k) => mailboxAt.get(rows.mailboxId[k] as number) ?? -1),
    day: kept.map((k) => rows.day[k] as number),
    instant: Float64Array.from(kept, instantOf),
  };
}

function moveOf({ candidates, campaigns }: WorkToPlan, { move }: ReplanWish): Pick<EarlierPlan, 'move'> {
  const recipient = move ? candidates.findIndex((c) => c.id === move.enrolmentId) : -1;
  const step = placesIn(campaigns)
    .get(candidates[recipient]?.campaignId ?? 0)
    ?.get(move?.step ?? 0);
  return move && step !== undefined ? { move: { recipient, step, day: move.day } } : {};
}

/** Whether so many come into a plan that had no place in the one before that, keeping the others, they would go last. */
function bringsMany(plan: Plan, { recipient }: EarlierPlan, { candidates }: WorkToPlan): boolean {
  const before = new Set(recipient);
  const brought = new Set(plan.columns.recipient.filter((p) => !before.has(p))).size;
  return brought > Math.max(5, MOST_NEW * candidates.length);
}

/** Fewer follow-ups late, or a campaign that ends a working week earlier while none ends later. */
function isPlainlyBetter(input: PlanInput, better: Plan, kept: Plan): boolean {
  const late = (plan: Plan) => plan.campaigns.reduce((sum, c) => sum + c.late, 0);
  if (better.notPlaced.length !== kept.notPlaced.length) return better.notPlaced.length < kept.notPlaced.length;
  if (late(better) !== late(kept)) return late(better) < late(kept);
  const gains = input.campaigns.map((_, c) => (kept.campaigns[c]?.lastDay ?? 0) - (better.campaigns[c]?.lastDay ?? 0));
  return Math.min(0, ...gains) === 0 && Math.max(0, ...gains) >= 7;
}

/** Plans again whenever somebody asked for it. */
export function replanDuty(store: Store): Duty {
  return {
    name: 're-plan',
    eventful: false,
    nextDue: (_, { planWantedAt }) => planWantedAt,
    run: async (nowMs) => ((await replan(store, nowMs)) === null ? 0 : 1),
  };
}

/** The hour of the workspace's night at which the whole plan is made again. */
const NIGHT_HOUR = 3;

export function nightlyPlanDuty(store: Store): Duty {
  const lastNight = (nowMs: number, zone: string) => zones.get(zone).toLocal(nowMs - NIGHT_HOUR * HOUR_MS).day;
  return {
    name: 'plan the night',
    eventful: false,
    nextDue: (_, { nightlyPlanDay, zone }) =>
      nightlyPlanDay === null ? 0 : zones.get(zone).toInstant(nightlyPlanDay + 1, NIGHT_HOUR * 60),
    run: async (nowMs) => {
      const { nightlyPlanDay, zone } = await readWorkspace(store.db);
      // One whose worker died between its last message and its end.
      await finishCampaigns(store.db, await campaignsAtEnd(store.db), nowMs);
      const day = lastNight(nowMs, zone);
      if (nightlyPlanDay !== null && nightlyPlanDay >= day) return 0;
      if (nightlyPlanDay !== null && (await planNight(store, nowMs)) === null) return 0;
      await updateWorkspace(store.db, { nightlyPlanDay: day });
      return 1;
    },
  };
}
