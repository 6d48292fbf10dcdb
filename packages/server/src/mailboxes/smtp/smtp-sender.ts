import { DomainError, needsUtf8, type SendOutcome } from '@baton/core';
import { IDLE_MS, IdleTimer, requireSafe, type Credential, type MailboxAccess } from '../connection';
import { signIn } from './sign-in';
import { oneLine, outcomeOf, SmtpConnection, SmtpFailure, type Envelope } from './smtp-connection';

/** One mailbox's way out. Keeps its connection between messages and closes it when it is idle; not for use by two senders at once. */
export class SmtpSender {
  private connection: SmtpConnection | null = null;
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
    const on = await this.connected();
    if (!(on instanceof SmtpConnection)) return on;
    const beyondIt = whyNotTo(envelope, takesUtf8(on));
    if (beyondIt) return beyondIt;
    const to = envelope.to.filter((address) => isWritable(address) && (takesUtf8(on) || !needsUtf8(address)));
    const outcome = await on.handOver({ ...envelope, to }, message);
    if (outcome.code === 250) return outcome;
    if (!(isOfMessage(outcome) && (await canGoOn(on)))) on.destroy();
    // A kept connection that the server had closed meanwhile says nothing about this message.
    if (reused && wasClosed(outcome)) return this.sendOnce(envelope, message);
    return outcome;
  }

  /** Signs in without sending. */
  async check(): Promise<SendOutcome> {
    const on = await this.connected();
    if (!(on instanceof SmtpConnection)) return on;
    return { code: 235, answer: 'signed in', stage: 'auth', bodyStarted: false };
  }

  close(): void {
    this.idle.stir();
    this.connection?.quit();
    this.connection = null;
  }

  private async connected(): Promise<SmtpConnection | SendOutcome> {
    return this.connection ?? (await this.open());
  }

  /** @param refused a token that the server has refused: it is tried once more with another */
  private async open(refused?: string): Promise<SmtpConnection | SendOutcome> {
    const { smtp, credential } = this.access;
    const shown = 'password' in credential ? credential : await tokenOr(credential, refused);
    if ('code' in shown) return shown;
    let on: SmtpConnection | null = null;
    try {
      on = await SmtpConnection.open(smtp, () => {
        if (this.connection === on) this.connection = null;
      });
      await signIn(on, this.access, shown);
      this.connection = on;
      return on;
    } catch (error) {
      on?.destroy();
      if (!(error instanceof SmtpFailure)) throw error;
      const isRefused = error.stage === 'auth' && (error.code ?? 0) >= 500;
      if ('token' in shown && isRefused && refused === undefined) return this.open(shown.token);
      return outcomeOf(error);
    }
  }
}

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

const takesUtf8 = (on: SmtpConnection): boolean => on.extensions.has('SMTPUTF8');

/** Whether an address can stand in a command: nothing in it ends that, or the address. */
const isWritable = (address: string): boolean => !/[\p{Cc}<>]/u.test(address);

/**
 * What a server would say that was not asked: to an address that cannot be written down in a command, and to one with
 * letters beyond ASCII before the @, where it does not take these (RFC 6531, 3.2 and 3.5).
 */
function whyNotTo({ from, to: [first = ''] }: Envelope, takes: boolean): SendOutcome | null {
  for (const [stage, address] of [
    ['mail', from],
    ['rcpt', first],
  ] as const) {
    const code = stage === 'mail' ? 550 : 553;
    const refuse = (answer: string) => outcomeOf(new SmtpFailure(stage, code, answer));
    if (!isWritable(address)) return refuse(`5.1.3 ${address} is not an address`);
    if (!takes && needsUtf8(address))
      return refuse(`5.6.7 this provider does not take letters such as those of ${address} before the @ (SMTPUTF8)`);
  }
  return null;
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
async function canGoOn(on: SmtpConnection): Promise<boolean> {
  try {
    return (await on.ask('RSET', 'mail')).code === 250;
  } catch {
    return false;
  }
}
