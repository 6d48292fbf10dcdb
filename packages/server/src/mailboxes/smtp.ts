import { Readable } from 'node:stream';
import { DomainError, MINUTE_MS, needsUtf8, type SendOutcome } from '@baton/core';
import SMTPConnection from 'nodemailer/lib/smtp-connection';
import { afterRefusal, bearerMessage, mechanismOf, type Mechanism } from './bearer';
import {
  IDLE_MS,
  IdleTimer,
  requireSafe,
  SOCKET_TIMEOUT_MS,
  tlsOf,
  type Credential,
  type MailboxAccess,
} from './connection';

/** RFC 5321 4.5.3.2.6: the answer behind the final dot may take ten minutes. */
const FINAL_ANSWER_MS = 10 * MINUTE_MS;

interface Envelope {
  from: string;
  /** The recipient, then those of copies. */
  to: string[];
}

/** One mailbox's way out. Keeps its connection between messages and closes it when it is idle; not for use by two senders at once. */
export class SmtpSender {
  private connection: SMTPConnection | null = null;
  private readonly idle: IdleTimer;

  /** @throws DomainError `invalid` when the password would cross the network in clear */
  constructor(
    private readonly access: MailboxAccess,
    idleMs = IDLE_MS,
  ) {
    requireSafe(access.smtp);
    this.idle = new IdleTimer(() => this.close(), idleMs);
  }

  /** Hands one message over. Never throws for what a server or connection does: that is the outcome. */
  async send(envelope: Envelope, message: Buffer): Promise<SendOutcome> {
    this.idle.stir();
    try {
      return await this.sendOnce(envelope, message);
    } finally {
      if (this.connection) this.idle.rest();
    }
  }

  private async sendOnce(envelope: Envelope, message: Buffer): Promise<SendOutcome> {
    const reused = this.connection !== null;
    const on = this.connection ?? (await this.open());
    if (!(on instanceof SMTPConnection)) return on;
    this.connection = on;
    const beyondIt = takesUtf8(on) ? null : whyNotWithoutUtf8(envelope);
    if (beyondIt) return beyondIt;
    const to = takesUtf8(on) ? envelope.to : envelope.to.filter((address) => !needsUtf8(address));
    const outcome = await sendOn(on, { ...envelope, to }, message);
    if (outcome.code === 250) return outcome;
    if (!(isOfMessage(outcome) && (await canGoOn(on)))) this.drop();
    // A kept connection that the server had closed meanwhile says nothing about this message.
    if (reused && wasClosed(outcome)) return this.sendOnce(envelope, message);
    return outcome;
  }

  /** Signs in without sending. */
  async check(): Promise<SendOutcome> {
    const on = this.connection ?? (await this.open());
    if (!(on instanceof SMTPConnection)) return on;
    this.connection = on;
    return { code: 235, answer: 'signed in', stage: 'auth', bodyStarted: false };
  }

  close(): void {
    this.idle.stir();
    this.connection?.quit();
    this.connection = null;
  }

  private drop(): void {
    this.connection?.close();
    this.connection = null;
  }

  /** @param refused a token that the server has refused: it is tried once more with another */
  private async open(refused?: string): Promise<SendOutcome | SMTPConnection> {
    const { smtp, username, credential } = this.access;
    const shown = 'password' in credential ? credential : await tokenOr(credential, refused);
    if ('code' in shown) return shown;
    const token = 'token' in shown ? shown.token : '';
    let mechanism: Mechanism | null = null;
    const fresh = new SMTPConnection({
      host: smtp.host,
      port: smtp.port,
      secure: smtp.security === 'tls',
      requireTLS: smtp.security === 'starttls',
      ignoreTLS: smtp.security === 'none',
      ...tlsOf(smtp),
      connectionTimeout: SOCKET_TIMEOUT_MS,
      greetingTimeout: SOCKET_TIMEOUT_MS,
      // As long as a server may take for its last answer: whoever gives up before sends the message twice.
      socketTimeout: FINAL_ANSWER_MS,
      customAuth: {
        BEARER: (context) => showToken(context, mechanism ?? 'XOAUTH2', { ...smtp, user: username, token }),
      },
    });
    // Errors between two messages: the connection is simply gone, and the next send makes a new one.
    fresh.on('error', () => undefined);
    fresh.once('end', () => {
      if (this.connection === fresh) this.connection = null;
    });
    try {
      await settled(fresh, (done) => fresh.connect(done));
      mechanism = mechanismOf(fresh);
      if ('token' in shown && mechanism === null)
        throw Object.assign(new Error(NO_TOKENS_TAKEN), { responseCode: 535, command: 'AUTH' });
      const credentials = { user: username, pass: 'password' in shown ? shown.password : '' };
      const how = 'token' in shown ? { method: 'BEARER' } : {};
      await settled(fresh, (done) => fresh.login({ user: username, credentials, ...how }, done));
      return fresh;
    } catch (error) {
      fresh.close();
      const outcome = failureOf(error, false);
      const isRefused = outcome.stage === 'auth' && (outcome.code ?? 0) >= 500;
      if (token !== '' && isRefused && refused === undefined) return this.open(token);
      return outcome;
    }
  }
}

