import { listed } from '../listed';
import { clockWords } from '../time/clock-words';
import { dayWords, type DateForm } from '../time/day-words';
import { momentWords, type CampaignHours } from './campaign-hours';
import { conditionSaid, type FollowUpCondition } from './follow-up-condition';
import { hoursWords, placeWords, termsAt, type StepTerms } from './step-terms';
import { watchWords, type Watches } from '../signals/watches';
import type { RecipientWindow } from '../planning/workspace/plan-input';

/** One message of a campaign as its brief has it. */
export interface StepSaid extends StepTerms {
  /** By which the step is known; negative for one that is new. */
  number: number;
  /** What it sends, with every variant's; and which messages these are, as names are not alone. */
  name: string;
  messages: string;
  /** Whether it takes its message's text as it is now. */
  isRenewed: boolean;
}

/** Which messages a step sends, as a text that is the same for the same ones. */
export const textIds = (of: {
  messageId: number | null;
  others: readonly (number | null)[];
  ifClicked: number | null;
}): string => JSON.stringify([of.messageId, of.others, of.ifClicked]);

/** What most people get, and what those who have followed a link get instead. */
export const insteadWords = (most: string, instead: string): string =>
  `${most}, or instead, to those who have followed a link, ${instead}`;

/** What a brief says, as far as it can be changed. */
export interface BriefSaid extends CampaignHours {
  name: string;
  /** Whom it is for, in words; and which list and segment that is. */
  audience: string;
  audienceIds: string;
  steps: readonly StepSaid[];
  /** Addresses. */
  mailboxes: readonly string[];
  /** The column that names the mailbox from which each person is written to; null for none. */
  senderColumn: string | null;
  keepsSender: boolean;
  window: RecipientWindow;
  windowZone: 'recipient' | 'workspace';
  dailyLimit: number | null;
  share: number;
  leaveOutBlank: boolean;
  leaveOutDoubtful: boolean | null;
  enrolNew: boolean;
  replyEndsHere: boolean;
  holdsColleagues: boolean;
  watchesOpens: Watches;
  watchesClicks: Watches;
  watchesPlaces: boolean;
  stopsLosers: boolean;
  needsLines: boolean;
  allowsOthers: boolean;
  notWithinDays: number | null;
  mostPerCompany: number | null;
  releasedByHand: boolean;
  firstGroup: number | null;
  groupWait: number;
  groupByHand: boolean;
  variants: readonly number[];
}

const days = (n: number) => (n === 1 ? '1 working day' : `${n} working days`);
const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
function weekdayWords(weekdays: readonly number[]): string {
  const sorted = [...weekdays].sort((a, b) => a - b);
  if (sorted.join() === '1,2,3,4,5') return 'weekdays';
  return sorted.length === 7 ? 'every day' : listed(sorted.map((d) => WEEKDAYS[d - 1] as string));
}
const hours = ({ weekdays, from, to }: RecipientWindow) =>
  `${weekdayWords(weekdays)} from ${clockWords(from)} to ${clockWords(to)}`;
const limit = (most: number | null) => (most === null ? 'as many a day as the quotas allow' : `at most ${most} a day`);
const zoneOf = (zone: BriefSaid['windowZone']) =>
  zone === 'recipient' ? 'each person’s own time zone' : 'the workspace’s time zone';

