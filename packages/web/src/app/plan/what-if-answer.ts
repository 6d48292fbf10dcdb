import {
  applyChanges,
  ceilingsOf,
  expectedReplies,
  expectReplies,
  isoDate,
  planSends,
  type Plan,
  type PlanChange,
  type PlanInput,
} from '@baton/core';
import type { PlanLoad, PlanWork } from '@baton/contract';

/** Above so many messages the quick tier is used: it must answer before the eye notices. */
const FULL_UP_TO = 20_000;

/** A campaign as it would go. */
export interface CampaignAnswer {
  id: number;
  /** ISO dates; null when nothing of it is to come. */
  lastStartDay: string | null;
  lastDay: string | null;
  late: number;
  notPlaced: { reason: string; people: number }[];
}

/** What a plan would be. */
export interface WhatIfAnswer {
  campaigns: CampaignAnswer[];
  loads: PlanLoad[];
  /** By mailbox id and ISO date: what it may, null where it is closed. */
  ceilings: Map<number, Map<string, number | null>>;
}

/** Plans the work as it would be with some changes. */
export function answerWhatIf({ input, ids }: PlanWork, changes: readonly PlanChange[]): WhatIfAnswer {
  const changed = applyChanges(input, ids, changes);
  const rate = expectedReplies(changes);
  const expected =
    rate === null
      ? { input: changed, madeFrom: changed.campaigns.map((_, c) => c) }
      : expectReplies(changed, () => rate);
  const plan = planSends(expected.input, tierFor(expected.input));
  const { base, units } = ceilingsOf(changed);
  return {
    campaigns: ids.campaigns.map((id, c) => campaignAnswer(id, c, plan, expected)),
    loads: loadsOf(plan, expected, ids),
    ceilings: ceilingsByDay(ids.mailboxes, base, units),
  };
}

/** The first and last day on which each campaign may end, by the answers of each that are likely. */
export function answerRange(
  { input, ids }: PlanWork,
  rates: readonly { low: number; high: number }[],
): { id: number; early: string | null; late: string | null }[] {
  const lastDays = (rate: (c: number) => number) => {
    const expected = expectReplies(input, rate);
    const plan = planSends(expected.input, 'quick');
    return ids.campaigns.map((id, c) => campaignAnswer(id, c, plan, expected).lastDay);
  };
  const early = lastDays((c) => rates[c]?.high ?? 0);
  const late = lastDays((c) => rates[c]?.low ?? 0);
  return ids.campaigns.map((id, c) => ({ id, early: early[c] ?? null, late: late[c] ?? null }));
}

function tierFor({ recipients, campaigns }: PlanInput): 'quick' | 'full' {
  let messages = 0;
  for (let p = 0; p < recipients.count; p++)
    messages += (campaigns[recipients.campaign[p] as number]?.steps.length ?? 0) - (recipients.nextStep[p] as number);
  return messages > FULL_UP_TO ? 'quick' : 'full';
}

interface Expected {
  input: PlanInput;
  madeFrom: number[];
}

function campaignAnswer(id: number, campaign: number, plan: Plan, { input, madeFrom }: Expected): CampaignAnswer {
  const own = plan.campaigns.filter((_, c) => madeFrom[c] === campaign);
  const last = (of: (c: Plan['campaigns'][number]) => number | null) => {
    const day = Math.max(...own.map((c) => of(c) ?? -Infinity), -Infinity);
    return Number.isFinite(day) ? isoDate(day) : null;
  };
  const reasons = new Map<string, number>();
  for (const { recipient, reason } of plan.notPlaced)
    if (madeFrom[input.recipients.campaign[recipient] as number] === campaign)
      reasons.set(reason, (reasons.get(reason) ?? 0) + 1);
  return {
    id,
    lastStartDay: last((c) => c.lastStartDay),
    lastDay: last((c) => c.lastDay),
    late: own.reduce((sum, c) => sum + c.late, 0),
    notPlaced: [...reasons].map(([reason, people]) => ({ reason, people })),
  };
}

/** Days of ceilings that a board may show. */
const DAYS_SHOWN = 400;

function ceilingsByDay(
  mailboxes: readonly number[],
  base: number,
  units: readonly Int32Array[],
): WhatIfAnswer['ceilings'] {
  const days = Array.from({ length: Math.min(DAYS_SHOWN, units[0]?.length ?? 0) }, (_, i) => isoDate(base + i));
  return new Map(
    mailboxes.map((id, m) => {
      const own = units[m] as Int32Array;
      return [id, new Map(days.map((day, i) => [day, (own[i] as number) < 0 ? null : (own[i] as number)]))];
    }),
  );
}

const noLoad = (mailboxId: number, campaignId: number, day: number): PlanLoad => ({
  mailboxId,
  day: isoDate(day),
  campaignId,
  first: 0,
  followUps: 0,
  firstSent: 0,
  followUpsSent: 0,
  messages: 0,
  held: 0,
});

function loadsOf(plan: Plan, { input, madeFrom }: Expected, ids: PlanWork['ids']): PlanLoad[] {
  const { recipient, step, mailbox, day } = plan.columns;
  const { campaign, units } = input.recipients;
  const loads: PlanLoad[] = [];
  // The messages of a mailbox's day stand together: where the load of each campaign on it is.
  const at = new Int32Array(ids.campaigns.length);
  for (let k = 0; k < recipient.length; k++) {
    if (k === 0 || mailbox[k] !== mailbox[k - 1] || day[k] !== day[k - 1]) at.fill(-1);
    const p = recipient[k] as number;
    const own = madeFrom[campaign[p] as number] as number;
    if (at[own] === -1)
      at[own] =
        loads.push(
          noLoad(ids.mailboxes[mailbox[k] as number] as number, ids.campaigns[own] as number, day[k] as number),
        ) - 1;
    const load = loads[at[own] as number] as PlanLoad;
    if (step[k] === 0) load.first += units[p] as number;
    else load.followUps += units[p] as number;
    load.messages++;
  }
  return loads;
}
