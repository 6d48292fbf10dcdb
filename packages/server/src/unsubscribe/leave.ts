import { stopContact } from '../campaigns/stop-recipient';
import { announce } from '../store/changes';
import type { Database } from '../store/database';
import { readCampaign, type EnrolledPerson } from '../store/campaign-rows';
import { addEvent } from '../store/delivery-rows';
import { addSuppression } from '../store/people-rows';

const REASON = 'pressed the unsubscribe link';

/** The person leaves: suppressed, and nothing more from any campaign, at once. Twice is once. */
export async function leave(db: Database, person: EnrolledPerson, nowMs: number): Promise<void> {
  await db.transaction(async (tx) => {
    const campaign = await readCampaign(tx, person.campaignId);
    await addSuppression(tx, {
      kind: 'address',
      key: person.key,
      reason: REASON,
      source: campaign?.name ?? '',
      createdAt: nowMs,
    });
    const { contactId } = person;
    if (person.state !== 'unsubscribed')
      await addEvent(tx, { at: nowMs, kind: 'unsubscribe', contactId, enrolmentId: person.id, detail: 'link' });
    await stopContact(tx, {
      contactId,
      cause: person.id,
      where: 'everywhere',
      state: 'unsubscribed',
      reason: REASON,
      nowMs,
    });
    await announce(tx, 'people', 'replies');
  });
}
