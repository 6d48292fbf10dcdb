import type { RowChoice } from './people';
import type { Outcome } from './replies';
import type {
  CampaignState,
  DeliveryState,
  StepTerms,
  LeftOutCode,
  PersonAct,
  RecipientState,
  RecipientWindow,
  Watches,
  ResultCounts,
} from '@baton/core';

export interface CampaignSummary {
  id: number;
  name: string;
  state: CampaignState;
  people: number;
  states: Partial<Record<RecipientState, number>>;
  firstDay: string | null;
  lastDay: string | null;
  /** What became of it; null before anything has left. */
  results: ResultCounts | null;
}

/** The longest wait before a follow-up, in working days, and the most that a campaign may send on a day. */
export const MOST_DELAY_DAYS = 365;
export const MOST_DAILY_LIMIT = 1_000_000;

/** The longest time in which nobody is written to again, in days, and the most people of one company. */
export const MOST_DAYS_AGO = 3650;
export const MOST_OF_COMPANY = 1000;

/** The most further lists that a campaign is for, and the most whose people it leaves out. */
export const MOST_PARTS = 20;

/** The people of a list, or of one of its segments. */
export interface AudiencePart {
  listId: number;
  /** Null for everybody on the list. */
  segmentId: number | null;
}

/** The largest first group, and the longest wait after it, in working days. */
export const MOST_FIRST = 100_000;
export const MOST_GROUP_WAIT = 60;

/** One message of a campaign, as somebody chooses it. */
export interface StepChoice extends StepTerms {
  /** Null for a new one. */
  number: number | null;
  messageId: number | null;
  /** Messages of the variants after the first, in order; null: the same as the first. */
  others: (number | null)[];
  /** Message that whoever has followed a link gets instead; null for the same as the others. */
  ifClicked: number | null;
  /** Whether a running campaign takes the text that the message has now. */
  renews: boolean;
}

export interface BriefStep extends StepChoice {
  messageName: string;
  otherNames: string[];
  ifClickedName: string | null;
  /** Whether a running campaign still sends a text that its message no longer has. */
  isOlder: boolean;
  /** To how many it has left. */
  sent: number;
}

/** Choices that Baton proposes for a new campaign. */
export type ProposedChoice = 'mailboxes' | 'start';

/** What a new campaign begins with. */
export type CampaignBeginning =
  /** The same choices as another one. */
  | { kind: 'copy'; campaignId: number }
  /** A sequence that was kept. */
  | { kind: 'pattern'; patternId: number }
  /** Rows of a list. */
  | { kind: 'rows'; listId: number; choice: RowChoice }
  | { kind: 'segment'; listId: number; segmentId: number }
  | { kind: 'message'; messageId: number }
  /** Recipients of another campaign. */
  | { kind: 'recipients'; campaignId: number; who: ChosenRecipients };

/** A sequence that is kept to begin campaigns with. */
export interface PatternView {
  id: number;
  name: string;
  /** Its messages in order, null for one that has been deleted; `delay` in working days. */
  steps: { message: string | null; delay: number }[];
}

export interface NewCampaign {
  name: string;
  from?: CampaignBeginning;
}

/** The choices of a campaign. */
export interface BriefChoices {
  name: string;
  listId: number | null;
  /** Only the people of this segment of the list; null for all. */
  segmentId: number | null;
  /** Whether it is only for the rows that were picked for it. */
  usesPicked: boolean;
  /** Whose people it is for too; whoever is on several counts for the first. */
  alsoParts: AudiencePart[];
  /** Whose people it leaves out. */
  exceptParts: AudiencePart[];
  steps: StepChoice[];
  /** Shares of the variants of its messages, in order; empty where everybody gets the same. */
  variants: number[];
  /** Whether a variant that clearly gets fewer replies is stopped; see core's `clearLosers`. */
  stopsLosers: boolean;
  /** Whether nothing leaves to anybody whose personal line has not been approved. */
  needsLines: boolean;
  mailboxIds: number[];
  /** Key of the column that names the mailbox from which each person is written to; null for any. */
  senderKey: string | null;
  /** Whether people whom one of the mailboxes has written to before hear from it again. */
  keepsSender: boolean;
  startDate: string;
  /** Minutes since midnight on the workspace's clock; null for the whole day. */
  startMinute: number | null;
  /** The last day on which it sends, and until when; null for no end, and for the whole day. */
  endDate: string | null;
  endMinute: number | null;
  window: RecipientWindow;
  windowZone: 'recipient' | 'workspace';
  dailyLimit: number | null;
  /** How many start in it for each one of another campaign, where these share mailboxes; 1 to 9. */
  share: number;
  leaveOutBlank: boolean;
  /** Addresses that a verifier is unsure about; null until somebody says. */
  leaveOutDoubtful: boolean | null;
  /** Whether people join it to whom another campaign is still writing. */
  allowsOthers: boolean;
  /** Whoever was written to in so many days is left out; null for nobody. */
  notWithinDays: number | null;
  /** The most people of one company; null for any number. */
  mostPerCompany: number | null;
  /** Whether every message waits until a person lets its day's batch go. */
  releasedByHand: boolean;
  /** How many people come first; null where all may begin at once. */
  firstGroup: number | null;
  /** Working days that the others wait after the last of them, or until a person lets them go. */
  groupWait: number;
  groupByHand: boolean;
  /** Whether people who come onto the list while it runs join it. */
  enrolNew: boolean;
  /** Whether a reply ends this campaign only for the person, and not their others too. */
  replyEndsHere: boolean;
  /** Whether a reply holds the person's colleagues at the same company. */
  holdsColleagues: boolean;
  /** In which messages it is counted whether they are opened, and links in them followed. */
  watchesOpens: Watches;
  watchesClicks: Watches;
  /** Whether the country is kept from which a link is followed; the address never is. */
  watchesPlaces: boolean;
}

