import type { AudiencePart, BriefChoices, BriefNames, BriefStep, BriefView, Forecast } from '@baton/contract';
import {
  audienceWords,
  dayWords,
  insteadWords,
  partWords,
  termsOf,
  textIds,
  type BriefSaid,
  type DateForm,
} from '@baton/core';
import { listed, weekdays } from '../look/language';
import { campaignsTexts } from './texts';

const texts = campaignsTexts.briefWords;

const WEEKDAYS = weekdays('long');

export function weekdayWords(days: readonly number[]): string {
  const sorted = [...days].sort((a, b) => a - b);
  if (sorted.join() === '1,2,3,4,5') return texts.weekdays;
  if (sorted.length === 7) return texts.everyDay;
  return listed(sorted.map((d) => texts.eachWeekday(WEEKDAYS[d - 1] as string)));
}

/** How many follow-ups would be late, in words. */
export const lateWords = (n: number): string => (n === 0 ? texts.noFollowUpLate : texts.followUpsLate(n));

/** When the messages leave, in a sentence; '' without a plan. */
export function planSentence(f: Forecast, form: DateForm): string {
  if (f.firstDay === null) return '';
  const words = (iso: string | null) => (iso === null ? '' : dayWords(iso, 'long', form));
  const starts =
    f.firstDay === f.lastStartDay
      ? texts.firstMessagesAreSentOn(words(f.firstDay))
      : texts.firstMessagesAreSentFrom(words(f.firstDay), words(f.lastStartDay));
  const ends = f.lastDay === f.lastStartDay ? '' : texts.theLastFollowUpOn(words(f.lastDay));
  const late = f.late === 0 ? '' : texts.followUpsWouldBeLate(f.late);
  return `${starts}${ends}.${late}`;
}

/** What the start button and the question before it say. */
export function startWords(brief: Pick<BriefView, 'forecast'>, form: DateForm): string {
  const { people, lastDay } = brief.forecast;
  return lastDay === null ? texts.start(people) : texts.startEnds(people, dayWords(lastDay, 'short', form));
}

/** What a step sends, in words: with variants, each message that one of them gets. */
export function messageWords({ messageName, others, otherNames }: BriefStep, variants: number): string {
  const own = messageName || texts.noMessageYet;
  const more = otherNames.slice(0, Math.max(0, variants - 1)).filter((name, i) => others[i] != null && name !== own);
  return [...new Set([own, ...more])].join(texts.or);
}

/** The steps of a brief as they are chosen. */
export const choicesOf = (steps: readonly BriefStep[]): BriefChoices['steps'] =>
  steps.map((step) => ({
    ...{ number: step.number, messageId: step.messageId, others: step.others, ifClicked: step.ifClicked },
    ...{ ...termsOf(step), renews: step.renews },
  }));

/** A variant's letter: A, B, … */
export const letterOf = (variant: number): string => String.fromCharCode(65 + variant);

/** Whole shares of a hundred, as even as can be. */
export function evenShares(n: number): number[] {
  const share = Math.floor(100 / n);
  return Array.from({ length: n }, (_, i) => (i === 0 ? 100 - share * (n - 1) : share));
}

/** How a campaign goes beside others in the same mailboxes. */
export const shareWords = (share: number): string =>
  share === 1 ? texts.asOftenAsOtherCampaigns : texts.startsForEachOneOf(share);

