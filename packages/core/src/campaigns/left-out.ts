import { listed } from '../listed';
import { whyLineKeepsBack, type LineState } from '../messages/personal-line';
import type { Verdict } from '../people/address/verdict';
import type { RecipientState } from './states';

/** One reason why something is not sent to somebody. */
interface LeftOutEntry {
  /** In words; `detail` is what the reason is about. */
  words: (detail: string) => string;
  /** Whether it ends by itself, so that the message is put off rather than dropped. */
  passes: boolean;
  /** What settles it; '' where only time does. */
  settledBy: string;
}

const stays = (words: (detail: string) => string, settledBy: string): LeftOutEntry => ({
  words,
  passes: false,
  settledBy,
});
const passes = (words: string): LeftOutEntry => ({ words: () => words, passes: true, settledBy: '' });

/** Every reason for leaving somebody out, or for not sending to them now: the one place that lists them. */
export const LEFT_OUT = {
  suppressed: stays(
    (why) => `on the suppression list${why === '' ? '' : `: ${why}`}`,
    'remove the entry from the suppression list, if they agree',
  ),
  excluded: stays(
    (names) => `also on ${names}`,
    'take them off that list, or no longer leave its people out of the campaign',
  ),
  verifier: stays((detail) => detail, 'correct the address, or change what the verifier’s word means in the list'),
  other_campaign: stays(
    (names) => `still being written to by ${names}`,
    'wait until that has ended for them, or allow people of other campaigns',
  ),
  written_lately: stays(
    (when) => `last written to ${when}`,
    'wait, or shorten the days in which nobody is written to again',
  ),
  company: stays((others) => others, 'raise how many people of one company are written to'),
  sender: stays(
    (named) => `to be written to from ${named}, which is none of the campaign’s mailboxes`,
    'choose that mailbox too, or correct the cell that names it',
  ),
  line: stays((detail) => detail, 'write the personal line and approve it'),
  blank: stays((fields) => `no value for ${fields}`, 'fill in the field, or give it a fallback in the message'),
  message: stays((fault) => fault, 'correct the message, or the row it is made from'),
  ended: passes('the campaign’s last day has passed'),
  mailbox_rests: passes('the mailbox rests'),
  day_off: passes('the mailbox has a day off'),
  mailbox_hours: passes('outside the mailbox’s sending window'),
  quota: passes('the mailbox’s quota for the day is used up'),
  provider_limit: passes('the provider’s limit in 24 hours is used up'),
  campaign_limit: passes('the campaign’s limit for the day is used up'),
  recipient_hours: passes('outside the hours in which the recipient is written to'),
  own_time: passes('the minute chosen for them has not come yet'),
  not_before: passes('the recipient is away, or is not to be written to before a later date'),
  too_soon: passes('too soon after the previous message'),
} as const satisfies Record<string, LeftOutEntry>;

export type LeftOutCode = keyof typeof LEFT_OUT;

/** A reason with its words. */
export interface LeftOutReason {
  code: LeftOutCode;
  words: string;
  /** The words under which people are counted together: why each is on the suppression list is their own affair. */
  group: string;
}

/** Reasons that are counted together, whatever each is about. */
const GROUPS: Partial<Record<LeftOutCode, string>> = {
  suppressed: 'on the suppression list',
  written_lately: 'written to lately',
  company: 'enough others of their company are written to',
  sender: 'to be written to from a mailbox that the campaign does not have',
};

/** @param detail what the reason is about; '' where it needs none */
export function leftOutReason(code: LeftOutCode, detail = ''): LeftOutReason {
  const { words } = LEFT_OUT[code];
  return { code, words: words(detail), group: GROUPS[code] ?? words(detail) };
}

/** Stands where a reason says what it is about. */
const DETAIL = '\0';

/**
 * Whether somebody whom nothing has been sent is left out for this reason, by the words that are kept of it; false for those
 * that have no words of their own.
 */
export function isLeftOutFor(
  code: LeftOutCode,
  { state, sent, reason }: { state: RecipientState; sent: number; reason: string },
): boolean {
  if (state !== 'left_out' || sent !== 0) return false;
  const { words } = LEFT_OUT[code];
  const [head = '', tail = ''] = words(DETAIL).split(DETAIL);
  if (head === '' && tail === '') return false;
  return reason === words('') || (reason.startsWith(head) && reason.endsWith(tail));
}

/** What the messages say against a person once they are filled in. */
export interface FilledFacts {
  /** Fields without a value and without a fallback. */
  blanks: readonly string[];
  /** The personal line; null where the messages have no place for one. */
  line: LineState | null;
  /** Whatever else keeps the message from being made, in words. */
  faults: readonly string[];
}

