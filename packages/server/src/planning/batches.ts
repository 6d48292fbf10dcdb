import { DomainError, isoDate } from '@baton/core';
import type { MoveResult } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { placesOfSteps, readEnrolment, updateEnrolment } from '../store/campaigns/campaign-rows';
import { announce } from '../store/changes';
import { countPlanned, readDelivery } from '../store/sending/delivery-rows';
import { setBatchHeld } from '../store/planning/plan-rows';
import { replan } from './replan';
import { wantPlan } from './want-plan';

/** Holds a day's batch, or lets it go: what should have left meanwhile gets new times. */
export async function holdBatch(
  { store, clock }: ServerParts,
  batch: { day: number; mailboxId: number | null },
  held: boolean,
): Promise<number> {
  const nowMs = await clock.now();
  return store.db.transaction(async (tx) => {
    const messages = await setBatchHeld(tx, batch, held ? nowMs : null);
    if (!held) await wantPlan(tx, nowMs);
    await announce(tx, 'today', 'progress');
    return messages;
  });
}

/** Whether a message that is moved waits for its new day from now on: a later one, or one with a minute of its own. */
const hasOwnDay = ({ sent, sendMinute }: { sent: number; sendMinute: number | null }, isLater: boolean): boolean =>
  isLater || (sent === 0 && sendMinute !== null);

/** Moves a message to another day if it can be there; the messages after it follow. */
export async function moveMessage({ store, clock }: ServerParts, deliveryId: number, day: number): Promise<MoveResult> {
  const nowMs = await clock.now();
  const before = await readDelivery(store.db, deliveryId);
  if (before?.state !== 'planned')
    throw new DomainError('conflict', 'Only a message that is still to come can be moved.');
  const { enrolmentId, step } = before;
  const person = await readEnrolment(store.db, enrolmentId);
  // Later plans leave the next message of somebody there, too; of a message after it only this one does.
  const places = (await placesOfSteps(store.db, [before.campaignId])).get(before.campaignId);
  const stays = person !== null && hasOwnDay(person, day > before.day) && person.sent === places?.get(step);
  if (stays) await updateEnrolment(store.db, enrolmentId, { notBefore: day });
  const changed = await replan(store, nowMs, { move: { enrolmentId, step, day } });
  const after = await readDelivery(store.db, deliveryId);
  if (changed === null || after?.day !== day) {
    if (stays) await updateEnrolment(store.db, enrolmentId, { notBefore: person.notBefore });
    if (changed !== null) await replan(store, nowMs);
    throw new DomainError(
      'conflict',
      changed === null
        ? 'A plan is being made at the moment. Try again.'
        : `There is no room for it on ${isoDate(day)}: the mailbox is full or closed that day, or it would be too soon or too late after the message before.`,
    );
  }
  return { day: isoDate(day), others: Math.max(0, changed - (await countPlanned(store.db, enrolmentId, day))) };
}
