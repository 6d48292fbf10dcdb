import { eventRule, isOpen, isRecorded, stateAfter, type RecipientEventKind } from '@baton/core';
import { isSharedDomain } from '../reading/shared-domains';
import { restIfTroubled, undoRest } from '../mailboxes/rest';
import { wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import type { Before } from '../store/schema/schema';
import {
  hasOpenEnrolments,
  lockColleaguesOf,
  lockEnrolmentsOf,
  readCampaign,
  readEnrolment,
  updateCampaign,
  updateEnrolment,
} from '../store/campaigns/campaign-rows';
import { failReturned, readDelivery, removePlanned, updateDelivery } from '../store/sending/delivery-rows';
import { addEvent, markUndone } from '../store/campaigns/event-rows';
import { undoSendAgain } from './send-again';
import { addSuppression, removeSuppression } from '../store/people/person/people-rows';

/** Something that happened to a person. What follows from it is core's to say: see `RECIPIENT_EVENTS`. */
export interface Happened {
  kind: RecipientEventKind;
  contactId: number;
  /** The enrolment it belongs to; null when a person did it by hand. */
  cause: number | null;
  /** The message that led to it. */
  delivery?: { id: number; mailboxId: number };
  /** Why, in words, where the event's own reason is not enough. */
  reason?: string;
  /** What the history says of it beside its kind. */
  detail?: string;
  nowMs: number;
}

/** What came of an event. */
export interface Applied {
  /** In how many campaigns messages were still to come that now are not sent. */
  stopped: number;
  /** What it changed, as it was. */
  before: Before;
}

/**
 * Applies an event to a person: states of this campaign and others, messages to come, history, suppression list, the
 * mailbox's health, and the plan, which is made again where quota is freed.
 */
export async function applyEvent(tx: Queryable, event: Happened): Promise<Applied> {
  const rule = eventRule(event.kind);
  const { delivery, reason = rule.reason, nowMs } = event;
  const before: Before = {
    eventId: null,
    delivery: null,
    enrolments: [],
    suppressionId: null,
    again: null,
    rest: null,
  };
  if (isRecorded(event.kind))
    before.eventId = await addEvent(tx, {
      at: nowMs,
      kind: event.kind,
      contactId: event.contactId,
      enrolmentId: event.cause,
      deliveryId: delivery?.id ?? null,
      detail: event.detail ?? '',
    });
  if (rule.failsMessage && delivery) before.delivery = await fail(tx, delivery.id, reason);
  if (rule.suppresses !== null) before.suppressionId = await suppressCause(tx, event, rule.suppresses);
  const stopped = await changeStates(tx, event, reason, before);
  if (event.kind === 'reply') await holdColleagues(tx, event, before);
  if (stopped > 0) await wantPlan(tx, nowMs);
  if (rule.counts !== null && delivery) before.rest = await restIfTroubled(tx, delivery.mailboxId, nowMs);
  await announce(tx, 'progress', 'today');
  return { stopped, before };
}

/** @returns what it was before */
async function fail(tx: Queryable, id: number, reason: string): Promise<Before['delivery']> {
  const was = await readDelivery(tx, id);
  await updateDelivery(tx, id, { state: 'failed', reason });
  return was && { id, state: was.state, reason: was.reason };
}

async function changeStates(tx: Queryable, event: Happened, reason: string, before: Before): Promise<number> {
  let stopped = 0;
  const all = await lockEnrolmentsOf(tx, event.contactId);
  const cause = all.find((e) => e.id === event.cause);
  const endsHere = cause ? ((await readCampaign(tx, cause.campaignId))?.replyEndsHere ?? false) : false;
  for (const e of all) {
    const state = stateAfter(e.state, event.kind, e.id === event.cause, endsHere);
    if (state === e.state) continue;
    before.enrolments.push({ id: e.id, state: e.state, reason: e.reason, notBefore: e.notBefore, since: state });
    await updateEnrolment(tx, e.id, { state, reason, changedAt: event.nowMs });
    if (!isOpen(e.state) || isOpen(state)) continue;
    await removePlanned(tx, e.id);
    await failReturned(tx, e.id);
    await finishIfDone(tx, e.campaignId, event.nowMs);
    stopped++;
  }
  return stopped;
}

/** Holds the colleagues of somebody who replied, in the campaigns that the reply ended and that ask for it. */
async function holdColleagues(tx: Queryable, { contactId, nowMs }: Happened, before: Before): Promise<void> {
  const { reason } = eventRule('colleague_replied');
  for (const ended of before.enrolments.filter((e) => isOpen(e.state)).map((e) => e.id)) {
    for (const e of await lockColleaguesOf(tx, ended)) {
      if (isSharedDomain(e.domain)) continue;
      const since = stateAfter(e.state, 'colleague_replied', true);
      if (since === e.state || e.contactId === contactId) continue;
      const { id, state, reason: was, notBefore } = e;
      before.enrolments.push({ id, state, reason: was, notBefore, since, isColleague: true });
      await updateEnrolment(tx, id, { state: since, reason, changedAt: nowMs });
      await removePlanned(tx, id);
      await failReturned(tx, id);
      const noted = { at: nowMs, kind: 'colleague_replied', enrolmentId: id, deliveryId: null, detail: '' } as const;
      await addEvent(tx, { ...noted, contactId: e.contactId });
      await finishIfDone(tx, e.campaignId, nowMs);
    }
  }
}

/** @returns the entry that it put on the list; null where the address was there already */
async function suppressCause(tx: Queryable, event: Happened, because: string): Promise<number | null> {
  const { cause, reason, nowMs } = event;
  const enrolment = cause === null ? null : await readEnrolment(tx, cause);
  if (!enrolment) return null;
  const id = await addSuppression(tx, {
    kind: 'address',
    key: enrolment.key,
    reason: reason === undefined ? because : `${because}: ${reason}`,
    source: (await readCampaign(tx, enrolment.campaignId))?.name ?? '',
    createdAt: nowMs,
  });
  await announce(tx, 'people');
  return id;
}

/**
 * Takes an event back: everything that it changed and that nothing has changed since is as it was, and what was planned is
 * planned anew. The history keeps it, as undone.
 *
 * @returns in how many campaigns messages follow again
 */
export async function undoEvent(tx: Queryable, before: Before, nowMs: number): Promise<number> {
  if (before.eventId !== null) await markUndone(tx, before.eventId, nowMs);
  if (before.suppressionId !== null) await removeSuppression(tx, before.suppressionId);
  if (before.delivery) {
    const { id, ...was } = before.delivery;
    if ((await readDelivery(tx, id))?.state === 'failed') await updateDelivery(tx, id, was);
  }
  if (before.again) await undoSendAgain(tx, before.again);
  if (before.rest) await undoRest(tx, before.rest, nowMs);
  let going = 0;
  for (const { id, since, state, reason, notBefore } of before.enrolments) {
    const now = await readEnrolment(tx, id);
    if (now?.state !== since) continue;
    await updateEnrolment(tx, id, { state, reason, notBefore, changedAt: nowMs });
    if (isOpen(state)) going++;
    // One that a message sent again had opened may be the campaign's last.
    else await finishIfDone(tx, now.campaignId, nowMs);
    const campaign = await readCampaign(tx, now.campaignId);
    // One that has ended meanwhile goes on for them.
    if (isOpen(state) && campaign?.state === 'finished')
      await updateCampaign(tx, now.campaignId, { state: 'running', finishedAt: null });
  }
  await wantPlan(tx, nowMs);
  await announce(tx, 'progress', 'today', 'people', 'campaigns', 'mailboxes');
  return going;
}

/** The same of several that may be. */
export async function finishCampaigns(db: Queryable, ids: Iterable<number>, nowMs: number): Promise<void> {
  for (const id of ids) await db.transaction((tx) => finishIfDone(tx, id, nowMs));
}

/** A running campaign in which nobody is open any more is finished, unless it takes in whoever comes. */
export async function finishIfDone(tx: Queryable, campaignId: number, nowMs: number): Promise<void> {
  if (await hasOpenEnrolments(tx, campaignId)) return;
  const campaign = await readCampaign(tx, campaignId);
  if (campaign?.state !== 'running' || campaign.enrolNew) return;
  await updateCampaign(tx, campaignId, { state: 'finished', finishedAt: nowMs });
  await announce(tx, 'campaigns');
}