/** The choices of a brief as they are. */
export function choicesFrom(b: BriefView): BriefChoices {
  return {
    name: b.name,
    listId: b.listId,
    segmentId: b.segmentId,
    usesPicked: b.usesPicked,
    alsoParts: b.alsoParts,
    exceptParts: b.exceptParts,
    steps: choicesOf(b.steps),
    mailboxIds: b.mailboxIds,
    senderKey: b.senderKey,
    keepsSender: b.keepsSender,
    startDate: b.startDate,
    startMinute: b.startMinute,
    endDate: b.endDate,
    endMinute: b.endMinute,
    window: b.window,
    windowZone: b.windowZone,
    dailyLimit: b.dailyLimit,
    share: b.share,
    leaveOutBlank: b.leaveOutBlank,
    leaveOutDoubtful: b.leaveOutDoubtful,
    allowsOthers: b.allowsOthers,
    notWithinDays: b.notWithinDays,
    mostPerCompany: b.mostPerCompany,
    releasedByHand: b.releasedByHand,
    firstGroup: b.firstGroup,
    groupWait: b.groupWait,
    groupByHand: b.groupByHand,
    enrolNew: b.enrolNew,
    replyEndsHere: b.replyEndsHere,
    holdsColleagues: b.holdsColleagues,
    watchesOpens: b.watchesOpens,
    watchesClicks: b.watchesClicks,
    watchesPlaces: b.watchesPlaces,
    variants: b.variants,
    stopsLosers: b.stopsLosers,
    needsLines: b.needsLines,
  };
}

/** The list that a brief is for, or the part of it. */
const mainWords = ({ listName, segmentWords }: BriefView): string =>
  partWords(listName ?? campaignsTexts.brief.noListYet, segmentWords);

function stepName({ messageName, otherNames, ifClickedName }: BriefStep): string {
  const { quoted } = campaignsTexts.brief;
  const most = [...new Set([messageName, ...otherNames])].map(quoted).join(texts.or);
  return ifClickedName === null ? most : insteadWords(most, quoted(ifClickedName));
}

/** A brief as its choices are told from others. */
export const saidOf = (b: BriefView): BriefSaid => ({
  ...choicesFrom(b),
  audience: audienceWords([mainWords(b), ...b.alsoWords], b.exceptWords),
  audienceIds: JSON.stringify([b.listId, b.segmentId, b.usesPicked, b.alsoParts, b.exceptParts]),
  mailboxes: b.mailboxes.map((m) => m.address),
  senderColumn: b.senderColumn,
  steps: b.steps.map((s, i) => ({
    number: s.number ?? -1 - i,
    name: stepName(s),
    messages: textIds(s),
    ...termsOf(s),
    isRenewed: false,
  })),
});

/** Stands for a name until the server says it. */
const NOT_YET = '…';

/** Words of parts of an audience that were there before stay. */
const wordsOf = (parts: readonly AudiencePart[], before: readonly AudiencePart[], words: readonly string[]): string[] =>
  parts.map(({ listId, segmentId }) => {
    const at = before.findIndex((b) => b.listId === listId && b.segmentId === segmentId);
    return words[at] ?? NOT_YET;
  });

/** A brief with other choices, before the server has said what comes of them. */
export function withChoices(view: BriefView, choices: BriefChoices, names: BriefNames | null = null): BriefView {
  const { steps: stepNames, ...said } = names ?? { steps: [] };
  const known = new Map(
    view.steps.flatMap((s) => [
      [s.messageId, s.messageName] as const,
      ...s.others.map((id, i) => [id, s.otherNames[i] ?? ''] as const),
      [s.ifClicked, s.ifClickedName ?? ''] as const,
    ]),
  );
  const nameOf = (id: number | null) => (id === null ? '' : (known.get(id) ?? NOT_YET));
  return {
    ...view,
    ...choices,
    alsoWords: wordsOf(choices.alsoParts, view.alsoParts, view.alsoWords),
    exceptWords: wordsOf(choices.exceptParts, view.exceptParts, view.exceptWords),
    steps: choices.steps.map((s, place) => {
      const was = s.number === null ? undefined : view.steps.find((v) => v.number === s.number);
      return {
        ...{ isOlder: was?.isOlder ?? false, sent: was?.sent ?? 0, ...s },
        ...{ messageName: nameOf(s.messageId), otherNames: s.others.map(nameOf) },
        ifClickedName: s.ifClicked === null ? null : nameOf(s.ifClicked),
        ...stepNames[place],
      };
    }),
    mailboxes: choices.mailboxIds.map((id) => view.mailboxes.find((m) => m.id === id) ?? { id, address: NOT_YET }),
    senderColumn:
      choices.senderKey === null ? null : choices.senderKey === view.senderKey ? view.senderColumn : NOT_YET,
    ...said,
  };
}
