import { classify, dayNumber, isoDate, type Classified } from '@baton/core';
import { stopContact } from '../campaigns/stop-recipient';
import { wantPlan } from '../planning/want-plan';
import { restIfTroubled } from '../mailboxes/rest';
import { announce } from '../store/changes';
import type { Database, Queryable } from '../store/database';
import { readCampaign, readEnrolment, updateEnrolment } from '../store/campaign-rows';
import {
  addEvent,
  deliveryOfMessageIds,
  lastDeliveryTo,
  updateDelivery,
  type DeliveryRow,
} from '../store/delivery-rows';
import { sameConnection, type MailboxRow } from '../store/mailbox-rows';
import { addSuppression, contactByKey } from '../store/people-rows';
import { addIncoming, updateIncoming } from '../store/reply-rows';
import { parseMail } from './parse-mail';

export interface ArrivedMail {
  uidValidity: string;
  uid: number;
  raw: Buffer;
}

/** Takes one message that came into a mailbox: keeps it, says what it is, and does what follows. Twice is once. */
export async function takeMail(db: Database, mailbox: MailboxRow, arrived: ArrivedMail, nowMs: number): Promise<void> {
  const parsed = await parseMail(arrived.raw);
  const found = classify(parsed, nowMs);
  await db.transaction(async (tx) => {
    const sharing = (await sameConnection(tx, mailbox)).map((m) => m.id);
    const delivery = await deliveryOf(tx, found, sharing);
    const id = await addIncoming(tx, {
      mailboxId: mailbox.id,
      uidValidity: arrived.uidValidity,
      uid: arrived.uid,
      raw: arrived.raw,
      receivedAt: nowMs,
      fromName: parsed.fromName,
      fromKey: parsed.from.toLowerCase(),
      subject: parsed.subject,
      body: parsed.text,
      messageId: parsed.messageId,
      kind: found.kind === 'other' && delivery ? 'reply' : found.kind,
      because:
        found.kind === 'other' && delivery ? 'it comes from somebody who was written to' : found.because.join('; '),
      did: '',
      deliveryId: delivery?.id ?? null,
      enrolmentId: delivery?.enrolmentId ?? null,
    });
    if (id === null || !delivery) return;
    await updateIncoming(tx, id, { did: await follow(tx, found, delivery, nowMs) });
    if (found.kind === 'bounce' || found.kind === 'complaint') await restIfTroubled(tx, delivery.mailboxId, nowMs);
    await announce(tx, 'replies', 'today', 'progress');
  });
}

/** By Message-ID; else the last message sent from these mailboxes to the address it is about. */
async function deliveryOf(
  tx: Queryable,
  found: Classified,
  mailboxIds: readonly number[],
): Promise<DeliveryRow | null> {
  const byId = await deliveryOfMessageIds(tx, found.answers);
  if (byId || found.about === null) return byId;
  const contact = await contactByKey(tx, found.about);
  return contact && lastDeliveryTo(tx, contact.id, mailboxIds);
}

async function follow(tx: Queryable, found: Classified, delivery: DeliveryRow, nowMs: number): Promise<string> {
  const enrolment = await readEnrolment(tx, delivery.enrolmentId);
  if (!enrolment) return '';
  const { contactId, key } = enrolment;
  const campaign = (await readCampaign(tx, enrolment.campaignId))?.name ?? '';
  const event = (kind: Parameters<typeof addEvent>[1]['kind'], detail: string) =>
    addEvent(tx, { at: nowMs, kind, contactId, enrolmentId: enrolment.id, deliveryId: delivery.id, detail });
  const suppress = async (reason: string) => {
    await addSuppression(tx, { kind: 'address', key, reason, source: campaign, createdAt: nowMs });
    await announce(tx, 'people');
  };
  const stop = (
    state: 'replied' | 'bounced' | 'unsubscribed',
    reason: string,
    where: 'everywhere' | 'cause_only' = 'everywhere',
  ) => stopContact(tx, { contactId, cause: enrolment.id, where, state, reason, nowMs });

  switch (found.kind) {
    case 'bounce':
      if (found.bounce === 'delayed') return 'Noted: the message is delayed, not lost.';
      await event(found.bounce === 'hard' ? 'bounce' : 'soft_bounce', found.because.join('; '));
      await updateDelivery(tx, delivery.id, { state: 'failed', reason: 'bounced' });
      if (found.bounce !== 'hard') {
        await stop('bounced', `${found.bounce} bounce`, 'cause_only');
        return `Nothing more goes to ${key} in this campaign: ${found.bounce} bounce.`;
      }
      await stop('bounced', 'hard bounce');
      await suppress('hard bounce');
      return `Suppressed ${key}: hard bounce. Nothing more goes there.`;
    case 'complaint':
      await event('complaint', '');
      await suppress('complained about spam');
      await stop('unsubscribed', 'complained about spam');
      return `Suppressed ${key}: they reported the message as spam.`;
    case 'unsubscribe':
      await event('unsubscribe', found.because.join('; '));
      await suppress('asked to be left alone');
      await stop('unsubscribed', 'asked to be left alone');
      return `Suppressed ${key}: ${found.because.join('; ')}. Nothing more goes there.`;
    case 'auto_reply':
      await event('auto_reply', found.backOn ?? '');
      return postpone(tx, found, enrolment, nowMs);
    case 'reply':
    case 'other': {
      await event('reply', '');
      const stopped = await stop('replied', 'answered');
      return stopped > 0 ? 'No follow-up will go out: they answered.' : 'They had had every message already.';
    }
  }
}

async function postpone(
  tx: Queryable,
  found: Classified,
  enrolment: { id: number; state: string },
  nowMs: number,
): Promise<string> {
  if (found.backOn === null || dayNumber(found.backOn) * 86_400_000 < nowMs)
    return 'Noted; follow-ups go on as planned.';
  if (enrolment.state !== 'in_progress') return `Noted: back on ${found.backOn}.`;
  // The first morning back is a poor moment: the day after.
  const day = dayNumber(found.backOn) + 1;
  await updateEnrolment(tx, enrolment.id, { notBefore: day, reason: `away until ${found.backOn}` });
  await wantPlan(tx, nowMs);
  return `Away until ${found.backOn}: the follow-up waits until ${isoDate(day)} at least.`;
}
