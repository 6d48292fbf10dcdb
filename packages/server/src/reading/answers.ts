import { randomBytes } from 'node:crypto';
import { DomainError, envelopeAddress, incomingEntry, parseAddress } from '@baton/core';
import { TAKE_BACK_MS, type AnswerDraft, type AnswerView, type LetterState } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { localDay } from '../mailboxes/capacity';
import { quotationOf } from '../sending/compose-letter';
import { replySubject } from '../sending/compose';
import { giveBack } from '../sending/letters';
import { readEnrolment } from '../store/campaigns/campaign-rows';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import { addOtherSend, readMailbox, type MailboxRow } from '../store/mailboxes/mailbox-rows';
import { suppressedAmong } from '../store/people/person/people-rows';
import {
  addLetter,
  answersTo,
  lockDraft,
  lockLetter,
  removeLetter,
  updateLetter,
  type LetterRow,
} from '../store/reading/letter-rows';
import { forgetReminder, lockIncoming, type IncomingRow } from '../store/reading/reply-rows';
import { readDelivery } from '../store/sending/delivery-rows';
import { readWorkspace } from '../store/workspace-rows';
import { localToday } from '../time/local-today';
import { systemClock } from '../time/system-clock';
import { readSentHead } from './read-incoming';

/** What an answer to a message would be: from the mailbox that wrote to the person, to where they want answers. */
interface Addressed {
  mailbox: MailboxRow | null;
  to: string;
  contactId: number | null;
}

async function addressed(db: Queryable, row: IncomingRow): Promise<Addressed> {
  const delivery = row.deliveryId === null ? null : await readDelivery(db, row.deliveryId);
  const person = row.enrolmentId === null ? null : await readEnrolment(db, row.enrolmentId);
  const { replyTo } = await readSentHead(row.raw);
  return {
    mailbox: await readMailbox(db, delivery?.mailboxId ?? row.mailboxId),
    to: replyTo || row.fromKey,
    contactId: person?.contactId ?? null,
  };
}

/** Why no answer can be sent, in a sentence; null where one can. */
async function obstacleTo(db: Queryable, { kind }: IncomingRow, { mailbox, to }: Addressed): Promise<string | null> {
  if (!incomingEntry(kind).isAnswerable) return 'A machine wrote this; nobody would read an answer.';
  if (!parseAddress(to).ok) return 'It does not say to which address an answer goes.';
  if (!mailbox) return 'The mailbox that wrote to them is gone.';
  if (mailbox.problem !== null) return `${mailbox.address} cannot sign in: ${mailbox.problem}`;
  if (mailbox.held) return `${mailbox.address} is held. Release it to answer.`;
  if ((await readWorkspace(db)).heldAll) return 'Everything is held. Release it to answer.';
  const [suppressed] = await suppressedAmong(db, [to]);
  return suppressed === undefined ? null : `${suppressed} is on the suppression list; nothing is sent there.`;
}

/** The answer to a message as it stands: a draft, one that can still be taken back, or nothing written yet. */
export async function viewAnswer({ store: { db } }: ServerParts, row: IncomingRow): Promise<AnswerView> {
  const whom = await addressed(db, row);
  const letters = await answersTo(db, row.id);
  const draft = letters.find((l) => l.state === 'draft');
  const leaving = letters.find((l) => l.state === 'waiting' && l.tries === 0);
  const leftMs = (leaving?.leavesAt ?? 0) - systemClock.now();
  return {
    obstacle: await obstacleTo(db, row, whom),
    to: whom.to,
    from: whom.mailbox?.address ?? '',
    subject: draft?.subject ?? replySubject(row.subject),
    text: draft?.body ?? '',
    quotes: draft?.quotes ?? true,
    signature: whom.mailbox?.signature.trim() ?? '',
    quotation: quotationOf(row, await readWorkspace(db)),
    leaving: leaving && leftMs > 0 ? { letterId: leaving.id, secondsLeft: Math.ceil(leftMs / 1000) } : null,
  };
}

/** What a person writes in answer to messages; each change in a transaction of its own. */
export class Answers {
  constructor(private readonly parts: Pick<ServerParts, 'store' | 'clock' | 'secrets'>) {}

  /** Keeps what is written so far; an empty draft is none. */
  async keep(incomingId: number, written: AnswerDraft): Promise<void> {
    const nowMs = await this.parts.clock.now();
    await this.parts.store.db.transaction(async (tx) => {
      const row = await lockIncoming(tx, incomingId);
      if (!row) throw new DomainError('not_found', 'There is no such message.');
      await keepDraft(tx, row, written, nowMs);
    });
  }

