import { Readable } from 'node:stream';
import type { SendOutcome } from '@baton/core';
import SMTPConnection from 'nodemailer/lib/smtp-connection';
import { requireSafe, SOCKET_TIMEOUT_MS, type MailboxAccess } from './connection';

export interface Envelope {
  from: string;
  to: string[];
}

/** One mailbox's way out. Keeps its connection between messages; not for use by two senders at once. */
export interface SmtpSender {
  /** Hands one message over. Never throws for what a server or connection does: that is the outcome. */
  send(envelope: Envelope, message: Buffer): Promise<SendOutcome>;
  /** Signs in and out without sending. */
  check(): Promise<SendOutcome>;
  close(): void;
}

export function smtpSender(access: MailboxAccess): SmtpSender {
  requireSafe(access.smtp);
  let connection: SMTPConnection | null = null;

  const drop = () => {
    connection?.close();
    connection = null;
  };

  const open = async (): Promise<SendOutcome | SMTPConnection> => {
    const fresh = new SMTPConnection({
      host: access.smtp.host,
      port: access.smtp.port,
      secure: access.smtp.security === 'tls',
      requireTLS: access.smtp.security === 'starttls',
      ignoreTLS: access.smtp.security === 'none',
      connectionTimeout: SOCKET_TIMEOUT_MS,
      greetingTimeout: SOCKET_TIMEOUT_MS,
      socketTimeout: SOCKET_TIMEOUT_MS * 2,
    });
    // Errors between two messages: the connection is simply gone, and the next send makes a new one.
    fresh.on('error', () => undefined);
    fresh.once('end', () => {
      if (connection === fresh) connection = null;
    });
    try {
      await new Promise<void>((resolve, reject) => {
        fresh.once('error', reject);
        fresh.connect((error) => (error ? reject(error) : resolve()));
      });
      await new Promise<void>((resolve, reject) => {
        fresh.once('error', reject);
        fresh.login(
          { user: access.username, credentials: { user: access.username, pass: access.password } },
          (error) => (error ? reject(error) : resolve()),
        );
      });
      return fresh;
    } catch (error) {
      fresh.close();
      return failureOf(error, false);
    }
  };

  const sendOn = (on: SMTPConnection, envelope: Envelope, message: Buffer): Promise<SendOutcome> => {
    let bodyStarted = false;
    return new Promise((resolve) => {
      const source = notingStream(message, () => {
        bodyStarted = true;
      });
      const onError = (error: Error) => resolve(failureOf(error, bodyStarted));
      on.once('error', onError);
      on.send(envelope, source, (error, info) => {
        on.removeListener('error', onError);
        resolve(
          error
            ? failureOf(error, bodyStarted)
            : { code: 250, answer: oneLine(info?.response ?? 'accepted'), stage: 'body', bodyStarted: true },
        );
      });
    });
  };

  return {
    async send(envelope, message) {
      const reused = connection !== null;
      const on = connection ?? (await open());
      if (!(on instanceof SMTPConnection)) return on;
      connection = on;
      const outcome = await sendOn(on, envelope, message);
      if (outcome.code === 250) return outcome;
      drop();
      // A kept connection that the server had closed meanwhile says nothing about this message.
      if (reused && outcome.code === null && !outcome.bodyStarted) return this.send(envelope, message);
      return outcome;
    },
    async check() {
      const on = connection ?? (await open());
      if (!(on instanceof SMTPConnection)) return on;
      connection = on;
      return { code: 235, answer: 'signed in', stage: 'auth', bodyStarted: false };
    },
    close() {
      connection?.quit();
      connection = null;
    },
  };
}

const STAGES: Readonly<Record<string, SendOutcome['stage']>> = {
  CONN: 'connect',
  EHLO: 'connect',
  STARTTLS: 'connect',
  'MAIL FROM': 'mail',
  'RCPT TO': 'rcpt',
  DATA: 'data',
};

function failureOf(error: unknown, bodyStarted: boolean): SendOutcome {
  const e = error as { responseCode?: number; response?: string; message?: string; command?: string; code?: string };
  const stage = e.command?.startsWith('AUTH') ? 'auth' : (STAGES[e.command ?? ''] ?? 'connect');
  return {
    code: e.responseCode ?? null,
    answer: oneLine(e.response ?? e.message ?? 'connection lost'),
    stage: bodyStarted && e.responseCode === undefined ? 'body' : stage,
    bodyStarted,
  };
}

/** Tells of its first read: before it, none of the body can have gone out. */
function notingStream(message: Buffer, onFirstRead: () => void): Readable {
  let started = false;
  return new Readable({
    read() {
      if (!started) onFirstRead();
      started = true;
      this.push(message);
      this.push(null);
    },
  });
}

const oneLine = (text: string) => text.replace(/\s+/g, ' ').trim().slice(0, 500);