const NO_TOKENS_TAKEN =
  'This server takes no sign-in at a provider (neither OAUTHBEARER nor XOAUTH2). A password may be right.';

/** A token, or what it comes to that there is none: about the mailbox, and no message's fault. */
async function tokenOr(
  { token }: Extract<Credential, { token: unknown }>,
  refused: string | undefined,
): Promise<{ token: string } | SendOutcome> {
  try {
    return { token: await token(refused) };
  } catch (error) {
    const isFinal = error instanceof DomainError && error.code === 'refused';
    const answer = error instanceof DomainError ? error.message : 'The access to this mailbox could not be looked up.';
    return { code: isFinal ? 535 : null, answer: oneLine(answer), stage: 'auth', bodyStarted: false };
  }
}

/** Shows a token: the refusal of one comes in two pieces, why and then the code. */
async function showToken(
  { sendCommand }: SMTPConnection.CustomAuthenticationContext,
  mechanism: Mechanism,
  shown: Parameters<typeof bearerMessage>[1],
): Promise<boolean> {
  const first = await sendCommand(`AUTH ${mechanism} ${bearerMessage(mechanism, shown)}`);
  const last = first.status === 334 ? await sendCommand(afterRefusal(mechanism)) : first;
  if (last.status !== 235) throw new Error('the access was refused');
  return true;
}

const takesUtf8 = (on: SMTPConnection): boolean =>
  (on as unknown as { _supportedExtensions?: string[] })._supportedExtensions?.includes('SMTPUTF8') ?? false;

/** What a server would say that takes no letters beyond ASCII before the @ and was not asked (RFC 6531, 3.2 and 3.5). */
function whyNotWithoutUtf8({ from, to: [first = ''] }: Envelope): SendOutcome | null {
  const stage = needsUtf8(from) ? 'mail' : needsUtf8(first) ? 'rcpt' : null;
  const address = stage === 'mail' ? from : first;
  const answer = `5.6.7 this provider does not take letters such as those of ${address} before the @ (SMTPUTF8)`;
  return stage && { code: stage === 'mail' ? 550 : 553, answer, stage, bodyStarted: false };
}

/**
 * Whether a server had ended a conversation before the message was begun: without a word, or with the 421 of its time limit
 * (RFC 5321, 3.8), which comes as the answer to MAIL when both meet.
 */
const wasClosed = ({ code, stage, bodyStarted }: SendOutcome): boolean =>
  !bodyStarted && (code === null || (code === 421 && stage === 'mail'));

/** Whether the server answered about the message and goes on talking; 421 ends the conversation (RFC 5321, 3.8). */
const isOfMessage = ({ code, stage }: SendOutcome): boolean =>
  code !== null && code !== 421 && stage !== 'connect' && stage !== 'auth';

/** Ends the transaction that was refused (RFC 5321, 4.1.1.5), so that the next message needs no new connection. */
async function canGoOn(on: SMTPConnection): Promise<boolean> {
  try {
    await settled(on, (done) => on.reset(done));
    return true;
  } catch {
    return false;
  }
}

/** One step of a conversation: ends with its callback or with an error of the connection, whichever comes first. */
function settled(on: SMTPConnection, act: (done: (error?: Error | null) => void) => void): Promise<void> {
  return new Promise((resolve, reject) => {
    on.once('error', reject);
    act((error) => {
      on.removeListener('error', reject);
      if (error) reject(error);
      else resolve();
    });
  });
}

const taken = (response = 'accepted'): SendOutcome => ({
  ...{ code: 250, answer: oneLine(response), stage: 'body', bodyStarted: true },
});

/** How the first recipient was refused where others were not: what becomes of a person is told by their own answer. */
function refusedTo({ to: [first] }: Envelope, refusals: readonly Error[] = []): SendOutcome | null {
  const own = refusals.find((e) => (e as { recipient?: string }).recipient === first);
  return own ? { ...failureOf(own, false), stage: 'rcpt', copiesTaken: true } : null;
}

function sendOn(on: SMTPConnection, envelope: Envelope, message: Buffer): Promise<SendOutcome> {
  let bodyStarted = false;
  return new Promise((resolve) => {
    const source = notingStream(message, () => {
      bodyStarted = true;
    });
    const onError = (error: Error) => resolve(failureOf(error, bodyStarted));
    on.once('error', onError);
    on.send(envelope, source, (error, info) => {
      on.removeListener('error', onError);
      if (error) resolve(failureOf(error, bodyStarted));
      else resolve(refusedTo(envelope, info?.rejectedErrors) ?? taken(info?.response));
    });
  });
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

/** What a server said, on one line and as it can be stored. */
const oneLine = (text: string) =>
  text
    .slice(0, 2000)
    .replace(/[\s\p{Cc}]+/gu, ' ')
    .replace(/\p{Surrogate}/gu, '\ufffd')
    .trim()
    .slice(0, 500);
