import { rateRange, type RateRange } from './rate-range';

/** What became of the people whom a campaign, or a part of one, has written to. Each person counts once in each. */
export interface ResultCounts {
  /** To whom at least one message has left. */
  written: number;
  bounced: number;
  /** Of those bounced, whose mailbox was full or out of reach each time, and whose server would not have the message; the others have no such address. */
  unreachable: number;
  blocked: number;
  /** Who asked to be left alone, and who reported a message as spam among them. */
  unsubscribed: number;
  complained: number;
  /** Who has opened a message, and followed a link in one; programs not counted. */
  opened: number;
  clicked: number;
  /** To whose messages only programs came. */
  byPrograms: number;
  replied: number;
  interested: number;
  meetings: number;
}

export const NO_RESULTS: ResultCounts = {
  ...{
    written: 0,
    bounced: 0,
    unreachable: 0,
    blocked: 0,
    unsubscribed: 0,
    complained: 0,
    opened: 0,
    clicked: 0,
    byPrograms: 0,
  },
  ...{ replied: 0, interested: 0, meetings: 0 },
};

/** Of different people together. */
export const sumOfResults = (a: ResultCounts, b: ResultCounts): ResultCounts => ({
  written: a.written + b.written,
  bounced: a.bounced + b.bounced,
  unreachable: a.unreachable + b.unreachable,
  blocked: a.blocked + b.blocked,
  unsubscribed: a.unsubscribed + b.unsubscribed,
  complained: a.complained + b.complained,
  opened: a.opened + b.opened,
  clicked: a.clicked + b.clicked,
  byPrograms: a.byPrograms + b.byPrograms,
  replied: a.replied + b.replied,
  interested: a.interested + b.interested,
  meetings: a.meetings + b.meetings,
});

/** Whom it has reached: everybody whose message did not come back. */
export const reachedOf = ({ written, bounced }: Pick<ResultCounts, 'written' | 'bounced'>): number => written - bounced;

/** What can be compared. */
export const RATES = [
  'replied',
  'interested',
  'meetings',
  'clicked',
  'opened',
  'unsubscribed',
  'complained',
  'bounced',
] as const;
export type RateName = (typeof RATES)[number];

/** Of how many people a rate is a share: of those written to for bounces, of those reached for anything else. */
export const baseOf = (rate: RateName, counts: ResultCounts): number =>
  rate === 'bounced' ? counts.written : reachedOf(counts);

/** A rate of these people, with its 95 % range. */
export const rateOf = (rate: RateName, counts: ResultCounts): RateRange =>
  rateRange(counts[rate], baseOf(rate, counts));

/** By what results are told apart. */
export const RESULT_DIMENSIONS = [
  'message',
  'variant',
  'mailbox',
  'list',
  'segment',
  'domain',
  'country',
  'weekday',
  'hour',
  'weekday_hour',
] as const;
export type ResultDimension = (typeof RESULT_DIMENSIONS)[number];