/** Choices that are said by what they are now. */
const SAID: readonly ((before: BriefSaid, after: BriefSaid, form: DateForm) => string | null)[] = [
  (b, a) => (b.name === a.name ? null : `It is called ${a.name}.`),
  (b, a) => (b.audienceIds === a.audienceIds ? null : `It is for ${a.audience}, instead of ${b.audience}.`),
  (b, a) =>
    yes(
      b.enrolNew,
      a.enrolNew,
      'Whoever joins them later is taken in',
      'Whoever joins them later is no longer taken in',
    ),
  (b, a) =>
    yes(
      b.leaveOutBlank,
      a.leaveOutBlank,
      'People with a blank field are left out',
      'People with a blank field are no longer left out',
    ),
  (b, a) => (b.leaveOutDoubtful === a.leaveOutDoubtful ? null : doubtfulWords(a.leaveOutDoubtful)),
  (b, a) => (groupWords(b) === groupWords(a) ? null : groupWords(a)),
  (b, a) =>
    yes(
      b.releasedByHand,
      a.releasedByHand,
      'Each day’s messages wait until somebody lets them go',
      'Messages leave by themselves',
    ),
  (b, a) =>
    yes(
      b.allowsOthers,
      a.allowsOthers,
      'People of other campaigns that run may join it',
      'People of other campaigns that run no longer join it',
    ),
  (b, a) =>
    b.notWithinDays === a.notWithinDays
      ? null
      : a.notWithinDays === null
        ? 'It no longer matters when people were last written to.'
        : `Whoever was written to in the last ${a.notWithinDays} days is left out.`,
  (b, a) =>
    b.mostPerCompany === a.mostPerCompany
      ? null
      : a.mostPerCompany === null
        ? 'Any number of people of one company is written to.'
        : `At most ${people(a.mostPerCompany)} of one company ${a.mostPerCompany === 1 ? 'is' : 'are'} written to.`,
  (b, a) =>
    yes(
      b.needsLines,
      a.needsLines,
      'Nothing leaves to anybody whose personal line has not been approved',
      'Personal lines need no approval any more',
    ),
  (b, a) =>
    yes(
      b.replyEndsHere,
      a.replyEndsHere,
      'A reply ends only this campaign',
      'A reply ends a person’s other campaigns too',
    ),
  (b, a) =>
    yes(
      b.holdsColleagues,
      a.holdsColleagues,
      'Colleagues of somebody who replies wait',
      'Colleagues of somebody who replies no longer wait',
    ),
  (b, a) => (watchWords(b, true) === watchWords(a, true) ? null : watchWords(a, true)),
  (b, a) =>
    b.variants.join() === a.variants.join()
      ? null
      : `Whoever joins from now on gets variants in shares of ${a.variants.join(' to ')}.`,
  (b, a) =>
    yes(
      b.stopsLosers,
      a.stopsLosers,
      'A variant that clearly gets fewer replies is stopped',
      'No variant is stopped by itself',
    ),
  mailboxWords,
  (b, a) => (b.senderColumn === a.senderColumn ? null : senderWords(a.senderColumn)),
  (b, a) =>
    yes(
      b.keepsSender,
      a.keepsSender,
      'People written to before hear from the same mailbox again',
      'People written to before may hear from any of the mailboxes',
    ),
  (b, a) =>
    b.dailyLimit === a.dailyLimit ? null : `It sends ${limit(a.dailyLimit)}, instead of ${limit(b.dailyLimit)}.`,
  (b, a) =>
    b.share === a.share
      ? null
      : `For each one that another campaign starts it starts ${a.share}, instead of ${b.share}.`,
  (b, a) =>
    hours(b.window) === hours(a.window) ? null : `It sends on ${hours(a.window)}, instead of ${hours(b.window)}.`,
  (b, a) => (b.windowZone === a.windowZone ? null : `These hours are in ${zoneOf(a.windowZone)}.`),
  (b, a, form) =>
    startWords(b, form) === startWords(a, form)
      ? null
      : `First messages leave from ${startWords(a, form)}, instead of ${startWords(b, form)}.`,
  (b, a, form) => (endWords(b, form) === endWords(a, form) ? null : `${endWords(a, form)}.`),
];

const startWords = (b: CampaignHours, form: DateForm) => momentWords(b.startDate, b.startMinute, form);
const endWords = (b: CampaignHours, form: DateForm) =>
  b.endDate === null ? 'It has no last day' : `Nothing leaves after ${momentWords(b.endDate, b.endMinute, form)}`;

const senderWords = (column: string | null): string =>
  column === null
    ? 'Any of the mailboxes writes to anybody.'
    : `Each person hears from the mailbox named in ${column}.`;

function doubtfulWords(leaveOut: boolean | null): string {
  if (leaveOut === null) return 'Somebody is asked first about people whose address a verifier doubts.';
  return `People whose address a verifier doubts are ${leaveOut ? 'left out' : 'written to'}.`;
}

function groupWords({ firstGroup, groupWait, groupByHand }: BriefSaid): string {
  if (firstGroup === null) return 'All may begin at once.';
  const others = groupByHand
    ? 'the others wait until somebody lets them go'
    : `the others begin ${days(groupWait)} later`;
  return `${capital(people(firstGroup))} ${firstGroup === 1 ? 'comes' : 'come'} first; ${others}.`;
}

