import {
  DAY_MS,
  dayNumber,
  dayWords,
  DomainError,
  doneWords,
  eventOfMatch,
  isoDate,
  parseAddress,
  type IncomingKind,
} from '@baton/core';
import { applyEvent, undoEvent } from '../campaigns/apply-event';
import { afterSoftBounce, sendAgain } from '../campaigns/send-again';
import { calendarOf } from '../mailboxes/capacity';
import { wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import { readEnrolment, updateEnrolment } from '../store/campaigns/campaign-rows';
import type { Queryable, Store } from '../store/database';
import { candidatesTo } from '../store/reading/candidate-rows';
import { giveLettersTo } from '../store/reading/letter-rows';
import { lockIncoming, updateIncoming, type IncomingRow } from '../store/reading/reply-rows';
import type { Before } from '../store/schema/schema';
import { readDelivery, type DeliveryRow } from '../store/sending/delivery-rows';
import { readWorkspace } from '../store/workspace-rows';

/** Does what follows from a message that came in, and keeps what was before, so that a person can take it back. */
export async function settle(tx: Queryable, row: IncomingRow, nowMs: number): Promise<void> {
  const delivery = row.deliveryId === null ? null : await readDelivery(tx, row.deliveryId);
  if (!delivery) return;
  await updateIncoming(tx, row.id, await follow(tx, row, delivery, nowMs));
}

/** Applies what follows from a message. @returns what was done, in a sentence, and what was before */
async function follow(
  tx: Queryable,
  { kind, details, because, match }: IncomingRow,
  delivery: DeliveryRow,
  nowMs: number,
): Promise<{ did: string; before: Before | null }> {
  const enrolment = await readEnrolment(tx, delivery.enrolmentId);
  if (!enrolment) return { did: '', before: null };
  const { key: address } = enrolment;
  const copied = kind === 'bounce' && delivery.units > 1 ? copyAmong(details.concerns ?? [], address) : null;
  if (copied !== null)
    return { did: `Noted: the copy to ${copied} came back. The message to ${address} is not concerned.`, before: null };
  const found = eventOfMatch(kind, details.bounce ?? null, match ?? 'sure');
  const again = found === 'soft_bounce' ? await afterSoftBounce(tx, delivery) : null;
  const event = again?.event ?? found;
  const backOn = details.backOn && dayNumber(details.backOn) * DAY_MS >= nowMs ? details.backOn : null;
  const { dateForm: form } = await readWorkspace(tx);
  if (event === null)
    return {
      did: doneWords({ event, address, stopped: 0, because, backOn, waitsUntil: null, colleagues: 0, form }),
      before: null,
    };
  const { stopped, before } = await applyEvent(tx, {
    kind: event,
    contactId: enrolment.contactId,
    cause: enrolment.id,
    delivery: { id: delivery.id, mailboxId: delivery.mailboxId },
    detail: event === 'reply' ? '' : event === 'auto_reply' ? (details.backOn ?? '') : because,
    nowMs,
  });
  let waitsUntil: string | null = null;
  if (again?.event === 'returned') {
    const { was, notBefore } = await sendAgain(tx, delivery, again.pause, nowMs);
    before.again = was;
    waitsUntil = isoDate(notBefore);
  }
  const waits = event === 'auto_reply' && backOn !== null && enrolment.state === 'in_progress';
  if (waits) {
    waitsUntil = await postpone(tx, enrolment.id, backOn, nowMs);
    const { id, state, reason, notBefore } = enrolment;
    before.enrolments.push({ id, state, reason, notBefore, since: state });
  }
  const colleagues = before.enrolments.filter((e) => e.isColleague).length;
  const did = doneWords({ event, address, stopped, because, backOn, waitsUntil, colleagues, form });
  return { did: match === 'unsure' ? `${did} ${UNSURE}` : did, before };
}

const UNSURE = 'It is not sure that it is theirs: please say.';

/** Of a report about a message with copies, whom it concerns if that is not its recipient. */
const copyAmong = (concerns: readonly string[], recipient: string): string | null =>
  concerns.length > 0 && !concerns.includes(recipient) ? (concerns[0] as string) : null;

/** The first day back is a poor moment: the follow-up waits for the second working day. @returns its ISO date */
async function postpone(tx: Queryable, enrolmentId: number, backOn: string, nowMs: number): Promise<string> {
  const workspace = await readWorkspace(tx);
  const day = calendarOf(workspace).add(dayNumber(backOn) - 1, 2);
  const reason = `away, back on ${dayWords(backOn, 'short', workspace.dateForm)}`;
  await updateEnrolment(tx, enrolmentId, { notBefore: day, reason });
  await wantPlan(tx, nowMs);
  return isoDate(day);
}

/** What a person says of a message that came in; each in a transaction of its own. */
export class IncomingDecisions {
  constructor(private readonly store: Store) {}

  /** Takes back what Baton did about it. */
  undo(id: number, nowMs: number): Promise<void> {
    return this.change(id, async (tx, row) => {
      if (!row.before)
        throw new DomainError('conflict', 'There is nothing to undo: Baton changed nothing because of this message.');
      await takeBack(tx, row, nowMs);
    });
  }

  /** Lets the colleagues go on that are held because of it; the person themselves stays as they are. */
  releaseColleagues(id: number, nowMs: number): Promise<void> {
    return this.change(id, async (tx, row) => {
      const colleagues = row.before?.enrolments.filter((e) => e.isColleague) ?? [];
      if (!row.before || colleagues.length === 0)
        throw new DomainError('conflict', 'Nobody is held because of this message.');
      const nothing: Before = { eventId: null, delivery: null, enrolments: [], suppressionId: null };
      await undoEvent(tx, { ...nothing, enrolments: colleagues }, nowMs);
      const before = { ...row.before, enrolments: row.before.enrolments.filter((e) => !e.isColleague) };
      await updateIncoming(tx, id, { before, did: `${row.did} You let them go on.` });
    });
  }

  /** It was misread: everything is set right, and what it was taken for is kept. */
  setKind(id: number, kind: IncomingKind, nowMs: number): Promise<void> {
    return this.change(id, async (tx, row) => {
      if (row.kind === kind) return;
      await takeBack(tx, row, nowMs);
      const details = { ...row.details, bounce: kind === 'bounce' ? ('hard' as const) : null, suggests: null };
      const change = { kind, details, because: SAID, readAs: row.readAs ?? row.kind, did: '' };
      await updateIncoming(tx, id, change);
      await settle(tx, { ...row, ...change }, nowMs);
    });
  }

  /** Whose it is: somebody who was written to, or nobody. */
  setPerson(id: number, address: string | null, nowMs: number): Promise<void> {
    return this.change(id, async (tx, row) => {
      const parsed = address === null ? null : parseAddress(address);
      if (parsed?.ok === false) throw new DomainError('invalid', `${parsed.reason}.`);
      const [found] = parsed ? await candidatesTo(tx, [parsed.value.key], null) : [];
      if (address !== null && !found) throw new DomainError('invalid', `Nothing has been sent to ${address} yet.`);
      await takeBack(tx, row, nowMs);
      const change = {
        deliveryId: found?.delivery.id ?? null,
        enrolmentId: found?.enrolmentId ?? null,
        match: found ? ('sure' as const) : null,
        did: '',
      };
      await updateIncoming(tx, id, change);
      const person = change.enrolmentId === null ? null : await readEnrolment(tx, change.enrolmentId);
      await giveLettersTo(tx, id, person?.contactId ?? null);
      await settle(tx, { ...row, ...change }, nowMs);
    });
  }

  private async change(id: number, act: (tx: Queryable, row: IncomingRow) => Promise<void>): Promise<void> {
    await this.store.db.transaction(async (tx) => {
      const row = await lockIncoming(tx, id);
      if (!row) throw new DomainError('not_found', 'There is no such message.');
      await act(tx, row);
      await announce(tx, 'replies', 'today', 'progress');
    });
  }
}

const SAID = 'you said so';

async function takeBack(tx: Queryable, { id, before }: IncomingRow, nowMs: number): Promise<void> {
  if (!before) return;
  const going = await undoEvent(tx, before, nowMs);
  const did = going > 0 ? 'Undone: what was to follow is sent again.' : 'Undone.';
  await updateIncoming(tx, id, { before: null, did });
}
