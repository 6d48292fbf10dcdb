import { dayNumber } from '../time/days';
import { workingCalendar } from '../time/working-calendar';
import type { MinuteSpan } from '../time/window';
import type { PlanInput } from './plan-input';

/** One thing that would be different; mailboxes and campaigns by their ids in the workspace. */
export type PlanChange =
  /** Units a day. */
  | { kind: 'quota'; mailbox: number; to: number }
  /** Least gap, seconds. */
  | { kind: 'pace'; mailbox: number; to: number }
  /** The hours of every weekday that is open. */
  | { kind: 'window'; mailbox: number; to: MinuteSpan }
  /** First day, ISO date. */
  | { kind: 'start'; campaign: number; to: string }
  /** Working days between a message and the one before it; step 1 or later. */
  | { kind: 'spacing'; campaign: number; step: number; to: number }
  /** Most messages a day; null for no limit. */
  | { kind: 'limit'; campaign: number; to: number | null }
  /** How many start in it for each one of another campaign. */
  | { kind: 'share'; campaign: number; to: number }
  /** Whether a campaign may use a mailbox. */
  | { kind: 'use'; campaign: number; mailbox: number; to: boolean }
  /** Answers for each message, 0 to 1. */
  | { kind: 'replies'; to: number };

/** Which mailboxes and campaigns the indices of a planning input stand for. */
export interface PlanIds {
  mailboxes: number[];
  campaigns: number[];
}

/** What a change is about: a later change of the same thing takes its place. */
export function changeKey(change: PlanChange): string {
  const { kind } = change;
  const of = [
    'mailbox' in change ? `m${change.mailbox}` : '',
    'campaign' in change ? `c${change.campaign}` : '',
    kind === 'spacing' ? `s${change.step}` : '',
  ];
  return [kind, ...of.filter((part) => part !== '')].join(' ');
}

/** Changes with one more, which takes the place of one of the same thing. */
export function withChange(changes: readonly PlanChange[], change: PlanChange): PlanChange[] {
  const key = changeKey(change);
  return changes.some((c) => changeKey(c) === key)
    ? changes.map((c) => (changeKey(c) === key ? change : c))
    : [...changes, change];
}

/**
 * The input as it would be with some changes; it stays as it is itself. Mailboxes and campaigns that are not in it
 * (any more) change nothing. Expected replies are not of the input: see {@link expectReplies}.
 */
export function applyChanges(input: PlanInput, ids: PlanIds, changes: readonly PlanChange[]): PlanInput {
  const out: PlanInput = {
    ...input,
    mailboxes: input.mailboxes.map((m) => ({ ...m })),
    campaigns: input.campaigns.map((c) => ({ ...c, steps: c.steps.map((s) => ({ ...s })) })),
    recipients: { ...input.recipients },
  };
  for (const change of changes) applyOne(out, ids, change);
  return out;
}

function applyOne(input: PlanInput, ids: PlanIds, change: PlanChange): void {
  const m = 'mailbox' in change ? ids.mailboxes.indexOf(change.mailbox) : -1;
  const c = 'campaign' in change ? ids.campaigns.indexOf(change.campaign) : -1;
  const mailbox = input.mailboxes[m];
  const campaign = input.campaigns[c];
  if (change.kind === 'use') {
    if (!mailbox || !campaign) return;
    const others = campaign.mailboxes.filter((other) => other !== m);
    campaign.mailboxes = change.to ? [...others, m].sort((a, b) => a - b) : others;
  } else if (mailbox) {
    if (change.kind === 'quota') {
      const { capacity } = mailbox;
      mailbox.capacity = 'days' in capacity ? { quota: change.to } : { ...capacity, quota: change.to };
    } else if (change.kind === 'pace') mailbox.paceSeconds = change.to;
    else if (change.kind === 'window')
      mailbox.windows = mailbox.windows.map((spans) => (spans.length === 0 ? [] : [change.to]));
  } else if (campaign) {
    if (change.kind === 'start') campaign.startDate = change.to;
    else if (change.kind === 'limit') campaign.dailyLimit = change.to;
    else if (change.kind === 'share') campaign.weight = change.to;
    else if (change.kind === 'spacing') space(input, c, change.step, change.to);
  }
}

/** People who have had the message before wait as many working days more or less; not those who wait for a date of their own. */
function space(input: PlanInput, c: number, step: number, delay: number): void {
  const own = input.campaigns[c]!.steps[step];
  if (!own || step === 0) return;
  const more = delay - own.delay;
  own.delay = delay;
  const { recipients } = input;
  const calendar = workingCalendar(input.calendar.weekdays, input.calendar.holidays);
  recipients.dueDay = recipients.dueDay.map((due, p) => {
    const isMeant = recipients.campaign[p] === c && recipients.nextStep[p] === step;
    return isMeant && due !== recipients.notBefore[p] ? calendar.add(due, more) : due;
  });
}

/** The answers for each message that some changes expect, or null where they say nothing of it. */
export function expectedReplies(changes: readonly PlanChange[]): number | null {
  for (const change of changes) if (change.kind === 'replies') return change.to;
  return null;
}

/** What is wrong with a change, in a sentence, or null. */
export function faultOfChange(change: PlanChange, today: string): string | null {
  const whole = (n: number, least: number, most: number) => Number.isInteger(n) && n >= least && n <= most;
  switch (change.kind) {
    case 'quota':
      return whole(change.to, 0, 100_000) ? null : 'A daily quota is a whole number from 0 to 100,000.';
    case 'pace':
      return whole(change.to, 0, 86_400) ? null : 'A pace is a whole number of seconds from 0 to a day.';
    case 'window':
      return change.to[0] >= 0 && change.to[0] < change.to[1] && change.to[1] <= 1440
        ? null
        : 'A window ends after it begins, on the same day.';
    case 'start':
      return isDate(change.to) && change.to >= today ? null : 'A start is a date from today on.';
    case 'spacing':
      return whole(change.to, 1, 250) ? null : 'A follow-up waits 1 to 250 working days.';
    case 'limit':
      return change.to === null || whole(change.to, 1, 100_000) ? null : 'A limit is at least 1 a day.';
    case 'share':
      return whole(change.to, 1, 9) ? null : 'A share is a whole number from 1 to 9.';
    case 'use':
      return null;
    case 'replies':
      return change.to >= 0 && change.to <= 1 ? null : 'A reply rate is from 0 to 100 in a hundred.';
  }
}

function isDate(text: string): boolean {
  try {
    return dayNumber(text) > 0;
  } catch {
    return false;
  }
}