const yes = (before: boolean, after: boolean, now: string, notNow: string): string | null =>
  before === after ? null : `${after ? now : notNow}.`;

function mailboxWords(before: BriefSaid, after: BriefSaid): string | null {
  const joins = after.mailboxes.filter((m) => !before.mailboxes.includes(m));
  const goes = before.mailboxes.filter((m) => !after.mailboxes.includes(m));
  const said = [
    ...(joins.length > 0 ? [`It sends from ${listed(joins)} too`] : []),
    ...(goes.length > 0 ? [`${joins.length > 0 ? 'no' : 'No'} one new is written to from ${listed(goes)}`] : []),
  ];
  return said.length === 0 ? null : `${said.join('; ')}.`;
}

/** To whom a follow-up goes. */
const whomWords = (condition: FollowUpCondition): string =>
  `to those who have not replied${conditionSaid(condition) === '' ? '' : ` ${conditionSaid(condition)}`}`;

const capital = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/** What is other in a step's terms: how it says so, with what it is called. */
const TERMS: readonly ((before: StepTerms, after: StepTerms, form: DateForm) => string | null)[] = [
  (b, a) => (b.delay === a.delay ? null : `leaves ${days(a.delay)} after the message before it, instead of ${b.delay}`),
  (b, a) =>
    b.startsThread === a.startsThread
      ? null
      : `goes out ${a.startsThread ? 'in a thread of its own' : 'in the same thread'}`,
  (b, a) => (b.quotes === a.quotes ? null : `${a.quotes ? 'quotes' : 'no longer quotes'} the message before it`),
  (b, a) =>
    b.answersLast === a.answersLast
      ? null
      : a.answersLast
        ? 'answers the last conversation with the person, where there is one'
        : 'begins a conversation of its own',
  (b, a) =>
    b.condition === a.condition ? null : `goes ${whomWords(a.condition)}, instead of ${whomWords(b.condition)}`,
  (b, a, form) =>
    b.lastDay === a.lastDay
      ? null
      : a.lastDay === null
        ? 'has no last day any more'
        : `leaves until ${dayWords(a.lastDay, 'long', form)}; whoever has not had it by then is passed over`,
  (b, a) =>
    hoursWords(b.hours) === hoursWords(a.hours)
      ? null
      : a.hours === null
        ? 'leaves in all of the campaign’s hours'
        : `leaves ${hoursWords(a.hours)}`,
  (b, a) => (b.tolerance === a.tolerance ? null : `may be ${days(a.tolerance)} late, instead of ${b.tolerance}`),
];

function sequenceWords(before: readonly StepSaid[], after: readonly StepSaid[], form: DateForm): string[] {
  const said: string[] = [];
  const was = new Map(before.map((s) => [s.number, s]));
  for (const [place, step] of after.entries()) {
    const old = was.get(step.number);
    const called = placeWords(place);
    if (!old) said.push(`${capital(called)} is new: ${step.name}, ${days(step.delay)} after the message before it.`);
    else {
      if (old.messages !== step.messages) said.push(`${capital(called)} is ${step.name}, instead of ${old.name}.`);
      else if (step.isRenewed) said.push(`${capital(called)}, ${step.name}, goes out with the text that it has now.`);
      const [was, now] = [termsAt(place, old), termsAt(place, step)];
      for (const say of TERMS) {
        const words = say(was, now, form);
        if (words !== null) said.push(`${capital(called)} ${words}.`);
      }
    }
  }
  const stays = before.filter((s) => after.some((a) => a.number === s.number)).map((s) => s.number);
  const order = after.filter((s) => was.has(s.number)).map((s) => s.number);
  if (stays.join() !== order.join())
    said.push(`The messages come in another order: ${listed(after.map((s) => s.name))}.`);
  for (const [place, step] of before.entries())
    if (!after.some((a) => a.number === step.number))
      said.push(`${capital(placeWords(place))}, ${step.name}, is taken out.`);
  return said;
}

