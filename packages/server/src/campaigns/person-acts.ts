import {
  actWords,
  dayNumber,
  dayWords,
  DomainError,
  eventOfAct,
  eventRule,
  stateAfter,
  whyNotAct,
  type PersonAct,
  type RecordedEventKind,
} from '@baton/core';
import type { ChosenRecipients, PersonActRequest, PersonActResult } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { replan } from '../planning/replan';
import { wantPlan } from '../planning/want-plan';
import {
  readCampaignMailboxes,
  readEnrolment,
  readSteps,
  updateCampaign,
  type CampaignRow,
} from '../store/campaigns/campaign-rows';
import { openEnrolmentsOf, foundEnrolments } from '../store/campaigns/recipient-rows';
import {
  addChange,
  failReturnedOf,
  hurry,
  lastAttemptId,
  nextPlannedOf,
  peopleOnTheWay,
  putPeople,
  removePlannedOf,
  takeTimes,
  type PersonOnTheWay,
} from '../store/campaigns/change-rows';
import { addEvents } from '../store/campaigns/event-rows';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import { readMailbox } from '../store/mailboxes/mailbox-rows';
import { readWorkspace } from '../store/workspace-rows';
import { finishIfDone } from './apply-event';
import type { MovedPerson } from './change-work';
import { requireLocked } from './require-campaign';
import { tally } from './tally';
import { beforeOf } from './undo-change';
import type { CampaignBefore } from '../store/schema/schema';
import { unlessDeadlocked } from './unless-deadlocked';

/** What is done, with what it needs. */
interface Act {
  kind: PersonAct;
  /** Local day number for `postpone`; null for no longer. */
  day: number | null;
  mailboxId: number | null;
  /** The day or mailbox in words. */
  detail: string;
}

/** What was done, and when messages were to leave whose times were taken for it. */
interface Acted {
  result: PersonActResult;
  times: ReadonlyMap<number, number>;
}

async function underWay(tx: Queryable, id: number): Promise<CampaignRow> {
  const campaign = await requireLocked(tx, id);
  if (campaign.state !== 'running' && campaign.state !== 'held')
    throw new DomainError('conflict', 'Nothing more is to come in this campaign.');
  return campaign;
}

/** Does something about recipients; for whom it cannot be done is passed over, with the reason. It can be undone. */
export async function actOnPeople(
  { store, clock }: ServerParts,
  id: number,
  asked: PersonActRequest,
): Promise<PersonActResult> {
  const nowMs = await clock.now();
  let acted: Acted = { result: { words: '', done: 0, passedOver: [] }, times: new Map() };
  await unlessDeadlocked(store, async (tx) => {
    const campaign = await underWay(tx, id);
    const act = await readAct(tx, campaign, asked);
    acted = await actOn(tx, campaign, act, await meantRecipients(tx, id, asked), nowMs);
  });
  const { result, times } = acted;
  if (times.size > 0) await replan(store, nowMs, { times });
  return result;
}

/** Ends a campaign for everybody to whom more was to come. It can be undone. */
export async function endCampaign({ store, clock }: ServerParts, id: number): Promise<void> {
  const nowMs = await clock.now();
  await unlessDeadlocked(store, async (tx) => {
    const campaign = await underWay(tx, id);
    const open = await openEnrolmentsOf(tx, id);
    await actOn(tx, campaign, { kind: 'end', day: null, mailboxId: null, detail: '' }, open, nowMs);
    await updateCampaign(tx, id, { state: 'finished', finishedAt: nowMs });
    await announce(tx, 'campaigns', 'today');
  });
  await replan(store, nowMs);
}

/** Ends a campaign for people because its last day has passed. @returns what it takes to undo it */
export async function endFor(
  tx: Queryable,
  campaignId: number,
  ids: readonly number[],
  nowMs: number,
): Promise<Pick<CampaignBefore, 'people' | 'eventIds'>> {
  const kind = 'ended_by_date';
  const people = (await peopleOnTheWay(tx, campaignId, ids)).map((p): MovedPerson => {
    const { sent, notBefore, mailboxId } = p;
    const to = { state: stateAfter(p.state, kind, true), reason: eventRule(kind).reason, sent, notBefore, mailboxId };
    return { ...p, to };
  });
  await putPeople(
    tx,
    people.map((p) => ({ id: p.id, since: p.state, ...p.to })),
    nowMs,
  );
  await removePlannedOf(tx, ids);
  await failReturnedOf(tx, ids);
  const eventIds = await addEvents(
    tx,
    people.map((p) => ({ at: nowMs, contactId: p.contactId, enrolmentId: p.id, deliveryId: null, detail: '', kind })),
  );
  return { people: people.map(beforeOf), eventIds };
}

/** The enrolments that are meant. @throws DomainError `conflict` where others are found than were shown */
export async function meantRecipients(
  tx: Queryable,
  id: number,
  { enrolmentIds, found }: ChosenRecipients,
): Promise<number[]> {
  if (!found) return enrolmentIds ?? [];
  const ids = await foundEnrolments(tx, id, found);
  if (ids.length !== found.people)
    throw new DomainError(
      'conflict',
      `There are ${ids.length} people by now, instead of ${found.people}. Look at them again.`,
    );
  return ids;
}

