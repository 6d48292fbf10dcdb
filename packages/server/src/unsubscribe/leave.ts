import { applyEvent } from '../campaigns/apply-event';
import { announce } from '../store/changes';
import type { EnrolledPerson } from '../store/campaigns/campaign-rows';
import type { Database } from '../store/database';
import { suppressedAmong } from '../store/people/person/people-rows';

/** The person leaves: suppressed, and nothing more from any campaign, at once. Twice is once. */
export async function leave(db: Database, person: EnrolledPerson, nowMs: number): Promise<void> {
  const hasLeft = person.state === 'unsubscribed' && (await suppressedAmong(db, [person.address])).length > 0;
  if (hasLeft) return;
  await db.transaction(async (tx) => {
    await applyEvent(tx, {
      kind: 'unsubscribe',
      contactId: person.contactId,
      cause: person.id,
      reason: 'used the unsubscribe link',
      detail: 'link',
      nowMs,
    });
    await announce(tx, 'replies');
  });
}
