import { DAY_MS } from '../../time/clock';
import { dayNumber } from '../../time/days';
import { dayWords, type DateForm } from '../../time/day-words';
import { clockWords } from '../../time/clock-words';
import type { MinuteSpan, WeekWindows } from '../../time/window';
import { workingCalendar } from '../../time/working-calendar';
import type { PlanInput } from '../workspace/plan-input';

/** The subject and new value of each kind of change; mailboxes and campaigns by their ids in the workspace. */
interface Shapes {
  /** Units a day. */
  quota: { mailbox: number; to: number };
  /** The hours of every weekday that is open. */
  window: { mailbox: number; to: MinuteSpan };
  /** Least gap, seconds. */
  pace: { mailbox: number; to: number };
  /** First day, ISO date. */
  start: { campaign: number; to: string };
  /** Working days between a message and the one before it; step 1 or later. */
  spacing: { campaign: number; step: number; to: number };
  /** Most messages a day; null for no limit. */
  limit: { campaign: number; to: number | null };
  /** How many people start in it for each one of another campaign. */
  share: { campaign: number; to: number };
  /** Whether a campaign may use a mailbox. */
  use: { campaign: number; mailbox: number; to: boolean };
  /** Replies for each message, 0 to 1. */
  replies: { to: number };
}

export type PlanChangeKind = keyof Shapes;

/** One thing that would be different. */
export type PlanChange<K extends PlanChangeKind = PlanChangeKind> = { [P in K]: { kind: P } & Shapes[P] }[K];

/** The settings of a mailbox that changes can affect. */
export interface MailboxSettings {
  dailyQuota: number;
  paceSeconds: number;
  windows: WeekWindows;
}

/** The settings of a campaign that changes can affect. */
export interface CampaignSettings {
  startDate: string;
  /** For each message, working days after the one before. */
  delays: readonly number[];
  dailyLimit: number | null;
  share: number;
  mailboxIds: readonly number[];
}

export type ChangeTarget = 'mailbox' | 'campaign' | 'step';

/** The subject of a change, with its current settings. */
export interface ChangeSubject {
  mailbox: MailboxSettings & { id: number };
  campaign: CampaignSettings;
  step: number;
  /** ISO date. */
  today: string;
}

/** How a value is set on the screen, and what may be sent for it. */
export type ChangeEntry =
  /** `scale`: the number shown on screen for 1. `optional`: blank means null. */
  | {
      form: 'number';
      lead: string;
      trail: string;
      label: string;
      min: number;
      max: number;
      step: number;
      scale?: number;
      optional?: true;
    }
  | { form: 'hours' }
  | { form: 'date'; label: string }
  | { form: 'tick'; label: string };

/** What a mailbox and a campaign are called. */
export interface SubjectNames {
  mailbox: string;
  campaign: string;
}

/** A mailbox and a campaign of a planning input. */
interface PlanPart {
  input: PlanInput;
  mailboxAt: number;
  campaignAt: number;
}

/** Everything Baton knows about one kind of what-if; a new kind is one more entry in the table below. */
interface WhatIfKind<K extends PlanChangeKind> {
  menu: string;
  targets: readonly ChangeTarget[];
  entry: ChangeEntry;
  /** The current value, with which a new change of this kind begins. */
  now(subject: ChangeSubject): Shapes[K]['to'];
  /** What is wrong with a value, in a sentence, or null. */
  fault(to: Shapes[K]['to'], today: string): string | null;
  /** The name of the setting without its owner: `daily quota`. */
  label(change: PlanChange<K>, names: SubjectNames): string;
  show(to: Shapes[K]['to'], form: DateForm): string;
  /** Changes a copy of the planning input; a campaign or mailbox no longer in it is -1. */
  plan(part: PlanPart, change: PlanChange<K>): void;
  /** The settings that applying it changes; null if it can only be explored. */
  setMailbox?(to: Shapes[K]['to'], before: MailboxSettings): Partial<MailboxSettings>;
  setCampaign?(change: PlanChange<K>, before: CampaignSettings): Partial<CampaignSettings>;
}

const whole = (n: number | null, least: number, most: number) =>
  n !== null && Number.isInteger(n) && n >= least && n <= most;
const gapWords = (seconds: number) =>
  seconds % 60 === 0 && seconds > 0 ? `${seconds / 60} min apart` : `${seconds} s apart`;