  /**
   * Sends it, once the time is over in which it can be taken back.
   *
   * @returns the letter's id
   * @throws DomainError `conflict` with what is in the way
   */
  async send(incomingId: number, written: AnswerDraft): Promise<number> {
    const nowMs = await this.parts.clock.now();
    if (written.text.trim() === '') throw new DomainError('invalid', 'There is nothing in it yet.');
    const today = await localToday(this.parts);
    return this.parts.store.db.transaction(async (tx) => {
      const row = await lockIncoming(tx, incomingId);
      if (!row) throw new DomainError('not_found', 'There is no such message.');
      const obstacle = await obstacleTo(tx, row, await addressed(tx, row));
      if (obstacle !== null) throw new DomainError('conflict', obstacle);
      // Pressed twice, or asked for again because the answer to this request was lost.
      const same = (await answersTo(tx, row.id)).some((l) => ON_ITS_WAY.has(l.state) && l.body === written.text);
      if (same) throw new DomainError('conflict', 'This very answer is on its way, or has been sent.');
      const id = await keepDraft(tx, row, written, nowMs);
      const letter = id === null ? null : await lockLetter(tx, id);
      if (!letter) throw new DomainError('conflict', 'This answer has just been sent or taken away.');
      const from = (await readMailbox(tx, letter.mailboxId))?.address ?? '';
      await updateLetter(tx, letter.id, {
        ...{ state: 'waiting', reason: '', tries: 0, leavesAt: systemClock.now() + TAKE_BACK_MS },
        messageId: `${this.parts.secrets.sign(`a:${letter.id}:${randomBytes(6).toString('base64url')}`)}@${domainOf(from)}`,
      });
      await forgetReminder(tx, row.id, today);
      await announce(tx, 'replies', 'today');
      return letter.id;
    });
  }

  /** Takes an answer back that has not left: it is a draft again. @throws DomainError `conflict` where it has */
  async takeBack(letterId: number): Promise<void> {
    await this.change(letterId, async (tx, letter) => {
      if (letter.state !== 'waiting' && letter.state !== 'failed')
        throw new DomainError('conflict', 'It has left already.');
      await toDraft(tx, letter);
    });
  }

  /** A person has found out what became of one that is unconfirmed; one that had not left is a draft again. */
  async settle(letterId: number, left: boolean): Promise<void> {
    await this.change(letterId, async (tx, letter) => {
      if (letter.state !== 'unconfirmed') throw new DomainError('conflict', 'This answer is no longer unconfirmed.');
      const { startedAt, writtenAt, mailboxId, messageId } = letter;
      if (!left) {
        const from = await readMailbox(tx, mailboxId);
        if (from) await giveBack(tx, from, letter);
        await toDraft(tx, letter);
        return;
      }
      const mailbox = await readMailbox(tx, mailboxId);
      const at = Math.min(startedAt ?? writtenAt, await this.parts.clock.now());
      if (mailbox) await addOtherSend(tx, { mailboxId, messageId, at, units: 1, byHand: true }, localDay(mailbox, at));
      await updateLetter(tx, letter.id, { state: 'sent', sentAt: at, reason: '' });
    });
  }

  private async change(letterId: number, act: (tx: Queryable, letter: LetterRow) => Promise<void>): Promise<void> {
    await this.parts.store.db.transaction(async (tx) => {
      const letter = await lockLetter(tx, letterId);
      if (!letter) throw new DomainError('not_found', 'There is no such answer.');
      await act(tx, letter);
      await announce(tx, 'replies', 'today');
    });
  }
}

const ON_ITS_WAY: ReadonlySet<LetterState> = new Set<LetterState>(['waiting', 'sending', 'sent', 'unconfirmed']);

const domainOf = (address: string): string => envelopeAddress(address).split('@')[1] ?? '';

/** What was begun in its place meanwhile is not lost: it comes behind. */
async function toDraft(tx: Queryable, letter: LetterRow): Promise<void> {
  const other = letter.incomingId === null ? null : await lockDraft(tx, letter.incomingId);
  if (other) await removeLetter(tx, other.id);
  const body = other ? `${letter.body}\n\n${other.body}` : letter.body;
  await updateLetter(tx, letter.id, { state: 'draft', leavesAt: null, messageId: '', reason: '', tries: 0, body });
}

/** @returns the draft's id; null where it is empty, and so none */
async function keepDraft(
  tx: Queryable,
  row: IncomingRow,
  { subject, text: body, quotes }: AnswerDraft,
  nowMs: number,
): Promise<number | null> {
  const draft = await lockDraft(tx, row.id);
  if (body.trim() === '') {
    if (draft) await removeLetter(tx, draft.id);
    return null;
  }
  const { mailbox, to, contactId } = await addressed(tx, row);
  if (!mailbox) throw new DomainError('conflict', 'The mailbox that wrote to them is gone.');
  const written = { subject: subject.trim() || replySubject(row.subject), body, quotes, writtenAt: nowMs };
  const whom = { mailboxId: mailbox.id, contactId, toKey: to };
  if (draft) {
    await updateLetter(tx, draft.id, { ...written, ...whom });
    return draft.id;
  }
  return addLetter(tx, { ...written, ...whom, incomingId: row.id, state: 'draft' });
}
