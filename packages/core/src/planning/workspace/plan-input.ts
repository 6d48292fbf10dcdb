import type { MinuteSpan, WeekWindows } from '../../time/window';

/** Units a mailbox may send on a local day: a quota, perhaps ramping up to it, or a list day by day. */
export type Capacity = { quota: number; ramp?: Ramp | null } | { days: number[] };

/** min(quota, first + add * floor(k / every)), k = working days passed since day number `day`. */
export interface Ramp {
  day: number;
  first: number;
  add: number;
  every: number;
}

export interface PlanMailbox {
  /** IANA zone of its windows and days. */
  zone: string;
  windows: WeekWindows;
  capacity: Capacity;
  /** ISO dates on which nothing is sent. */
  daysOff: string[];
  /** Least gap between two messages, seconds, 0 or more. */
  paceSeconds: number;
  /** Most units in any (t - 24 h, t], or null. */
  providerLimit24h: number | null;
  /** What it sent before now; counts for today's quota, the provider's limit and the pace. */
  alreadyUsed: { instant: number; units: number }[];
  /** ISO local date before which nothing is sent, or null. */
  restUntil: string | null;
  held: boolean;
}

/** When recipients may be written to, in their own zones: half-open minutes on ISO weekdays. */
export interface RecipientWindow {
  weekdays: number[];
  from: number;
  to: number;
}

/** One message of a campaign's sequence. */
export interface PlanStep {
  delay: number;
  tolerance: number;
  /** Minutes of the recipient's days in which it leaves, within `recipientWindow`; absent or null: all of them. */
  hours?: { from: number; to: number } | null;
  /** Instant from which on it does not leave: whoever would get it later goes on with the next. Absent or null: none. */
  endInstant?: number | null;
}

export interface PlanCampaign {
  /** `delay` working days after the person's previous message at least, `delay + tolerance` at most; step 0: 0, 0. */
  steps: PlanStep[];
  /** Share of the starts when campaigns compete, above 0. */
  weight: number;
  /** Most messages of all steps on one mailbox-local date over all mailboxes, or null. */
  dailyLimit: number | null;
  /** Messages of all steps already sent, by mailbox-local day number; they count against `dailyLimit`. Absent: none. */
  alreadySent?: { day: number; messages: number }[];
  /** ISO date, mailbox-local; no first message before it. */
  startDate: string;
  /** Instant before which there is no first message either. Absent or null: none. */
  startInstant?: number | null;
  /** Instant from which on nothing leaves: what would come later is not in the plan. Absent or null: none. */
  endInstant?: number | null;
  held: boolean;
  recipientWindow: RecipientWindow | null;
  /** Indices into the mailboxes. */
  mailboxes: number[];
}

/** Columns of equal length, one entry per recipient. */
export interface PlanRecipients {
  count: number;
  campaign: number[];
  /** Index into `zones`. */
  zone: number[];
  /** Index into `domains`. */
  domain: number[];
  /** Day number before which nothing is sent, or -1. */
  notBefore: number[];
  /** 1 + cc + bcc. */
  units: number[];
  /** Mailbox that all messages come from, or -1. */
  boundMailbox: number[];
  /** 0 = not started. */
  nextStep: number[];
  /** Earliest day number of `nextStep`; -1 when not started. */
  dueDay: number[];
  /**
   * Instant at which the first message leaves, or as soon after it as mailbox and recipient allow; -1 for none. Of no
   * meaning for those who have started. Absent: none for anybody.
   */
  at?: number[];
}

export interface PlanInput {
  seed: number;
  /** Nothing is sent before this instant. */
  now: number;
  /** Days after today that the plan may use. */
  horizonDays: number;
  /** Working days in which delays, tolerances and ramps count; does not itself close a mailbox. */
  calendar: { weekdays: number[]; holidays: string[] };
  /** Most messages to one domain from one mailbox on one mailbox-local day, or null. */
  domainCap: number | null;
  mailboxes: PlanMailbox[];
  campaigns: PlanCampaign[];
  zones: string[];
  recipients: PlanRecipients;
}

export interface PlannedDelivery {
  recipient: number;
  step: number;
  mailbox: number;
  /** Mailbox-local day number. */
  day: number;
  instant: number;
}

export interface CampaignForecast {
  /** Day numbers, or null when nothing of the campaign is in the plan. */
  firstDay: number | null;
  lastStartDay: number | null;
  lastDay: number | null;
  /** Follow-ups planned later than their tolerance. */
  late: number;
}

/** The messages of a plan in columns of equal length, by mailbox and day. */
export interface DeliveryColumns {
  recipient: Int32Array;
  step: Int32Array;
  mailbox: Int32Array;
  day: Int32Array;
  instant: Float64Array;
}

export class Plan {
  private listed: PlannedDelivery[] | undefined;

  /**
   * @param columns every message
   * @param notPlaced who is not in the plan, and why, in order of recipients
   * @param campaigns one for each campaign of the input
   */
  constructor(
    readonly columns: DeliveryColumns,
    readonly notPlaced: { recipient: number; reason: string }[],
    readonly campaigns: CampaignForecast[],
  ) {}

  /** The messages one by one, in order of time. */
  get deliveries(): PlannedDelivery[] {
    const { recipient, step, mailbox, day, instant } = this.columns;
    this.listed ??= Array.from(instant, (at, k): PlannedDelivery => ({
      recipient: recipient[k]!,
      step: step[k]!,
      mailbox: mailbox[k]!,
      day: day[k]!,
      instant: at,
    })).sort((a, b) => a.instant - b.instant || a.mailbox - b.mailbox || a.recipient - b.recipient);
    return this.listed;
  }
}

export type { MinuteSpan };
