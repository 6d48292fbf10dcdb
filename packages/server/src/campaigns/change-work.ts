import { isDeepStrictEqual } from 'node:util';
import {
  blindFollowUps,
  briefChanges,
  changeSequence,
  contentFault,
  DomainError,
  faultOfSequence,
  faultsOfTerms,
  hasHadEvery,
  isoDate,
  isOpen,
  termsAt,
  whyLeftOut,
  whyNoHours,
  type BriefSaid,
  type ChangeReach,
  type SequenceChange,
  type MessageWatches,
  type WatchedStep,
} from '@baton/core';
import type { BriefChange, BriefNames, StepChoice } from '@baton/contract';
import { readCampaignMailboxes, readSteps, type CampaignRow, type StepRow } from '../store/campaigns/campaign-rows';
import { everyStep, peopleOnTheWay, sentOfSteps, type PersonOnTheWay } from '../store/campaigns/change-rows';
import type { Queryable } from '../store/database';
import { listMailboxes } from '../store/mailboxes/mailbox-rows';
import { readMessagesById, type MessageRow } from '../store/messages/message-rows';
import { readList } from '../store/people/list/list-rows';
import { CAMPAIGN_CHOICES, type CampaignChoices, type PersonStands, type StepVariant } from '../store/schema/schema';
import { zones } from '../time/zones';
import { readWorkspace } from '../store/workspace-rows';
import { namesOf, NO_SENDER_COLUMN } from './brief-names';
import { saidOf } from './brief-said';
import { contentsOf, insteadAt, textsOf } from './step-texts';
import { tally } from './tally';
import { readAudience, type AudienceMember, type Judging } from './audience';
import { checkedParts, listsOf } from './audience-parts';

/** A person of a running campaign and what a change makes of them. */
export interface MovedPerson extends PersonOnTheWay {
  to: PersonStands;
}

/** Everything that a change of a running campaign would write. */
export interface ChangeWork {
  campaign: CampaignRow;
  own: CampaignChoices;
  before: { steps: StepRow[]; mailboxIds: number[]; every: StepRow[] };
  /** What its choices are called then. */
  names: BriefNames;
  /** The sequence as it is to be, in order. */
  steps: StepRow[];
  sequence: SequenceChange;
  /** Numbers of steps that send another text from now on. */
  renewed: number[];
  mailboxIds: number[];
  /** Everybody of the campaign. */
  people: PersonOnTheWay[];
  moved: MovedPerson[];
  joins: AudienceMember[];
  /** People for whom a text that is new has a field without a value, by the fields. */
  blanks: ChangeReach['blanks'];
  /** In sentences. */
  changes: string[];
  faults: string[];
  /** Whether the messages themselves, or their order, are others. */
  touchesMessages: boolean;
  /** Whether the plan can stay as it is. */
  keepsPlan: boolean;
}

const NO_LONGER = 'no longer among those the campaign is for';

/**
 * Works out what a change of a running campaign comes to, for its preview and for making it: whoever has had a message goes
 * on behind it, whoever waits and is no longer meant is left out, whoever is meant and was not there is taken in.
 *
 * @throws DomainError `conflict` where the campaign is not running or held, or has been changed since
 */
