import { applyEvent, undoEvent } from '../campaigns/apply-event';
import { announce } from '../store/changes';
import { readEnrolment, updateEnrolment, type EnrolledPerson } from '../store/campaigns/campaign-rows';
import type { Database, Queryable } from '../store/database';
import { suppressedAmong } from '../store/people/person/people-rows';

/** What somebody leaves by the link of a message. */
export type Left = 'everything' | 'campaign';

/** The person leaves, at once: everything, or only this campaign. Twice is once. */
export async function leave(db: Database, person: EnrolledPerson, left: Left, nowMs: number): Promise<void> {
  await db.transaction(async (tx) => {
    const now = await readEnrolment(tx, person.id);
    if (!now || (await hasLeft(tx, now, left))) return;
    const { before } = await applyEvent(tx, {
      kind: left === 'everything' ? 'unsubscribe' : 'opted_out',
      contactId: person.contactId,
      cause: person.id,
      ...(left === 'everything' ? { reason: 'used the unsubscribe link' } : {}),
      detail: 'link',
      nowMs,
    });
    await updateEnrolment(tx, person.id, { beforeLeaving: before });
    await announce(tx, 'replies');
  });
}

async function hasLeft(tx: Queryable, person: EnrolledPerson, left: Left): Promise<boolean> {
  if (person.state !== 'unsubscribed') return false;
  return left === 'campaign' || (await suppressedAmong(tx, [person.address])).length > 0;
}

/** The person pressed by mistake: everything is as it was. Whoever did not leave by the link stays where they are. */
export async function comeBack(db: Database, person: EnrolledPerson, nowMs: number): Promise<void> {
  await db.transaction(async (tx) => {
    const now = await readEnrolment(tx, person.id);
    if (!now?.beforeLeaving) return;
    await undoEvent(tx, now.beforeLeaving, nowMs);
    await updateEnrolment(tx, person.id, { beforeLeaving: null });
  });
}
