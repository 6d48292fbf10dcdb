import type { CampaignSettings, DeliveryState, MailboxSettings, PlanChange, PlanIds, PlanInput } from '@baton/core';

/** What one mailbox has of one campaign on one day, gone and to come. */
export interface PlanLoad {
  mailboxId: number;
  /** ISO date, local to the mailbox. */
  day: string;
  campaignId: number;
  /** In units: copies count. */
  first: number;
  followUps: number;
  /** Of these, what has left. */
  firstSent: number;
  followUpsSent: number;
  messages: number;
  /** Messages to come that a person holds. */
  held: number;
}

export interface PlanMailboxRow extends MailboxSettings {
  id: number;
  address: string;
  senderName: string;
  ramps: boolean;
  /** Why nothing leaves from it, in words; '' when it sends. */
  note: string;
  /** ISO date before which it rests, or null. */
  restUntil: string | null;
  /** What it may send on each day of the board, in units; null on a day on which it is closed. */
  ceilings: (number | null)[];
}

export interface PlanCampaignRow extends CampaignSettings {
  id: number;
  name: string;
  state: 'running' | 'held' | 'finished';
  /** Place in the set of campaign colours. */
  colour: number;
  /** Whether a first message has left: then its start is past. */
  hasBegun: boolean;
  /** ISO dates of the stored plan; null when nothing is to come. */
  lastStartDay: string | null;
  lastDay: string | null;
  /** Messages sent and answers to them so far. */
  sent: number;
  replies: number;
}

/** The board: every mailbox by every day, what it has and what it may. */
export interface PlanBoard {
  today: string;
  /** First day shown; `ceilings` count from it. */
  from: string;
  days: number;
  mailboxes: PlanMailboxRow[];
  campaigns: PlanCampaignRow[];
  loads: PlanLoad[];
  /** Days that are not working days for anybody, with their names. */
  holidays: { day: string; name: string }[];
  /** People who are in no plan, and why. */
  notPlaced: { campaignId: number; reason: string; people: number }[];
  /** Path of the calendar's subscription, or null. */
  calendarPath: string | null;
}

/** What a what-if is computed from. */
export interface PlanWork {
  input: PlanInput;
  ids: PlanIds;
}

export interface PlanVariant {
  id: number;
  name: string;
  changes: PlanChange[];
}

/** One message of a batch. */
export interface BatchMessage {
  deliveryId: number;
  enrolmentId: number;
  contactId: number;
  campaignId: number;
  step: number;
  /** 0 for the recipient's first message, and so on. */
  nth: number;
  address: string;
  name: string;
  at: number | null;
  /** `held`: it has not left, and a person holds it. */
  state: DeliveryState | 'held';
  reason: string;
}

export interface BatchPage {
  /** The messages asked for, in order of time. */
  messages: BatchMessage[];
  /** Of the whole batch, however many of it are on the page. */
  counts: BatchCounts;
}

export interface BatchCounts {
  total: number;
  /** Sent, failed, or under way. */
  gone: number;
  toCome: number;
  /** Not sent, and held by a person. */
  held: number;
}

/** What came of moving a message. */
export interface MoveResult {
  /** ISO date on which it is now. */
  day: string;
  /** Other messages that moved for it. */
  others: number;
}