const yesOrNo = (is: boolean) => (is ? 'yes' : 'no');
const openHours = (windows: WeekWindows, to: MinuteSpan): WeekWindows =>
  windows.map((spans) => (spans.length === 0 ? [] : [to]));

export const WHAT_IF_KINDS: { readonly [K in PlanChangeKind]: WhatIfKind<K> } = {
  quota: {
    menu: 'A mailbox’s daily quota',
    targets: ['mailbox'],
    entry: { form: 'number', lead: 'sends', trail: 'a day', label: 'Messages a day', min: 0, max: 100_000, step: 1 },
    now: ({ mailbox }) => mailbox.dailyQuota,
    fault: (to) => (whole(to, 0, 100_000) ? null : 'A daily quota is a whole number from 0 to 100,000.'),
    label: () => 'daily quota',
    show: String,
    plan: ({ input, mailboxAt }, { to }) => {
      const mailbox = input.mailboxes[mailboxAt];
      if (mailbox) mailbox.capacity = 'days' in mailbox.capacity ? { quota: to } : { ...mailbox.capacity, quota: to };
    },
    setMailbox: (dailyQuota) => ({ dailyQuota }),
  },
  window: {
    menu: 'A mailbox’s sending window',
    targets: ['mailbox'],
    entry: { form: 'hours' },
    now: ({ mailbox }) => mailbox.windows.find((spans) => spans.length > 0)?.[0] ?? [540, 1020],
    fault: ([from, to]) =>
      from >= 0 && from < to && to <= 1440 ? null : 'A window ends after it begins, on the same day.',
    label: () => 'sending window',
    show: ([from, to]) => `${clockWords(from)}–${clockWords(to)}`,
    plan: ({ input, mailboxAt }, { to }) => {
      const mailbox = input.mailboxes[mailboxAt];
      if (mailbox) mailbox.windows = openHours(mailbox.windows, to);
    },
    setMailbox: (to, { windows }) => ({ windows: openHours(windows, to) }),
  },
  pace: {
    menu: 'A mailbox’s pace',
    targets: ['mailbox'],
    entry: {
      form: 'number',
      lead: 'at least',
      trail: 'seconds apart',
      label: 'Seconds between two messages',
      min: 0,
      max: 86_400,
      step: 10,
    },
    now: ({ mailbox }) => mailbox.paceSeconds,
    fault: (to) => (whole(to, 0, 86_400) ? null : 'A pace is a whole number of seconds from 0 to a day.'),
    label: () => 'pace',
    show: gapWords,
    plan: ({ input, mailboxAt }, { to }) => {
      const mailbox = input.mailboxes[mailboxAt];
      if (mailbox) mailbox.paceSeconds = to;
    },
    setMailbox: (paceSeconds) => ({ paceSeconds }),
  },
  start: {
    menu: 'A campaign’s start date',
    targets: ['campaign'],
    entry: { form: 'date', label: 'Start date' },
    now: ({ campaign, today }) => (campaign.startDate < today ? today : campaign.startDate),
    fault: (to, today) => (isDate(to) && to >= today ? null : 'A start is a date from today on.'),
    label: () => 'start',
    show: (to, form) => (isDate(to) ? dayWords(to, 'short', form) : ''),
    plan: ({ input, campaignAt }, { to }) => {
      const campaign = input.campaigns[campaignAt];
      if (!campaign) return;
      const later = (dayNumber(to) - dayNumber(campaign.startDate)) * DAY_MS;
      if (campaign.startInstant != null) campaign.startInstant += later;
      campaign.startDate = to;
    },
    setCampaign: ({ to }) => ({ startDate: to }),
  },
  spacing: {
    menu: 'The wait before a follow-up',
    targets: ['campaign', 'step'],
    entry: {
      form: 'number',
      lead: 'is sent',
      trail: 'working days after the one before',
      label: 'Working days',
      min: 1,
      max: 250,
      step: 1,
    },
    now: ({ campaign, step }) => campaign.delays[step] ?? 3,
    fault: (to) => (whole(to, 1, 250) ? null : 'A follow-up waits 1 to 250 working days.'),
    label: ({ step }) => `wait before follow-up ${step}`,
    show: (to) => (to === 1 ? '1 working day' : `${to} working days`),
    plan: ({ input, campaignAt }, { step, to }) => spaceOut(input, campaignAt, step, to),
    setCampaign: ({ step, to }, { delays }) => ({ delays: delays.map((delay, i) => (i === step ? to : delay)) }),
  },
  limit: {
    menu: 'A campaign’s daily limit',
    targets: ['campaign'],
    entry: {
      form: 'number',
      lead: 'at most',
      trail: 'a day; leave blank for no limit',
      label: 'Messages a day; blank for no limit',
      min: 1,
      max: 100_000,
      step: 1,
      optional: true,
    },
    now: ({ campaign }) => campaign.dailyLimit,
    fault: (to) => (to === null || whole(to, 1, 100_000) ? null : 'A limit is at least 1 a day.'),
    label: () => 'daily limit',
    show: (to) => (to === null ? 'none' : String(to)),
    plan: ({ input, campaignAt }, { to }) => {
      const campaign = input.campaigns[campaignAt];
      if (campaign) campaign.dailyLimit = to;
    },
    setCampaign: ({ to }) => ({ dailyLimit: to }),
  },
  share: {
    menu: 'A campaign’s share of new starts',
    targets: ['campaign'],
    entry: {
      form: 'number',
      lead: 'starts',
      trail: 'people for each one of another campaign',
      label: 'People for each one of another campaign',
      min: 1,
      max: 9,
      step: 1,
    },
    now: ({ campaign }) => campaign.share,
    fault: (to) => (whole(to, 1, 9) ? null : 'A share is a whole number from 1 to 9.'),
    label: () => 'share of starts',
    show: (to) => `${to} : 1`,
    plan: ({ input, campaignAt }, { to }) => {
      const campaign = input.campaigns[campaignAt];
      if (campaign) campaign.weight = to;
    },
    setCampaign: ({ to }) => ({ share: to }),
  },
  use: {
    menu: 'Which mailboxes a campaign uses',
    targets: ['campaign', 'mailbox'],
    entry: { form: 'tick', label: 'the campaign uses it' },
    now: ({ campaign, mailbox }) => campaign.mailboxIds.includes(mailbox.id),
    fault: () => null,
    label: (_, { mailbox }) => `uses ${mailbox}`,
    show: yesOrNo,
    plan: ({ input, campaignAt, mailboxAt }, { to }) => {
      const campaign = input.campaigns[campaignAt];
      if (!campaign || mailboxAt < 0) return;
      const others = campaign.mailboxes.filter((m) => m !== mailboxAt);
      campaign.mailboxes = to ? [...others, mailboxAt].sort((a, b) => a - b) : others;
    },
    setCampaign: ({ mailbox, to }, { mailboxIds }) => {
      const others = mailboxIds.filter((m) => m !== mailbox);
      return { mailboxIds: to ? [...others, mailbox] : others };
    },
  },
  replies: {
    menu: 'The reply rate',
    targets: [],
    entry: {
      form: 'number',
      lead: 'Reply rate',
      trail: '% of messages. Exploration only: replies cannot be set.',
      label: 'Reply rate, per cent',
      min: 0,
      max: 100,
      step: 1,
      scale: 100,
    },
    now: () => 0.05,
    fault: (to) => (to >= 0 && to <= 1 ? null : 'A reply rate is from 0 to 100 %.'),
    label: () => 'reply rate',
    show: (to) => `${Math.round(to * 1000) / 10} %`,
    // Whose replies are expected decides which messages are to come: see `expectReplies`.
    plan: () => undefined,
  },
};

/** Moves the due day of people who have had the previous message, unless they wait for a date of their own. */
function spaceOut(input: PlanInput, campaignAt: number, step: number, delay: number): void {
  const own = input.campaigns[campaignAt]?.steps[step];
  if (!own || step === 0) return;
  const more = delay - own.delay;
  own.delay = delay;
  const { recipients } = input;
  const calendar = workingCalendar(input.calendar.weekdays, input.calendar.holidays);
  recipients.dueDay = recipients.dueDay.map((due, p) => {
    const isMeant = recipients.campaign[p] === campaignAt && recipients.nextStep[p] === step;
    return isMeant && due !== recipients.notBefore[p] ? calendar.add(due, more) : due;
  });
}

function isDate(text: string): boolean {
  try {
    return dayNumber(text) > 0;
  } catch {
    return false;
  }
}
