import { eventRule, isOpen, isRecorded, stateAfter, type RecipientEventKind } from '@baton/core';
import { restIfTroubled } from '../mailboxes/rest';
import { wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import {
  hasOpenEnrolments,
  lockEnrolmentsOf,
  readCampaign,
  readEnrolment,
  updateCampaign,
  updateEnrolment,
} from '../store/campaigns/campaign-rows';
import { removePlanned, updateDelivery } from '../store/sending/delivery-rows';
import { addEvent } from '../store/campaigns/event-rows';
import { addSuppression } from '../store/people/person/people-rows';

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

/**
 * Applies an event to a person: states of this campaign and others, messages to come, history, suppression list, the
 * mailbox's health, and the plan, which is made again where quota is freed.
 *
 * @returns in how many campaigns messages were still to come that now are not sent
 */
export async function applyEvent(tx: Queryable, event: Happened): Promise<number> {
  const rule = eventRule(event.kind);
  const { delivery, reason = rule.reason, nowMs } = event;
  if (isRecorded(event.kind))
    await addEvent(tx, {
      at: nowMs,
      kind: event.kind,
      contactId: event.contactId,
      enrolmentId: event.cause,
      deliveryId: delivery?.id ?? null,
      detail: event.detail ?? '',
    });
  if (rule.failsMessage && delivery) await updateDelivery(tx, delivery.id, { state: 'failed', reason });
  if (rule.suppresses !== null) await suppressCause(tx, event, rule.suppresses);
  const stopped = await changeStates(tx, event, reason);
  if (stopped > 0) await wantPlan(tx, nowMs);
  if (rule.counts !== null && delivery) await restIfTroubled(tx, delivery.mailboxId, nowMs);
  await announce(tx, 'progress', 'today');
  return stopped;
}

async function changeStates(tx: Queryable, event: Happened, reason: string): Promise<number> {
  let stopped = 0;
  for (const e of await lockEnrolmentsOf(tx, event.contactId)) {
    const state = stateAfter(e.state, event.kind, e.id === event.cause);
    if (state === e.state) continue;
    await updateEnrolment(tx, e.id, { state, reason, changedAt: event.nowMs });
    if (!isOpen(e.state) || isOpen(state)) continue;
    await removePlanned(tx, e.id);
    await finishIfDone(tx, e.campaignId, event.nowMs);
    stopped++;
  }
  return stopped;
}

async function suppressCause(tx: Queryable, { cause, reason, nowMs }: Happened, because: string): Promise<void> {
  const enrolment = cause === null ? null : await readEnrolment(tx, cause);
  if (!enrolment) return;
  await addSuppression(tx, {
    kind: 'address',
    key: enrolment.key,
    reason: reason === undefined ? because : `${because}: ${reason}`,
    source: (await readCampaign(tx, enrolment.campaignId))?.name ?? '',
    createdAt: nowMs,
  });
  await announce(tx, 'people');
}

/** The same of several that may be. */
export async function finishCampaigns(db: Queryable, ids: Iterable<number>, nowMs: number): Promise<void> {
  for (const id of ids) await db.transaction((tx) => finishIfDone(tx, id, nowMs));
}

/** A running campaign in which nobody is open any more is finished. */
export async function finishIfDone(tx: Queryable, campaignId: number, nowMs: number): Promise<void> {
  if (await hasOpenEnrolments(tx, campaignId)) return;
  const campaign = await readCampaign(tx, campaignId);
  if (campaign?.state !== 'running') return;
  await updateCampaign(tx, campaignId, { state: 'finished', finishedAt: nowMs });
  await announce(tx, 'campaigns');
}