/** What is different in a brief, a sentence for each choice; [] where nothing is. */
export const briefChanges = (before: BriefSaid, after: BriefSaid, form: DateForm): string[] => [
  ...sequenceWords(before.steps, after.steps, form),
  ...SAID.map((say) => say(before, after, form)).filter((said) => said !== null),
];

/** What a change of a running campaign does to people and to the plan, in numbers. */
export interface ChangeReach {
  /** Who is taken in by it, and who waits and gets nothing any more. */
  joins: number;
  goes: number;
  /** Who had had every message and goes on. */
  goesOn: number;
  /** Who is past the end of the sequence and done. */
  isDone: number;
  /** For each step that is new, by its place: who has come past it. */
  past: readonly { place: number; people: number }[];
  /** For each step with another text, by its place: who has had the one before. */
  had: readonly { place: number; people: number }[];
  /** For each field of the texts that are new: who is still to get one, has no value for it and would be left out then. */
  blanks: readonly { fields: string; people: number }[];
  /** Who is in a thread with a mailbox that is no longer the campaign's. */
  bound: number;
  /** Messages that are on another day, or from another mailbox. */
  moved: number;
  elsewhere: number;
  more: number;
  fewer: number;
  /** Follow-ups that are late then. */
  late: number;
  /** ISO days on which campaigns end; this one first, then others that end on another day. */
  ends: readonly { name: string; before: string | null; after: string | null }[];
  /** Why some people cannot be planned. */
  notPlaced: readonly { reason: string; people: number }[];
}

const counted = (n: number) => n.toLocaleString('en');
const people = (n: number) => (n === 1 ? '1 person' : `${counted(n)} people`);
const messages = (n: number) => (n === 1 ? '1 message' : `${counted(n)} messages`);
const has = (n: number) => (n === 1 ? 'has' : 'have');

/** What it does to people and to the plan, in sentences. */
export function reachWords(reach: ChangeReach, form: DateForm): string[] {
  const said: string[] = [];
  const { joins, goes, goesOn, isDone, bound, moved, elsewhere, more, fewer, late } = reach;
  if (joins > 0) said.push(`${people(joins)} ${joins === 1 ? 'is' : 'are'} taken in.`);
  if (goes > 0)
    said.push(
      `${people(goes)} who wait${goes === 1 ? 's' : ''} for the first message ${goes === 1 ? 'gets' : 'get'} none.`,
    );
  if (goesOn > 0) said.push(`${people(goesOn)} who had had every message ${goesOn === 1 ? 'goes' : 'go'} on with it.`);
  if (isDone > 0) said.push(`For ${people(isDone)} nothing more follows.`);
  for (const { place, people: n } of reach.past)
    if (n > 0) said.push(`${people(n)} ${has(n)} come past ${placeWords(place)} and will not get it.`);
  for (const { place, people: n } of reach.had)
    if (n > 0) said.push(`${people(n)} ${has(n)} had ${placeWords(place)} as it was.`);
  for (const { fields, people: n } of reach.blanks)
    said.push(`${people(n)} ${has(n)} no value for ${fields}: it ends for them there.`);
  if (bound > 0)
    said.push(`${people(bound)} in a thread with a mailbox that goes ${bound === 1 ? 'stays' : 'stay'} with it.`);
  if (moved > 0) said.push(`${messages(moved)} ${moved === 1 ? 'moves' : 'move'} to another day.`);
  if (elsewhere > 0) said.push(`${messages(elsewhere)} ${elsewhere === 1 ? 'leaves' : 'leave'} from another mailbox.`);
  if (more > 0) said.push(`${messages(more)} more ${more === 1 ? 'is' : 'are'} to come.`);
  if (fewer > 0) said.push(`${messages(fewer)} ${fewer === 1 ? 'is' : 'are'} not sent any more.`);
  if (late > 0) said.push(`${late === 1 ? '1 follow-up is' : `${late} follow-ups are`} late.`);
  for (const { reason, people: n } of reach.notPlaced) said.push(`${people(n)} cannot be planned: ${reason}.`);
  const day = (iso: string | null) => (iso === null ? null : dayWords(iso, 'long', form));
  for (const { name, before, after } of reach.ends) {
    if (after === null) continue;
    const instead = before === null || before === after ? '' : `, instead of ${day(before)}`;
    said.push(`${name} ends on ${day(after)}${instead}.`);
  }
  return said;
}
