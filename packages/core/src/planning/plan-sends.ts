import { advanceFollowUps } from './replan/advance-follow-ups';
import type { Effort } from './course/aim-starts';
import { betterPlacements } from './replan/better-placements';
import { daysNeeded } from './workspace/days-needed';
import { forecastOf } from './forecast-of';
import { Keeper, type EarlierPlan } from './replan/keep-placed';
import { placeDue, placeLate } from './placing/place-due';
import { placeNew } from './placing/place-new';
import { TimedStarts } from './placing/place-timed';
import { noPlacements, type Placements } from './placements/placements';
import { MAX_HORIZON_DAYS } from './workspace/plan-days';
import { Plan, type DeliveryColumns, type PlanInput } from './workspace/plan-input';
import { pullForward } from './placing/pull-forward';
import { everyMailbox, Timetable } from './timing/time-days';
import { WhyNotPlaced } from './placing/why-not-placed';

/** How much effort a plan gets: `quick` while a setting is being tried, `full` for plans that are stored. */
export type Tier = 'quick' | 'full';

const EFFORT: Record<Tier, Effort & { pulled: number }> = {
  quick: { iterations: 1, classes: 3, shapes: 10, gap: 1e-3, bucketDays: 1, deviatesFrom: 250, pulled: 0.05 },
  full: { iterations: 3, classes: 5, shapes: 24, gap: 1e-3, bucketDays: 1, deviatesFrom: 0, pulled: 0.3 },
};

/** Why somebody is not planned whose first message would leave after their campaign's end. */
export const ENDS_BEFORE = 'the campaign ends before there is room for them';

/** People whose day ran out of instants are moved to a later day, in at most this many rounds over the whole plan. */
const MAX_ROUNDS = 40;

/**
 * Plans every message to come: mailbox, day and instant. Pure and deterministic: the same input gives the
 * same plan.
 *
 * Always true of the plan: no mailbox-day over its capacity; no 24 hours over the provider's limit; every
 * instant inside the mailbox's window and the recipient's, and at least the pace apart in one mailbox; all
 * messages of one recipient from one mailbox; follow-ups not before their delay; at most `domainCap` a day
 * to one domain; nobody before their date; nothing from held or resting mailboxes or for held campaigns. A
 * recipient has all remaining messages in the plan or none, then with the reason.
 *
 * A first message with an instant of its own leaves then, or as soon after it as all this allows. No first message leaves
 * before its campaign's `startInstant`, and none at all from its `endInstant` on: of somebody whose messages would go on
 * after it only the earlier ones are in the plan.
 *
 * Order of work: whoever has an instant of their own ({@link TimedStarts}), people in progress ({@link placeDue}), then people
 * who have not started, along the courses of the linear programs ({@link placeNew}); then the last to start are pulled forward
 * into gaps and follow-ups moved to the first free day; then instants.
 *
 * @param earlier the previous plan of the same work: whatever still holds stays, to the instant, unless it would make a
 *   follow-up late or a start can use room that has become free
 * @throws DomainError `invalid` for a zone, date or calendar that does not exist
 */
export function planSends(input: PlanInput, tier: Tier = 'full', earlier?: EarlierPlan): Plan {
  // Most plans end long before their horizon, and their cost grows with the number of days.
  const horizonDays = Math.min(input.horizonDays, MAX_HORIZON_DAYS);
  for (let near = daysNeeded(input); near < horizonDays; near *= 2) {
    const { plan, isCut } = planWithin({ ...input, horizonDays: near }, tier, true, earlier);
    if (!isCut) return plan;
  }
  return planWithin(input, tier, false, earlier).plan;
}

/**
 * Plans within the input's horizon. `isCut`: a longer plan might have room for somebody who has none.
 *
 * @param mayGrow whether a longer plan is tried in that case
 */
function planWithin(
  input: PlanInput,
  tier: Tier,
  mayGrow: boolean,
  earlier?: EarlierPlan,
): { plan: Plan; isCut: boolean } {
  const { placements, keeper } = earlier
    ? place(input, EFFORT[tier], earlier)
    : { placements: placeWell(input, tier, mayGrow), keeper: null };
  const timetable = new Timetable(input, placements, keeper);
  const outOfHours = timeAll(placements, timetable);
  const tooLate = timetable.cutAtEnds();
  const why = new WhyNotPlaced(input, placements);
  const left = unplaced(placements);
  const notPlaced = left.map((recipient) => ({
    recipient,
    reason: tooLate.has(recipient)
      ? ENDS_BEFORE
      : outOfHours.has(recipient)
        ? 'there are too few hours in which mailbox and recipient may both'
        : why.reason(recipient),
  }));
  const isCut = left.some((p) => !tooLate.has(p) && why.forGood(p) === null);
  return { plan: new Plan(columnsOf(placements, timetable), notPlaced, forecastOf(placements)), isCut };
}