/** What is known of a person before any message is filled in. */
export interface PersonFacts {
  /** Why the suppression list covers them; null if it does not. */
  suppression: string | null;
  /** Names of what the campaign leaves out that they are on. */
  excludedBy?: readonly string[];
  /** The mailbox that their row names, where the campaign does not have it; '' otherwise. */
  unknownSender?: string;
  /** What an address verifier said; null if none was asked. */
  verifier: { column: string; word: string; verdict: Verdict } | null;
  /** Names of other campaigns from which more is to come for them. */
  otherCampaigns?: readonly string[];
  /** How many days ago they were last written to by any campaign; null for never, or too long ago to count. */
  writtenDaysAgo?: number | null;
}

/** What a campaign says about whom it leaves out. */
export interface LeaveOutRules {
  leaveOutBlank: boolean;
  /** Addresses that a verifier is unsure about; null until somebody has said. */
  leaveOutDoubtful: boolean | null;
  /** Whether a personal line must have been approved. */
  needsLines: boolean;
  /** Whether people may get messages of another campaign too. */
  allowsOthers?: boolean;
  /** Whoever was written to in so many days is left out; null for nobody. */
  notWithinDays?: number | null;
}

/** Whether a person will be written to. */
export interface Judgement {
  leftOut: LeftOutReason | null;
  /** What a person must decide or settle before the start; [] for somebody who is left out. */
  questions: LeftOutReason[];
}

/**
 * Decides whether a person is written to: the one place that does, for drafts, for people who join a running campaign,
 * and as a message is about to leave.
 *
 * @param filled called only for somebody who is not left out before: filling in takes time
 */
export function judgePerson(facts: PersonFacts, rules: LeaveOutRules, filled: () => FilledFacts): Judgement {
  const { suppression, verifier } = facts;
  const out = (code: LeftOutCode, detail: string): Judgement => ({
    leftOut: leftOutReason(code, detail),
    questions: [],
  });
  if (suppression !== null) return out('suppressed', suppression);
  const { excludedBy = [], otherCampaigns = [], writtenDaysAgo = null } = facts;
  if (excludedBy.length > 0) return out('excluded', listed(excludedBy));
  if (otherCampaigns.length > 0 && rules.allowsOthers === false) return out('other_campaign', listed(otherCampaigns));
  if (writtenDaysAgo !== null && writtenDaysAgo < (rules.notWithinDays ?? 0))
    return out('written_lately', agoWords(writtenDaysAgo));
  if (facts.unknownSender) return out('sender', facts.unknownSender);
  const doubt = verifier !== null && verifier.verdict !== 'use' ? `${verifier.column} says ${verifier.word}` : null;
  if (doubt !== null && (verifier?.verdict === 'leave_out' || rules.leaveOutDoubtful === true))
    return out('verifier', doubt);
  const { blanks, line, faults } = filled();
  const lineFault = line === null ? null : whyLineKeepsBack(line, rules.needsLines);
  if (blanks.length > 0 && rules.leaveOutBlank) return out('blank', blanks.join(', '));
  // What a person has judged not good enough is left out without being asked again.
  if (lineFault !== null && line === 'rejected') return out('line', lineFault);
  if (faults[0] !== undefined) return out('message', faults[0]);
  const questions: LeftOutReason[] = [];
  if (lineFault !== null) questions.push(leftOutReason('line', lineFault));
  if (blanks.length > 0) questions.push(leftOutReason('blank', blanks.join(', ')));
  if (doubt !== null && rules.leaveOutDoubtful === null) questions.push(leftOutReason('verifier', doubt));
  return { leftOut: null, questions };
}

const agoWords = (days: number): string => (days === 0 ? 'today' : days === 1 ? 'yesterday' : `${days} days ago`);

/** Somebody of an audience, as far as their company counts. */
interface OfCompany extends Judgement {
  /** Domain of their address; '' where many people share it who have nothing to do with each other. */
  company: string;
  /** Whether the campaign has them already. */
  isIn: boolean;
}

/**
 * Leaves out whoever is one too many of their company. Those that the campaign has come first, then the order of the list.
 *
 * @param most people of one company; null for any number
 */
export function limitPerCompany<P extends OfCompany>(people: readonly P[], most: number | null): P[] {
  if (most === null) return [...people];
  const counts = new Map<string, number>();
  const count = (company: string) => counts.set(company, (counts.get(company) ?? 0) + 1);
  for (const { company, isIn, leftOut } of people) if (isIn && leftOut === null) count(company);
  return people.map((p) => {
    if (p.company === '' || p.isIn || p.leftOut !== null) return p;
    if ((counts.get(p.company) ?? 0) >= most)
      return { ...p, leftOut: leftOutReason('company', companyWords(most, p.company)), questions: [] };
    count(p.company);
    return p;
  });
}

const companyWords = (n: number, company: string): string =>
  n === 1 ? `somebody else at ${company} is written to` : `${n} others at ${company} are written to`;

/** The state in which somebody begins in a campaign. */
export const enrolledState = (leftOut: LeftOutReason | null): RecipientState =>
  leftOut === null ? 'waiting' : 'left_out';

/** Why somebody is left out when nobody can be asked: an open question leaves them out. */
export const whyLeftOut = ({ leftOut, questions }: Judgement): LeftOutReason | null => leftOut ?? questions[0] ?? null;
