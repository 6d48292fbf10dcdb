import { randomUUID } from 'node:crypto';
import { DomainError, judgeAnswer, type SendOutcome } from '@baton/core';
import type { MailboxTest } from '@baton/contract';
import { composeMessage } from '../sending/compose';
import type { MailboxAccess } from './connection';
import { ImapReader } from './imap';
import { howItBegins, untrustedCertificate } from './look-at-server';
import { networkWords } from './network-words';
import { SmtpSender } from './smtp/smtp-sender';

/** How long the message to oneself may take to come back, and how often is looked. */
const ARRIVAL_TRIES = 10;
const ARRIVAL_PAUSE_MS = 500;

type Pause = (ms: number) => Promise<void>;

/**
 * Signs in, sends a message to the mailbox itself and reads it back; says which step failed, in the server's words or, where
 * it was not reached, in others.
 */
export async function testMailbox(
  mailbox: { address: string; senderName: string },
  access: MailboxAccess,
  nowMs: number,
  pause: Pause,
): Promise<MailboxTest> {
  const trial = new Trial(mailbox, access, pause);
  try {
    return await trial.run(nowMs);
  } finally {
    await trial.close();
  }
}

class Trial {
  private readonly steps: MailboxTest['steps'] = [];
  private untrusted: MailboxTest['untrusted'] = null;
  private readonly sender: SmtpSender;
  private readonly reader: ImapReader;
  private readonly messageId: string;
  private fromUid = 1;

  constructor(
    private readonly mailbox: { address: string; senderName: string },
    private readonly access: MailboxAccess,
    private readonly pause: Pause,
  ) {
    this.sender = new SmtpSender(access);
    this.reader = new ImapReader(access);
    this.messageId = `${randomUUID()}@${mailbox.address.split('@')[1]}`;
  }

  async run(nowMs: number): Promise<MailboxTest> {
    const { smtp, imap } = this.access;
    const ok =
      (await this.step(`Sign in to send at ${smtp.host}:${smtp.port}`, smtp, () => this.signInToSend())) &&
      (await this.step(`Sign in to read at ${imap.host}:${imap.port}`, imap, () => this.signInToRead())) &&
      (await this.step('Send a message to the mailbox itself', smtp, () => this.sendToItself(nowMs))) &&
      (await this.step('Find it in the inbox', imap, () => this.find()));
    const { steps, untrusted } = this;
    if (!ok) return { steps, ok, keepsSent: false, untrusted };
    const keepsSent = await keepsCopies(this.reader, this.messageId, this.pause);
    steps.push({ name: 'Look for its copy in the Sent folder', ok: true, said: keepsSent ? KEEPS : KEEPS_NONE });
    return { steps, ok, keepsSent, untrusted };
  }

  async close(): Promise<void> {
    this.sender.close();
    await this.reader.close();
  }

  private async step(name: string, server: MailboxAccess['smtp'], act: () => Promise<string>): Promise<boolean> {
    try {
      this.steps.push({ name, ok: true, said: await act() });
      return true;
    } catch (error) {
      if (!(error instanceof DomainError)) throw error;
      this.steps.push({ name, ok: false, said: networkWords(error.message, server) });
      if (/certificate/i.test(error.message))
        this.untrusted = await untrustedCertificate(server, server === this.access.smtp ? 'smtp' : 'imap');
      return false;
    }
  }

  private async signInToSend(): Promise<string> {
    await requireClearBeginning(this.access.smtp);
    return accepted(await this.sender.check());
  }

  private async signInToRead(): Promise<string> {
    await requireClearBeginning(this.access.imap);
    this.fromUid = (await this.reader.position()).uidNext;
    return 'signed in';
  }

  private async sendToItself(nowMs: number): Promise<string> {
    const { mailbox, messageId } = this;
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
    return accepted(await this.sender.send({ from: mailbox.address, to: [mailbox.address] }, raw));
  }

  private async find(): Promise<string> {
    if (await arrives(this.reader, this.fromUid, this.messageId, this.pause)) return 'it arrived';
    throw new DomainError('unreachable', 'It was sent, but did not arrive within a few seconds.');
  }
}

/** What the server said. @throws DomainError `refused` where it did not take it */
function accepted(outcome: SendOutcome): string {
  if (judgeAnswer(outcome) !== 'accepted') throw new DomainError('refused', outcome.answer);
  return outcome.answer;
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
async function keepsCopies(reader: ImapReader, messageId: string, pause: Pause): Promise<boolean> {
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

async function arrives(reader: ImapReader, fromUid: number, messageId: string, pause: Pause): Promise<boolean> {
  for (let i = 0; i < ARRIVAL_TRIES; i++) {
    let isThere = false;
    await reader.eachFrom(fromUid, (mails) => {
      isThere ||= mails.some(({ raw }) => raw.includes(messageId));
      return Promise.resolve();
    });
    if (isThere) return true;
    await pause(ARRIVAL_PAUSE_MS);
  }
  return false;
}