export async function workOutChange(
  db: Queryable,
  parts: Judging,
  campaign: CampaignRow,
  change: BriefChange,
): Promise<ChangeWork> {
  if (campaign.state !== 'running' && campaign.state !== 'held')
    throw new DomainError('conflict', 'Only a campaign that is running or held can be changed this way.');
  if (campaign.revision !== change.revision) throw changedMeanwhile();
  const { id } = campaign;
  const { steps: wanted, mailboxIds } = change;
  const picked = change.usesPicked && change.listId === campaign.listId ? campaign.picked : null;
  const own = await checkedParts(db, ownChoices({ ...change, picked }));
  const before = {
    steps: await readSteps(db, [id]),
    every: await everyStep(db, id),
    mailboxIds: (await readCampaignMailboxes(db, [id])).map((l) => l.mailboxId),
  };
  const old = before.steps.map((s) => s.position);
  const sent = await sentOfSteps(db, id);
  const sequence = changeSequence(
    old,
    wanted.map((s) => s.number),
    before.every.map((s) => s.position),
  );
  const messages = await readMessagesById(db, chosenMessages(wanted));
  const steps = wanted.map((choice, place) =>
    stepOf(id, choice, sequence.numbers[place] as number, place, before.steps, messages),
  );
  const renewed = steps.filter((s) => isOther(s, before.steps)).map((s) => s.position);
  const people = await peopleOnTheWay(db, id);
  const texts = steps.filter((s) => renewed.includes(s.position) || !old.includes(s.position));
  const audience = await audienceAfter(db, parts, { campaign, own, before, mailboxIds, steps, texts, people });
  const names = await namesOf(db, own, steps, mailboxIds);
  const after = saidOf(own, names, steps, wanted);
  const was = saidOf(campaign, await namesOf(db, campaign, before.steps, before.mailboxIds), before.steps, []);
  const { dateForm, zone, publicAddress } = await readWorkspace(db);
  const noHours = whyNoHours(own, zones.get(zone), parts.nowMs);
  const today = isoDate(zones.get(zone).toLocal(parts.nowMs).day);
  const numbers = wanted.map((s) => s.number);
  const faults = [
    faultOfSequence(old, numbers, (n) => (sent.get(n) ?? 0) > 0),
    ...(await whatIsGone(db, listsOf(own), mailboxIds)),
    own.senderKey !== null && names.senderColumn === null ? `${NO_SENDER_COLUMN}.` : null,
    noHours === null ? null : `${noHours}.`,
    ...newFaults(faultsOfTerms(before.steps, campaign.window, today), faultsOfTerms(steps, own.window, today)),
    ...newlyBlind({ ...campaign, steps: before.steps }, { ...own, steps }, publicAddress !== ''),
    ...faultsOf({ listId: own.listId, mailboxIds, variants: own.variants, was: campaign.variants }, wanted, messages),
  ].filter((f) => f !== null);
  const moved = movedPeople(people, sequence, { steps: steps.length, ...audience });
  return {
    ...{ campaign, own, before, names, steps, sequence, renewed, mailboxIds, people, moved, faults },
    joins: audience.joins,
    blanks: audience.blanks,
    changes: briefChanges(was, after, dateForm),
    touchesMessages:
      own.releasedByHand !== campaign.releasedByHand || renewed.length > 0 || sequence.numbers.join() !== old.join(),
    keepsPlan: planningOf(was) === planningOf(after) && moved.length === 0 && audience.joins.length === 0,
  };
}

const byNumber = (a: number, b: number): number => a - b;

export const changedMeanwhile = (): DomainError =>
  new DomainError(
    'conflict',
    'Somebody has changed this campaign since you opened it. Look at it again, then choose anew.',
  );

/** Of a campaign, or of what is wanted of it, the choices that stand in its row. */
export const ownChoices = (of: CampaignChoices): CampaignChoices =>
  Object.fromEntries(CAMPAIGN_CHOICES.map((key) => [key, of[key]])) as CampaignChoices;

/** What of a brief the plan depends on. */
const planningOf = ({ steps, mailboxes, window, windowZone, dailyLimit, share, ...of }: BriefSaid): string =>
  JSON.stringify([
    steps.map((s) => [s.number, s.delay, s.tolerance, s.condition, s.lastDay, s.hours]),
    ...[mailboxes, window, windowZone, dailyLimit, share],
    ...[of.startDate, of.startMinute, of.endDate, of.endMinute],
    ...[of.firstGroup, of.groupWait, of.groupByHand],
  ]);