/**
 * The full tier also tries other courses where campaigns share mailboxes: telling more campaigns apart does not always
 * give a better plan once people are placed one by one.
 */
function placeWell(input: PlanInput, tier: Tier, mayGrow: boolean): Placements {
  const [quick, full] = [() => place(input, EFFORT.quick).placements, () => place(input, EFFORT.full).placements];
  if (tier === 'quick') return quick();
  if (input.campaigns.length < 2) return full();
  const first = quick();
  // Little effort for a plan that will be made again.
  if (mayGrow && isCutShort(input, first)) return first;
  return [place(input, { ...EFFORT.quick, iterations: 2 }).placements, first].reduce(betterPlacements, full());
}

function isCutShort(input: PlanInput, placements: Placements): boolean {
  const why = new WhyNotPlaced(input, placements);
  return unplaced(placements).some((p) => why.forGood(p) === null);
}

function unplaced({ mailbox }: Placements): number[] {
  const out: number[] = [];
  for (let p = 0; p < mailbox.length; p++) if (mailbox[p]! < 0) out.push(p);
  return out;
}

/** Gives everybody a mailbox and days. */
function place(
  input: PlanInput,
  effort: (typeof EFFORT)[Tier],
  earlier?: EarlierPlan,
): { placements: Placements; keeper: Keeper | null } {
  const placements = noPlacements(input);
  const keeper = earlier ? new Keeper(placements, earlier) : null;
  keeper?.move();
  placeTimed(placements, keeper);
  keeper?.keepDue();
  placeDue(placements, hasStarters(placements));
  keeper?.keepStarters();
  for (const p of placeNew(placements, input.domainCap, effort)) placeLate(placements, p, 0);
  pullForward(placements, effort.pulled, earlier?.move?.recipient);
  advanceFollowUps(placements, keeper);
  return { placements, keeper };
}

function placeTimed(placements: Placements, keeper: Keeper | null): void {
  const { at } = placements.book.people;
  if (at) new TimedStarts(placements, at, (p) => keeper?.mailboxOf(p) ?? -1).place();
}

function hasStarters({ book }: Placements): boolean {
  for (let p = 0; p < book.people.count; p++) if (book.people.nextStep[p] === 0) return true;
  return false;
}

/** Times everything, moving people without an instant to later days. @returns those left without one */
function timeAll(placements: Placements, timetable: Timetable): Set<number> {
  const given = new Set<number>();
  let mailboxes = everyMailbox(placements);
  for (let round = 0; mailboxes.size > 0; round++) {
    const touched = new Set<number>();
    for (const [p, day] of timetable.time(mailboxes)) {
      touched.add(placements.mailbox[p]!);
      placements.free(p);
      if (round < MAX_ROUNDS && placeAgain(placements, p, day + 1)) touched.add(placements.mailbox[p]!);
      else given.add(p);
    }
    mailboxes = touched;
  }
  return given;
}

function placeAgain(placements: Placements, p: number, from: number): boolean {
  const { people } = placements.book;
  const starts = people.nextStep[p] === 0;
  if (people.at && people.at[p]! >= 0) return new TimedStarts(placements, people.at).placeOne(p, from);
  for (let i = Math.max(from, people.earliest[p]!); starts && i < placements.days.count; i++)
    for (const m of placements.mailboxes(p)) if (placements.start(p, m, i)) return true;
  return placeLate(placements, p, from);
}

function columnsOf(placements: Placements, timetable: Timetable): DeliveryColumns {
  const { days, day, mailbox, width } = placements;
  const order = timetable.inOrder();
  const { instant } = timetable;
  const n = order.length;
  const out: DeliveryColumns = {
    recipient: new Int32Array(n),
    step: new Int32Array(n),
    mailbox: new Int32Array(n),
    day: new Int32Array(n),
    instant: new Float64Array(n),
  };
  for (let at = 0; at < n; at++) {
    const k = order[at]!;
    const p = Math.floor(k / width);
    out.recipient[at] = p;
    out.step[at] = k - p * width;
    out.mailbox[at] = mailbox[p]!;
    out.day[at] = days.base + day[k]!;
    out.instant[at] = instant[k]!;
  }
  return out;
}
