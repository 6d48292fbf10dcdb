import type { CampaignState, ResultCounts, ResultDimension, SilenceStep } from '@baton/core';

/** By what results are told apart: a dimension, or `field:` and the key of a column of the lists. */
export type ResultsBy = ResultDimension | `field:${string}`;

/** Kinds of files in which a campaign's rows are taken back with what became of them. */
export const ROWS_FORMATS = ['csv', 'tsv', 'xlsx', 'ods', 'jsonl'] as const;
export type RowsFormat = (typeof ROWS_FORMATS)[number];

/** What became of one campaign. */
export interface CampaignResultsLine {
  id: number;
  name: string;
  state: CampaignState;
  /** When the first message left, to the quarter of an hour. */
  firstSentAt: number;
  /** Silent people, and to how many of them a message is still to come. */
  silent: number;
  toCome: number;
  counts: ResultCounts;
}

/** Every campaign of which something has left, the newest first; of a period, those whose first message left to somebody in it. */
export interface ResultsOverview {
  campaigns: CampaignResultsLine[];
  /** Of all of them; whoever got several counts once. */
  together: ResultCounts;
  /** The same of as many days just before; null where no period is asked for. */
  before: ResultCounts | null;
}

/** One message of a campaign: the days on which it left, and the replies that it brought. */
export interface StepResults {
  /** Where it stands, or stood, in the sequence; 0 for the first message. */
  place: number;
  name: string;
  sent: number;
  /** To the quarter of an hour. */
  firstSentAt: number;
  lastSentAt: number;
  /** Each day of the workspace on which it left: from when to when, to the quarter of an hour, and how often. */
  days: { from: number; to: number; sent: number }[];
  /** How many replies it brought, and when they came: the newest `MOST_ANSWERS` of all messages together. */
  replied: number;
  repliedAt: number[];
}

/** The most replies whose times are given. */
export const MOST_ANSWERS = 2000;

export interface CampaignResults extends CampaignResultsLine {
  /** People whose first message their server refused, so that nothing has left to them; they are in no count. */
  refused: number;
  /** Whether opens and clicks are counted in any of its messages. */
  countsOpens: boolean;
  countsClicks: boolean;
  /** Whether the countries are kept from which links are followed. */
  countsPlaces: boolean;
  steps: StepResults[];
  /** The share still silent, by hours since the first message. */
  silence: SilenceStep[];
  /** How many replies are still to be expected; null where too few have replied to say. */
  expected: number | null;
  /** What became of other campaigns in the year before, added up: whoever got several counts in each. */
  past: ResultCounts;
  /** Whether its lists have segments. */
  hasSegments: boolean;
  /** Columns of its lists by which it can be told apart. */
  fields: { key: string; name: string }[];
}

/** What became of a part of a campaign. */
export interface ResultGroup {
  /** '' for people without a value. */
  key: string;
  name: string;
  counts: ResultCounts;
}

/** The most groups that are told apart; the smallest are put together. */
export const MOST_GROUPS = 50;

export interface ResultGroups {
  groups: ResultGroup[];
  /** Those that are not told apart: how many groups, and what became of them together. */
  others: { groups: number; counts: ResultCounts } | null;
}

/** How one message has done. */
export interface MessageResults {
  /**
   * In every campaign that has sent it, and at which place of its sequence; with a line for each text that it had there, and until
   * when: null for the one that it has there now.
   */
  uses: { campaignId: number; name: string; place: number; until: number | null; counts: ResultCounts }[];
}
