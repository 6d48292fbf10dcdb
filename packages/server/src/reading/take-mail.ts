import {
  classify,
  DAY_MS,
  dayNumber,
  dayWords,
  doneWords,
  incomingEvent,
  isoDate,
  workingCalendar,
  type Classified,
} from '@baton/core';
import { applyEvent } from '../campaigns/apply-event';
import { WORKING_WEEKDAYS } from '../mailboxes/capacity';
import { wantPlan } from '../planning/want-plan';
import type { Secrets } from '../security/secrets';
import { enrolmentOfSubject } from '../sending/signed-links';
import { announce } from '../store/changes';
import type { Queryable, Store } from '../store/database';
import { readEnrolment, updateEnrolment } from '../store/campaigns/campaign-rows';
import { deliveryOfMessageIds, lastDeliveryOf, lastDeliveryTo, type DeliveryRow } from '../store/sending/delivery-rows';
import { sameConnection, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { contactByKey } from '../store/people/person/people-rows';
import { addIncoming, updateIncoming } from '../store/reading/reply-rows';
import { readWorkspace } from '../store/workspace-rows';
import { readIncoming } from './read-incoming';

export interface ArrivedMail {
  uidValidity: string;
  uid: number;
  raw: Buffer;
}

/** Takes one message that came into a mailbox: keeps it, says what it is, and does what follows. Twice is once. */
export async function takeMail(
  { store: { db }, secrets }: { store: Store; secrets: Secrets },
  mailbox: MailboxRow,
  arrived: ArrivedMail,
  nowMs: number,
): Promise<void> {
  const parsed = await readIncoming(arrived.raw);
  const leaver = enrolmentOfSubject(secrets, parsed.subject);
  const classified = classify(parsed, nowMs);
  const found: Classified =
    leaver === null
      ? classified
      : { ...classified, kind: 'unsubscribe', sureness: 'sure', bounce: null, backOn: null, because: [BY_LINK] };
  const because = parsed.isHeadOnly ? [...found.because, 'only its head could be read'] : found.because;
  await db.transaction(async (tx) => {
    const sharing = (await sameConnection(tx, mailbox)).map((m) => m.id);
    const delivery = leaver === null ? await deliveryOf(tx, found, sharing) : await lastDeliveryOf(tx, leaver);
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
      kind: found.kind,
      because: because.join('; '),
      did: '',
      deliveryId: delivery?.id ?? null,
      enrolmentId: delivery?.enrolmentId ?? null,
    });
    if (id === null || !delivery) return;
    await updateIncoming(tx, id, { did: await follow(tx, found, delivery, nowMs) });
    await announce(tx, 'replies', 'today', 'progress');
  });
}

const BY_LINK = 'it was sent by the unsubscribe link of the message';

/** By Message-ID; else the last message sent from these mailboxes to the address it is about. */
async function deliveryOf(
  tx: Queryable,
  found: Classified,
  mailboxIds: readonly number[],
): Promise<DeliveryRow | null> {
  const byId = await deliveryOfMessageIds(tx, found.answers);
  if (byId) return byId;
  for (const address of found.concerns) {
    const contact = await contactByKey(tx, address);
    const delivery = contact && (await lastDeliveryTo(tx, contact.id, mailboxIds));
    if (delivery) return delivery;
  }
  return null;
}

/** Applies what follows from a message. @returns what was done, in a sentence */
async function follow(tx: Queryable, found: Classified, delivery: DeliveryRow, nowMs: number): Promise<string> {
  const enrolment = await readEnrolment(tx, delivery.enrolmentId);
  if (!enrolment) return '';
  const event = incomingEvent(found.kind, found.bounce);
  const because = found.because.join('; ');
  const backOn = found.backOn !== null && dayNumber(found.backOn) * DAY_MS >= nowMs ? found.backOn : null;
  const { dateForm: form } = await readWorkspace(tx);
  if (event === null)
    return doneWords({ event, address: enrolment.key, stopped: 0, because, backOn, waitsUntil: null, form });
  const stopped = await applyEvent(tx, {
    kind: event,
    contactId: enrolment.contactId,
    cause: enrolment.id,
    delivery: { id: delivery.id, mailboxId: delivery.mailboxId },
    detail: event === 'reply' ? '' : event === 'auto_reply' ? (found.backOn ?? '') : because,
    nowMs,
  });
  const waits = event === 'auto_reply' && backOn !== null && enrolment.state === 'in_progress';
  const waitsUntil = waits ? await postpone(tx, enrolment.id, backOn, nowMs) : null;
  return doneWords({ event, address: enrolment.key, stopped, because, backOn, waitsUntil, form });
}

/**
 * The first day back is a poor moment: the follow-up waits for the second working day. @returns its ISO date
 */
async function postpone(tx: Queryable, enrolmentId: number, backOn: string, nowMs: number): Promise<string> {
  const { dateForm, holidays } = await readWorkspace(tx);
  const calendar = workingCalendar(
    WORKING_WEEKDAYS,
    holidays.map((h) => h.day),
  );
  const day = calendar.add(dayNumber(backOn) - 1, 2);
  const reason = `away, back on ${dayWords(backOn, 'short', dateForm)}`;
  await updateEnrolment(tx, enrolmentId, { notBefore: day, reason });
  await wantPlan(tx, nowMs);
  return isoDate(day);
}