async function readAct(tx: Queryable, campaign: CampaignRow, asked: PersonActRequest): Promise<Act> {
  const none = { kind: asked.act, day: null, mailboxId: null, detail: '' };
  switch (asked.act) {
    case 'postpone': {
      if (asked.day === undefined) throw new DomainError('invalid', 'Say until which day.');
      const { dateForm } = await readWorkspace(tx);
      if (asked.day === null) return none;
      return { ...none, day: dayNumber(asked.day), detail: dayWords(asked.day, 'short', dateForm) };
    }
    case 'move': {
      const own = (await readCampaignMailboxes(tx, [campaign.id])).map((l) => l.mailboxId);
      const mailbox = asked.mailboxId === undefined ? null : await readMailbox(tx, asked.mailboxId);
      if (!mailbox || !own.includes(mailbox.id)) throw new DomainError('invalid', 'Choose a mailbox of the campaign.');
      return { ...none, mailboxId: mailbox.id, detail: mailbox.address };
    }
    case 'send_now':
      if (campaign.state === 'held')
        throw new DomainError('conflict', 'The campaign is held: nothing leaves until it is released.');
      return none;
    default:
      return none;
  }
}

async function actOn(
  tx: Queryable,
  campaign: CampaignRow,
  act: Act,
  ids: readonly number[],
  nowMs: number,
): Promise<Acted> {
  const { id } = campaign;
  const attempted = await lastAttemptId(tx);
  const planned = await nextPlannedOf(tx, ids);
  // What is just leaving is waited for: it counts as sent.
  const times = act.kind === 'send_now' ? new Map<number, number>() : await takeTimes(tx, id, ids);
  const people = await peopleOnTheWay(tx, id, ids);
  const steps = (await readSteps(tx, [id])).length;
  const reasons = people.map((p) => whyNotAct(act.kind, { ...p, steps, isPlanned: planned.has(p.id) }));
  const done = people.filter((_, i) => reasons[i] === null);
  const passedOver = tally(reasons.filter((r) => r !== null));
  if (done.length === 0) {
    // What was taken away is given back.
    if (times.size > 0) await wantPlan(tx, nowMs);
    return { result: { words: '', done: 0, passedOver }, times };
  }
  const one = done.length === 1 ? await readEnrolment(tx, (done[0] as PersonOnTheWay).id) : null;
  const words = actWords(act.kind, { people: done.length, address: one?.address ?? '' }, act.detail);
  if (act.kind === 'send_now')
    await hurry(
      tx,
      done.map((p) => planned.get(p.id) as number),
      nowMs,
    );
  else await write(tx, campaign, { act, done, steps, attempted, words }, nowMs);
  await announce(tx, 'campaigns', 'progress', 'today');
  return { result: { words, done: done.length, passedOver }, times };
}

async function write(
  tx: Queryable,
  campaign: CampaignRow,
  {
    act,
    done,
    steps,
    attempted,
    words,
  }: { act: Act; done: PersonOnTheWay[]; steps: number; attempted: number; words: string },
  nowMs: number,
): Promise<void> {
  const { id } = campaign;
  const moved = done.map((p): MovedPerson => ({ ...p, to: after(p, act, steps) }));
  await putPeople(
    tx,
    moved.map((m) => ({ id: m.id, since: m.state, ...m.to })),
    nowMs,
  );
  const ids = moved.map((m) => m.id);
  if (act.kind === 'end' || act.kind === 'skip') await removePlannedOf(tx, ids);
  if (act.kind === 'end') await failReturnedOf(tx, ids);
  const eventIds = await addEvents(
    tx,
    done.map((p) => ({
      ...{ at: nowMs, contactId: p.contactId, enrolmentId: p.id, deliveryId: null, detail: act.detail },
      kind: eventOfAct(act.kind, { ...p, steps }) as RecordedEventKind,
    })),
  );
  await addChange(tx, {
    ...{ campaignId: id, at: nowMs, words: [words] },
    before: {
      ...{ state: campaign.state, choices: null, people: moved.map(beforeOf) },
      ...{ joined: [], eventIds, lastAttemptId: attempted },
      revisions: { before: campaign.revision, since: campaign.revision },
    },
  });
  await finishIfDone(tx, id, nowMs);
  await wantPlan(tx, nowMs);
}

/** How somebody stands after it. */
function after(person: PersonOnTheWay, act: Act, steps: number): MovedPerson['to'] {
  const { reason, sent, notBefore, mailboxId } = person;
  const event = eventOfAct(act.kind, { ...person, steps });
  const state = event === null ? person.state : stateAfter(person.state, event, true);
  const stands = { state, reason, sent, notBefore, mailboxId };
  switch (act.kind) {
    case 'end':
      return { ...stands, reason: eventRule('ended_by_hand').reason };
    case 'skip':
      return { ...stands, sent: sent + 1 };
    case 'postpone':
      return { ...stands, notBefore: act.day };
    case 'move':
      return { ...stands, mailboxId: act.mailboxId };
    case 'send_now':
      return stands;
  }
}