function stepOf(
  campaignId: number,
  choice: StepChoice,
  position: number,
  place: number,
  before: readonly StepRow[],
  messages: ReadonlyMap<number, MessageRow>,
): StepRow {
  const { number, messageId, others, renews } = choice;
  const instead = insteadAt(place, choice);
  const old = number === null ? undefined : before.find((s) => s.position === number);
  const current = (id: number | null) => (id === null ? null : (messages.get(id)?.content ?? null));
  const kept = (id: number | null, was: StepVariant | null | undefined) =>
    was?.messageId === id && !renews ? was.content : current(id);
  return {
    ...{ campaignId, position, place, messageId, isOut: false },
    ...termsAt(place, choice),
    content: kept(messageId, old),
    others: others.map((other, i) => ({ messageId: other, content: kept(other, old?.others[i]) })),
    ifClicked: instead === null ? null : { messageId: instead, content: kept(instead, old?.ifClicked) },
  };
}

/** Whether a step that was there sends something else. */
function isOther(step: StepRow, before: readonly StepRow[]): boolean {
  const old = before.find((s) => s.position === step.position);
  return old !== undefined && !isDeepStrictEqual(textsOf(old), textsOf(step));
}

const watchedStep = (step: StepRow): WatchedStep => ({
  ...{ condition: step.condition, tellsClicked: step.ifClicked !== null },
  formats: contentsOf([step]).map((c) => c.format),
});

type Watched = MessageWatches & { steps: readonly StepRow[] };

/** Follow-ups that depend on what nobody counts. What was wrong before keeps nobody from changing something else. */
function newlyBlind(was: Watched, now: Watched, hasAddress: boolean): string[] {
  const blind = (of: Watched) => blindFollowUps(of.steps.map(watchedStep), of, hasAddress);
  return newFaults(blind(was), blind(now));
}

const newFaults = (before: readonly string[], now: readonly string[]): string[] =>
  now.flatMap((fault) => (before.includes(fault) ? [] : [`${fault}.`]));

const chosenMessages = (steps: readonly StepChoice[]): number[] =>
  steps.flatMap((s) => [s.messageId, ...s.others, s.ifClicked]).filter((id) => id !== null);

/** What somebody has deleted meanwhile. */
async function whatIsGone(db: Queryable, listIds: readonly number[], mailboxIds: readonly number[]): Promise<string[]> {
  const mailboxes = new Set((await listMailboxes(db)).map((m) => m.id));
  const faults = mailboxIds.every((id) => mailboxes.has(id))
    ? []
    : ['One of the mailboxes is gone. Look at them again.'];
  for (const id of listIds) {
    const list = await readList(db, id);
    if (list?.removedAt !== null)
      faults.push(`${list ? `The list ${list.name}` : 'One of the lists'} is gone. Choose another.`);
  }
  return faults;
}

function faultsOf(
  own: { listId: number | null; mailboxIds: readonly number[]; variants: readonly number[]; was: readonly number[] },
  wanted: readonly StepChoice[],
  messages: ReadonlyMap<number, MessageRow>,
): string[] {
  const faults: string[] = [];
  if (own.listId === null) faults.push('No list is chosen.');
  if (own.mailboxIds.length === 0) faults.push('No mailbox is chosen.');
  if (wanted.some((s) => s.messageId === null || !messages.has(s.messageId))) faults.push('A step has no message.');
  if (own.variants.length !== own.was.length)
    faults.push('Who gets which variant was drawn at the start: there can be neither more nor fewer of them now.');
  for (const m of messages.values()) {
    const fault = contentFault(m.content);
    if (fault)
      faults.push(`“${m.name}” has an error: ${fault.place === 'body' ? 'text' : fault.place}, line ${fault.line}.`);
  }
  return faults;
}

interface AudienceAfter {
  joins: AudienceMember[];
  /** By contact, what is to become of people who wait or are left out; null where the audience stays as it is. */
  judged: ReadonlyMap<number, string | null> | null;
  /** By contact, from which mailbox people who wait are written to; null where that stays as it is. */
  senders: ReadonlyMap<number, number | null> | null;
  blanks: ChangeReach['blanks'];
}

