import {
  DomainError,
  EMPTY_CONTENT,
  judgePerson,
  lineState,
  MINUTE_MS,
  nextMessage,
  PERSONAL_LINE_KEY,
  recipientValues,
  envelopeAddress,
  isoDate,
  renderProof,
  watchedHtml,
  whyLeftOut,
  workingCalendar,
  type LineState,
  type Proof,
  type Watching,
} from '@baton/core';
import { applyEvent } from '../campaigns/apply-event';
import { passOverPeople } from '../campaigns/pass-over';
import { localDay, quotaOn, WORKING_WEEKDAYS } from '../mailboxes/capacity';
import { withMessageBefore } from '../messages/enrolled-proof';
import type { CompiledMessages } from '../messages/compiled-messages';
import { readFiles, type MessageFile } from '../messages/message-files';
import { sendingValues, type Occasion } from '../messages/sending-values';
import { wantPlan } from '../planning/want-plan';
import type { Secrets } from '../security/secrets';
import { updateEnrolment } from '../store/campaigns/campaign-rows';
import type { Queryable } from '../store/database';
import { dropLate, removePlanned, updateDelivery } from '../store/sending/delivery-rows';
import { lockMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { lockDueDelivery, lockShared, markingSending, type DueDelivery } from '../store/sending/sending-rows';
import { endWith, type End, type SendingConnection } from '../store/sending/sending-connection';
import { suppressedAmong } from '../store/people/person/people-rows';
import { composeMessage, replySubject } from './compose';
import { messageIdOf } from './message-id';
import { browserUrl, watchingOf, wayOut, type WayOut } from './signed-links';
import { zones } from '../time/zones';
import { whyNotNow, type Due } from './why-not-now';

/** A delivery marked `sending`, with all that leaves. */
export interface Claimed {
  mailbox: MailboxRow;
  delivery: DueDelivery;
  attemptId: number;
  /** As it goes over the wire. */
  message: Buffer;
  /** The person, then those of copies. */
  recipients: string[];
  day: number;
}

/** Why nothing was claimed: nothing is due; a due delivery was put off, ended or left out; the mailbox must be read first. */
export type NoClaim = 'nothing' | 'dealt_with' | 'read_first';

export interface ClaimRules {
  secrets: Secrets;
  compiled: CompiledMessages;
}

/** A follow-up leaves only when the mailbox was read this recently: the answer may already be there. */
const FRESH_READ_MS = 5 * 60_000;

/**
 * What is later than this is planned anew, with everything else: after the machine slept, its clock was set, or a
 * mailbox could not send for a while, nothing is let out in a burst.
 */
const LATE_MS = 30 * MINUTE_MS;

/**
 * The first of the two phases: in one transaction, locks the mailbox row, checks again everything that may
 * have changed since the plan was made, writes the attempt, counts the units and marks the delivery. The
 * rule of locks: mailbox, then delivery, then limits that mailboxes share (campaign, then connection), then enrolment; a
 * mailbox that is locked is somebody else's.
 *
 * @param known the mailbox as it was a moment ago; what it is now is read and locked
 */
export async function claimNext(
  on: SendingConnection,
  known: MailboxRow,
  nowMs: number,
  rules: ClaimRules,
): Promise<Claimed | NoClaim> {
  return on.transaction(async (tx) => {
    const wanted = { mailboxId: known.id, day: localDay(known, nowMs), nowMs };
    // Both are asked for at once, and the delivery again should the mailbox have another day by now.
    const [mailbox, firstFound] = await Promise.all([lockMailbox(tx, known.id), lockDueDelivery(tx, wanted)]);
    if (mailbox === null || !maySend(mailbox, nowMs)) return nothing;
    const day = localDay(mailbox, nowMs);
    let delivery = day === wanted.day ? firstFound : await lockDueDelivery(tx, { ...wanted, day });
    // What other mailboxes count towards the same limit is counted once nobody else can add to it.
    if (delivery && (await lockShared(tx, mailbox, delivery))) delivery = await lockDueDelivery(tx, { ...wanted, day });
    if (!delivery) return nothing;
    if (delivery.isPlanned && delivery.instant < nowMs - LATE_MS) {
      await dropLate(tx, mailbox.id, nowMs - LATE_MS);
      await wantPlan(tx, nowMs);
      return dealtWith;
    }
    const calendar = workingCalendar(WORKING_WEEKDAYS, delivery.workspace.holidays);
    const next = nextMessage(delivery.person, delivery.steps, calendar);
    if (next === null || delivery.steps[next.step]?.position !== delivery.step) {
      await removePlanned(tx, delivery.enrolmentId);
      return dealtWith;
    }
    // What a person wants sent at once is, whatever its condition.
    const lastDay = delivery.steps[next.step]?.lastDay ?? null;
    const isOver = lastDay !== null && isoDate(zones.get(delivery.workspace.zone).toLocal(nowMs).day) > lastDay;
    if ((next.isOpen || isOver) && !delivery.isUrgent) {
      await passOverPeople(tx, delivery.campaignId, [delivery.enrolmentId], { nowMs, isDue: true });
      return dealtWith;
    }
    const due: Due = { mailbox, delivery, next, nowMs, day };
    const putOff = whyNotNow(due);
    if (putOff !== null) {
      await updateDelivery(tx, delivery.id, {
        ...{ instant: null, state: 'planned', reason: putOff.words, isUrgent: false },
      });
      await wantPlan(tx, nowMs);
      return dealtWith;
    }
    if (delivery.step > 0 && (mailbox.lastReadAt ?? 0) < nowMs - FRESH_READ_MS) return readFirst;
    return claimFor(tx, due, rules);
  });
}

type Claim = End<Claimed | NoClaim>;
const nothing: Claim = { result: 'nothing' };
const dealtWith: Claim = { result: 'dealt_with' };
const readFirst: Claim = { result: 'read_first' };

/** Whether a mailbox may send at this moment, whatever is due. */
function maySend(mailbox: Awaited<ReturnType<typeof lockMailbox>> & object, nowMs: number): boolean {
  if (mailbox.held || mailbox.heldAll || mailbox.problem !== null) return false;
  if (mailbox.sendRetryAt !== null && nowMs < mailbox.sendRetryAt) return false;
  return mailbox.lastSentAt === null || nowMs >= mailbox.lastSentAt + mailbox.paceSeconds * 1000;
}

/** A message with everything that goes with it. */
interface Filled {
  proof: Proof;
  files: MessageFile[];
  /** By which the recipient leaves. */
  way: WayOut;
  /** By which opens and clicks are counted; null where they are not. */
  watching: Watching | null;
}

/** Reasons against the recipient that do not pass end the delivery; without any the message is filled in and claimed. */
async function claimFor(tx: Queryable, due: Due, rules: ClaimRules): Promise<Claim> {
  const { delivery, mailbox } = due;
  const { enrolmentId, campaign, workspace } = delivery;
  const links = { secrets: rules.secrets, publicAddress: workspace.publicAddress };
  const way = wayOut(links, enrolmentId, mailbox.address);
  const own = await proofFor(due, rules, {
    unsubscribeLink: way.link,
    browserLink: browserUrl(links, enrolmentId, delivery.step),
  });
  const quotes = delivery.steps[due.next.step]?.quotes === true && delivery.thread.length > 0;
  const proof = quotes ? await withMessageBefore({ db: tx, ...rules }, enrolmentId, own) : own;
  const files = await filesOrWhyNot(tx, proof);
  const reason = whyLeftOut(
    judgePerson({ suppression: delivery.suppression, verifier: null }, { ...AT_SENDING, ...campaign }, () => ({
      blanks: proof.blanks,
      line: lineOf(delivery, rules),
      faults: typeof files === 'string' ? [...proof.faults, files] : proof.faults,
    })),
  );
  if (reason !== null) {
    await leaveOut(tx, due, reason.words, reason.code === 'suppressed' ? 'suppressed' : 'unfit');
    return dealtWith;
  }
  const watching = watchingOf(links, delivery.id, campaign, delivery.message.content?.format ?? 'letter');
  return withCopies(tx, due, { proof, files: files as MessageFile[], way, watching }, rules);
}

/** Ends what was to be sent to somebody, for a reason that does not pass. */
async function leaveOut(
  tx: Queryable,
  { delivery, nowMs }: Due,
  reason: string,
  kind: 'suppressed' | 'unfit' = 'unfit',
): Promise<void> {
  await applyEvent(tx, { kind, contactId: delivery.person.contactId, cause: delivery.enrolmentId, reason, nowMs });
}

/** Nobody is there to ask any more, and what a verifier said was settled at the start. */
const AT_SENDING = { leaveOutBlank: true, leaveOutDoubtful: false };

function lineOf({ person, line, message }: DueDelivery, { compiled }: ClaimRules): LineState | null {
  if (!message.content || !compiled.usesLine(message.content)) return null;
  return lineState(person.fields[PERSONAL_LINE_KEY] ?? '', line);
}

async function filesOrWhyNot(tx: Queryable, proof: Proof): Promise<MessageFile[] | string> {
  try {
    return await readFiles(tx, proof);
  } catch (error) {
    if (error instanceof DomainError) return error.message.replace(/\.$/, '');
    throw error;
  }
}

async function proofFor(
  { mailbox, delivery, nowMs }: Due,
  rules: ClaimRules,
  links: Pick<Occasion, 'unsubscribeLink' | 'browserLink'>,
): Promise<Proof> {
  const { person, campaign, workspace, message } = delivery;
  const values = sendingValues({
    mailbox,
    ...links,
    postalAddress: workspace.postalAddress,
    listName: campaign.listName,
    campaignName: campaign.name,
    position: person.position,
    recipients: campaign.recipients,
    sendingMs: nowMs,
    zone: person.zone ?? workspace.zone,
  });
  try {
    const compiled = await rules.compiled.get(message.content ?? EMPTY_CONTENT);
    return renderProof(compiled, recipientValues(person.fields, values));
  } catch (error) {
    // A message that was started when more was taken than is now: nothing of it leaves, and nothing else waits for it.
    if (!(error instanceof DomainError)) throw error;
    return { ...NO_PROOF, faults: [error.message.replace(/\.$/, '')] };
  }
}

const NO_PROOF: Proof = {
  ...{ subject: '', preview: '', html: '', text: '', senderName: '', replyTo: '' },
  ...{ cc: [], bcc: [], attachmentIds: [], attachmentNames: [], blanks: [], faults: [] },
};

/**
 * Copies go to nobody who is on the suppression list. They count as the message itself does, so with more of them
 * than were planned it is looked at again whether it may leave now.
 */
async function withCopies(tx: Queryable, due: Due, filled: Filled, rules: ClaimRules): Promise<Claim> {
  const { delivery, nowMs } = due;
  const { proof } = filled;
  const copies = [...proof.cc, ...proof.bcc];
  if (copies.length > 0) {
    const kept = new Set(copies);
    for (const address of await suppressedAmong(tx, copies)) kept.delete(address);
    kept.delete(delivery.person.address);
    proof.cc = proof.cc.filter((a) => kept.has(a));
    proof.bcc = proof.bcc.filter((a) => kept.has(a) && !proof.cc.includes(a));
  }
  // Copies that have gone out before are named in the message, and sent no more.
  const units = delivery.copiesSent ? 1 : 1 + proof.cc.length + proof.bcc.length;
  if (units > delivery.units) {
    const putOff = whyNotNow({ ...due, delivery: { ...delivery, units } });
    if (putOff !== null) {
      await updateEnrolment(tx, delivery.enrolmentId, { units });
      await updateDelivery(tx, delivery.id, { instant: null, state: 'planned', units, reason: putOff.words });
      await wantPlan(tx, nowMs);
      return dealtWith;
    }
  }
  return mark(tx, { ...due, delivery: { ...delivery, units } }, filled, rules);
}

/** Puts a message together; nothing is claimed where that cannot be done. */
async function composed(
  { mailbox, delivery, nowMs }: Due,
  { proof, files, way, watching }: Filled,
  messageId: string,
): Promise<Buffer> {
  return composeMessage({
    ...{ mailbox, files, messageId },
    proof: watching === null ? proof : { ...proof, html: watchedHtml(proof.html, watching) },
    to: delivery.person.address,
    references: delivery.thread.map((t) => t.messageId),
    dateMs: nowMs,
    leaveBy: way.header,
    campaignId: delivery.campaignId,
  });
}

async function mark(tx: Queryable, due: Due, filled: Filled, { secrets }: ClaimRules): Promise<Claim> {
  const { mailbox, delivery, nowMs, day } = due;
  const { proof } = filled;
  const first = delivery.thread[0];
  // Of a message that a person said had left, the subject is not known.
  if (first && first.subject !== '') proof.subject = replySubject(first.subject);
  const domain = envelopeAddress(mailbox.address).split('@')[1] ?? '';
  const messageId = messageIdOf(secrets, delivery, domain);
  const message = await composed(due, filled, messageId).catch(() => null);
  if (message === null) {
    await leaveOut(tx, due, 'The message could not be put together');
    return dealtWith;
  }
  const attempt = {
    deliveryId: delivery.id,
    mailboxId: mailbox.id,
    day,
    quota: quotaOn(mailbox, day, day),
    units: delivery.units,
    messageId,
    subject: proof.subject,
    forClicked: delivery.message.forClicked,
    nowMs,
  };
  const recipients = [delivery.person.address, ...(delivery.copiesSent ? [] : [...proof.cc, ...proof.bcc])];
  const claimed = { mailbox, delivery, message, recipients, day };
  return endWith(markingSending(attempt), ([marked]) => ({ ...claimed, attemptId: (marked as { id: number }).id }));
}