/** Choices that follow those of a revision; if somebody has changed others meanwhile, they are refused. */
export interface BriefChange extends BriefChoices {
  revision: number;
}

/** What the choices of a campaign are called. */
export interface BriefNames {
  listName: string | null;
  /** What the people of the segment have in common, in words; null for the whole list. */
  segmentWords: string | null;
  /** What else it is for, and what it leaves out: list and segment, in words. */
  alsoWords: string[];
  exceptWords: string[];
  mailboxes: { id: number; address: string }[];
  /** The column that names the mailbox; null for none, or where it is gone. */
  senderColumn: string | null;
  /** Of each step in order. */
  steps: Pick<BriefStep, 'messageName' | 'otherNames' | 'ifClickedName'>[];
}

/** What a change of a running campaign would do. */
export interface ChangeView {
  names: BriefNames;
  /** Which choices are others, a sentence each. */
  changes: string[];
  /** What that does to people and to the plan. */
  effects: string[];
  /** What keeps it from being made. */
  faults: string[];
  /** Messages by mailbox and day, as they would be. */
  loads: Forecast['loads'];
}

/** Something in the way of starting. */
export interface Obstacle {
  kind: 'fix' | 'look';
  text: string;
  /** What settles it. */
  remedy: {
    label: string;
    act:
      | 'audience'
      | 'messages'
      | 'mailboxes'
      | 'time'
      | 'watching'
      | 'leave_out_blank'
      | 'leave_out_doubtful'
      | 'open_message'
      | 'open_list'
      | 'ask_domains'
      | 'open_mailbox'
      | 'write_lines'
      | 'settings';
    messageId?: number;
    listId?: number;
    mailboxId?: number;
  };
}

export interface Forecast {
  people: number;
  /** `settledBy` says what would let them in; '' where nothing would. */
  leftOut: { code: LeftOutCode; reason: string; settledBy: string; people: number; who: string[] }[];
  messages: number;
  firstDay: string | null;
  lastStartDay: string | null;
  lastDay: string | null;
  late: number;
  notPlaced: { reason: string; people: number }[];
  /** Follow-ups that are not sent because they would leave after the campaign's end, or after their own last day. */
  cut: number;
  /** People with a minute of their own for the first message, and those of them who get it later, both as
   * `YYYY-MM-DD HH:MM` on the clock by which the campaign goes. */
  ownTimes: { people: number; later: number; who: { address: string; wanted: string; gets: string }[] };
  obstacles: Obstacle[];
  /** Messages by mailbox and day, in order of days. */
  loads: { mailboxId: number; day: string; first: number; followUps: number }[];
}

export interface BriefView extends BriefChange, Omit<BriefNames, 'steps'> {
  id: number;
  state: CampaignState;
  /** Whether there is a public address, without which neither opens nor clicks can be counted. */
  canWatch: boolean;
  /** How many rows were picked for it, and how, in words; null for none. */
  picked: { people: number; words: string } | null;
  /** Choices that Baton has proposed and nobody has looked at yet. */
  proposed: ProposedChoice[];
  steps: BriefStep[];
  startedAt: number | null;
  /** Why messages leave or do not, and what would change it, in sentences; [] where none is to come. */
  standing: string[];
  /**
   * What was changed last while it ran, and why that cannot be undone any more; null where it can. With `needsLaterEnd` it has
   * ended, and goes on only with a later last day.
   */
  lastChange: { at: number; words: string[]; whyNotUndo: string | null; needsLaterEnd: boolean } | null;
  states: Partial<Record<RecipientState, number>>;
  forecast: Forecast;
}

export interface RecipientView {
  enrolmentId: number;
  contactId: number;
  address: string;
  name: string;
  state: RecipientState;
  reason: string;
  mailbox: string | null;
  messages: { deliveryId: number; step: number; state: DeliveryState; at: number | null; reason: string }[];
  outcome: Outcome | null;
}

/** By what recipients are ordered; `step_0` by when they get the first message. '' for the order of the list. */
export type RecipientSort = '' | 'who' | 'state' | 'from' | 'outcome' | `step_${number}`;

export interface RecipientQuery {
  /** '' for every state. */
  state: RecipientState | '';
  /** Looked for in the address and in every value of the row; '' finds all. */
  search: string;
  /** Blanks come last in either direction. */
  sort: RecipientSort;
  descending: boolean;
  offset: number;
  limit: number;
}

export interface RecipientPage {
  people: RecipientView[];
  /** How many match. */
  total: number;
}

/** The most people who are named one by one. */
export const MOST_ACTED_ON = 10_000;

/** Recipients of a campaign: those named, or all that a search finds. */
export interface ChosenRecipients {
  enrolmentIds?: number[];
  /** With the number of people that was shown; if it is another by then, nothing is done. */
  found?: Pick<RecipientQuery, 'state' | 'search'> & { people: number };
}

/** Something that is done about recipients of a campaign. */
export interface PersonActRequest extends ChosenRecipients {
  act: PersonAct;
  /** For `postpone`: ISO date; null for no longer. */
  day?: string | null;
  /** For `move`. */
  mailboxId?: number;
}

export interface PersonActResult {
  /** For how many it was done, in a sentence; '' for none. */
  words: string;
  done: number;
  passedOver: { reason: string; people: number }[];
}

/** How far the start of a campaign is. */
export interface StartProgress {
  /** Everybody is looked at; they are taken in, `done` of `of`; it has started and is planned. */
  phase: 'reading' | 'enrolling' | 'planning';
  done: number;
  of: number;
}

export interface StartRequest {
  /** What the person was shown; a start that would do something else is refused. */
  people: number;
  lastDay: string | null;
}
