import { randomUUID } from 'node:crypto';
import { DomainError, judgeAnswer } from '@baton/core';
import type { MailboxTest } from '@baton/contract';
import { composeMessage } from '../sending/compose';
import type { MailboxAccess } from './connection';
import { ImapReader } from './imap';
import { howItBegins, untrustedCertificate } from './look-at-server';
import { networkWords } from './network-words';
import { SmtpSender } from './smtp';

/** How long the message to oneself may take to come back, and how often is looked. */
const ARRIVAL_TRIES = 10;
const ARRIVAL_PAUSE_MS = 500;

/**
 * Signs in, sends a message to the mailbox itself and reads it back; says which step failed, in the server's words or, where
 * it was not reached, in others.
 */
export async function testMailbox(
  mailbox: { address: string; senderName: string },
  access: MailboxAccess,
  nowMs: number,
  pause: (ms: number) => Promise<void>,
): Promise<MailboxTest> {
  const steps: MailboxTest['steps'] = [];
  const sender = new SmtpSender(access);
  const reader = new ImapReader(access);
  const { smtp, imap } = access;
  let untrusted: MailboxTest['untrusted'] = null;
  const step = async (name: string, server: typeof smtp, act: () => Promise<string>): Promise<boolean> => {
    try {
      steps.push({ name, ok: true, said: await act() });
    } catch (error) {
      if (!(error instanceof DomainError)) throw error;
      steps.push({ name, ok: false, said: networkWords(error.message, server) });
      if (/certificate/i.test(error.message))
        untrusted = await untrustedCertificate(server, server === smtp ? 'smtp' : 'imap');
    }
    return steps.at(-1)?.ok ?? false;
  };
  const messageId = `${randomUUID()}@${mailbox.address.split('@')[1]}`;
  let fromUid = 1;
  try {
    const ok =
      (await step(`Sign in to send at ${smtp.host}:${smtp.port}`, smtp, async () => {
        await requireClearBeginning(smtp);
        const outcome = await sender.check();
        if (judgeAnswer(outcome) !== 'accepted') throw new DomainError('refused', outcome.answer);
        return outcome.answer;
      })) &&
      (await step(`Sign in to read at ${imap.host}:${imap.port}`, imap, async () => {
        await requireClearBeginning(imap);
        fromUid = (await reader.position()).uidNext;
        return 'signed in';
      })) &&
      (await step('Send a message to the mailbox itself', smtp, async () => {
        const text = 'Baton sends and reads from this mailbox.';
        const raw = await composeMessage({
          mailbox,
          to: mailbox.address,
          proof: { subject: 'Connection test', text, html: `<p>${text}</p>` },
          messageId,
          references: [],
          dateMs: nowMs,
          leaveBy: [`mailto:${mailbox.address}`],
        });
        const outcome = await sender.send({ from: mailbox.address, to: [mailbox.address] }, raw);
        if (judgeAnswer(outcome) !== 'accepted') throw new DomainError('refused', outcome.answer);
        return outcome.answer;
      })) &&
      (await step('Find it in the inbox', imap, async () => {
        if (await arrives(reader, fromUid, messageId, pause)) return 'it arrived';
        throw new DomainError('unreachable', 'It was sent, but did not arrive within a few seconds.');
      }));
    const keepsSent = ok && (await keepsCopies(reader, messageId, pause));
    if (ok)
      steps.push({ name: 'Look for its copy in the Sent folder', ok: true, said: keepsSent ? KEEPS : KEEPS_NONE });
    return { steps, ok, keepsSent, untrusted };
  } finally {
    sender.close();
    await reader.close();
  }
}

/** Whoever waits for a greeting in clear at a port that begins with TLS waits for half a minute, and learns nothing. */
async function requireClearBeginning(server: MailboxAccess['smtp']): Promise<void> {
  if (server.security === 'tls' || (await howItBegins(server)) !== 'tls') return;
  throw new DomainError(
    'unreachable',
    `Port ${server.port} of ${server.host} begins with TLS: choose TLS instead of ${server.security === 'starttls' ? 'STARTTLS' : 'none'}.`,
  );
}

const KEEPS = 'the provider keeps one';
const KEEPS_NONE =
  'there is none within a few seconds: Baton files a copy of each message itself, and asks you where one was broken off';

/** Whether a copy of what was sent comes into the Sent folder by itself. */
async function keepsCopies(
  reader: ImapReader,
  messageId: string,
  pause: (ms: number) => Promise<void>,
): Promise<boolean> {
  for (let i = 0; i < ARRIVAL_TRIES; i++) {
    try {
      if ((await reader.lookInSent(messageId)) === 'found') return true;
    } catch (error) {
      if (!(error instanceof DomainError)) throw error;
      return false;
    }
    await pause(ARRIVAL_PAUSE_MS);
  }
  return false;
}

async function arrives(
  reader: ImapReader,
  fromUid: number,
  messageId: string,
  pause: (ms: number) => Promise<void>,
): Promise<boolean> {
  for (let i = 0; i < ARRIVAL_TRIES; i++) {
    let isThere = false;
    await reader.eachFrom(fromUid, ({ raw }) => {
      isThere ||= raw.includes(messageId);
      return Promise.resolve();
    });
    if (isThere) return true;
    await pause(ARRIVAL_PAUSE_MS);
  }
  return false;
}