const NOBODY: AudienceAfter = { joins: [], judged: null, senders: null, blanks: [] };

/** Choices that say who belongs to it. */
const AUDIENCE = [
  ...(['listId', 'segmentId', 'picked', 'alsoParts', 'exceptParts', 'allowsOthers', 'notWithinDays'] as const),
  ...(['mostPerCompany', 'leaveOutBlank', 'leaveOutDoubtful', 'needsLines'] as const),
] satisfies (keyof CampaignChoices)[];

async function audienceAfter(
  db: Queryable,
  parts: Judging,
  {
    campaign,
    own,
    before,
    mailboxIds,
    steps,
    texts,
    people,
  }: Pick<ChangeWork, 'campaign' | 'own' | 'before' | 'mailboxIds' | 'steps' | 'people'> & { texts: StepRow[] },
): Promise<AudienceAfter> {
  const isOther = (key: keyof CampaignChoices) => !isDeepStrictEqual(campaign[key], own[key]);
  const otherSenders =
    isOther('senderKey') ||
    isOther('keepsSender') ||
    ((own.senderKey !== null || own.keepsSender) &&
      !isDeepStrictEqual(before.mailboxIds, [...mailboxIds].sort(byNumber)));
  const chooses = otherSenders || AUDIENCE.some(isOther);
  if (!chooses && texts.length === 0) return NOBODY;
  const contents = (of: readonly StepRow[]) => contentsOf(of).filter((c) => contentFault(c) === null);
  const after = { ...campaign, ...own };
  const wholes = contents(chooses ? steps : texts);
  const audience = await readAudience(db, after, { ...parts, contents: wholes, mailboxIds });
  const known = new Map(people.map((p) => [p.contactId, p]));
  const open = audience.filter((a) => isOpen(known.get(a.person.contactId)?.state ?? 'done'));
  const lacking = open.filter((a) => a.leftOut === null && a.blanks.length > 0).map((a) => a.blanks.join(', '));
  const blanks = tally(lacking).map(({ reason: fields, people: n }) => ({ fields, people: n }));
  if (!chooses) return { ...NOBODY, blanks };
  // Nobody is there to ask person by person: an open question leaves them out.
  const judged = new Map(audience.map((a) => [a.person.contactId, whyLeftOut(a)?.words ?? null]));
  const joins = audience.filter((a) => !known.has(a.person.contactId)).map((a) => ({ ...a, leftOut: whyLeftOut(a) }));
  const senders = otherSenders ? new Map(audience.map((a) => [a.person.contactId, a.mailboxId])) : null;
  return { joins, judged, senders, blanks };
}

function movedPeople(
  people: readonly PersonOnTheWay[],
  { next }: SequenceChange,
  { steps, judged, senders }: { steps: number } & Pick<AudienceAfter, 'judged' | 'senders'>,
): MovedPerson[] {
  return people.flatMap((person): MovedPerson[] => {
    const sent = next[person.sent] ?? person.sent;
    let { state, reason } = person;
    if (state === 'in_progress' && sent >= steps) [state, reason] = ['done', ''];
    else if (hasHadEvery(state) && sent < steps) [state, reason] = ['in_progress', ''];
    else if (judged !== null && state === 'waiting') {
      const why = judged.get(person.contactId);
      if (why !== null) [state, reason] = ['left_out', why ?? NO_LONGER];
    } else if (judged !== null && state === 'left_out' && person.sent === 0 && judged.get(person.contactId) === null)
      [state, reason] = ['waiting', ''];
    const mailboxId = senders && state === 'waiting' ? (senders.get(person.contactId) ?? null) : person.mailboxId;
    const isSame = sent === person.sent && state === person.state && mailboxId === person.mailboxId;
    if (isSame && reason === person.reason) return [];
    return [{ ...person, to: { state, reason, sent, notBefore: person.notBefore, mailboxId } }];
  });
}
