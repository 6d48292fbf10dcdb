import { hash32 } from '../../random/seeded';
import type { PlanCampaign, PlanInput } from '../workspace/plan-input';

/** A planning input in which some people reply, and the original campaign of each of its campaigns. */
export interface WithReplies {
  input: PlanInput;
  /** Of each campaign of the input, the index of the one it was made from. */
  madeFrom: number[];
}

/**
 * The same work if some people reply after each message and get no more. Who replies is drawn at random, with the same
 * result every time. Each campaign is split by the number of messages that its people get; the parts share its weight and
 * daily limit in proportion to their size.
 *
 * @param rate replies for each message, 0 to 1, by campaign
 */
export function expectReplies(input: PlanInput, rate: (campaign: number) => number): WithReplies {
  const r = input.recipients;
  const campaigns: PlanCampaign[] = [];
  const madeFrom: number[] = [];
  const cutAt = new Map<string, number>();
  const people: number[] = [];
  const campaign: number[] = [];
  const kept: number[] = [];
  for (let p = 0; p < r.count; p++) {
    const own = r.campaign[p]!;
    const messages = messagesBefore(input, p, rate(own));
    // They have already replied in this draw: nothing more is sent to them.
    if (messages <= r.nextStep[p]!) continue;
    const key = `${own} ${messages}`;
    let at = cutAt.get(key);
    if (at === undefined) {
      at = campaigns.push({ ...input.campaigns[own]!, steps: input.campaigns[own]!.steps.slice(0, messages) }) - 1;
      madeFrom.push(own);
      people.push(0);
      cutAt.set(key, at);
    }
    people[at]!++;
    campaign.push(at);
    kept.push(p);
  }
  share(campaigns, madeFrom, people);
  const take = (column: readonly number[]) => kept.map((p) => column[p]!);
  return {
    madeFrom,
    input: {
      ...input,
      campaigns,
      recipients: {
        count: kept.length,
        campaign,
        zone: take(r.zone),
        domain: take(r.domain),
        notBefore: take(r.notBefore),
        units: take(r.units),
        boundMailbox: take(r.boundMailbox),
        nextStep: take(r.nextStep),
        dueDay: take(r.dueDay),
        ...(r.at && { at: take(r.at) }),
      },
    },
  };
}

/** How many messages a person gets until they reply, as drawn. */
function messagesBefore({ seed, campaigns, recipients }: PlanInput, p: number, rate: number): number {
  const steps = campaigns[recipients.campaign[p]!]!.steps.length;
  for (let s = Math.max(0, recipients.nextStep[p]! - 1); s < steps; s++)
    if (hash32(`${seed} ${p} ${s}`) / 2 ** 32 < rate) return s + 1;
  return steps;
}

function share(campaigns: PlanCampaign[], madeFrom: readonly number[], people: readonly number[]): void {
  campaigns.forEach((c, i) => {
    const all = madeFrom.reduce((sum, own, k) => sum + (own === madeFrom[i] ? people[k]! : 0), 0);
    const part = people[i]! / all;
    c.weight *= part;
    if (c.dailyLimit !== null && part < 1) c.dailyLimit = Math.max(1, Math.round(c.dailyLimit * part));
  });
}
