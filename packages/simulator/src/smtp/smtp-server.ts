import type { AddressInfo } from 'node:net';
import { SMTPServer, type SMTPServerDataStream, type SMTPServerOptions, type SMTPServerSession } from 'smtp-server';
import type { Faults } from '../faults';
import type { MailStore } from '../mail/mail-store';
import type { Behaviour } from '../people/behaviour';
import { MAIL_SCOPE } from '../sign-in/authorization-server';

const DAY = 86_400_000;
const MAX_BYTES = 25 * 1024 * 1024;

export interface Listening {
  port: number;
  close(): Promise<void>;
}

/** Mail submission (RFC 6409): signs senders in, asks each recipient's server, keeps the Sent copy, delivers. */
export async function startSmtp(
  store: MailStore,
  behaviour: Behaviour,
  faults: Faults,
  port: number,
): Promise<Listening> {
  const server = new SMTPServer({
    authOptional: false,
    allowInsecureAuth: true,
    authMethods: ['PLAIN', 'LOGIN', 'XOAUTH2'],
    disabledCommands: ['STARTTLS'],
    size: MAX_BYTES,
    logger: false,
    disableReverseLookup: true,
    ...new Submission(store, behaviour, faults, (session) => dropConnection(session, server)).handlers(),
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  // Clients that vanish mid-sentence are daily business here.
  server.on('error', () => undefined);
  store.onRevoked((address) => {
    for (const { session } of connectionsOf(server)) if (userOf(session) === address) dropConnection(session, server);
  });
  return {
    port: (server.server.address() as AddressInfo).port,
    close: () => new Promise((resolve) => server.close(resolve)),
  };
}

type Handlers = Required<Pick<SMTPServerOptions, 'onAuth' | 'onMailFrom' | 'onRcptTo' | 'onData'>>;

/** What the provider says at each command of a submission. */
class Submission {
  constructor(
    private readonly store: MailStore,
    private readonly behaviour: Behaviour,
    private readonly faults: Faults,
    private readonly drop: (session: SMTPServerSession) => void,
  ) {}

  handlers(): Handlers {
    return {
      onAuth: (auth, _session, done) => {
        if (auth.accessToken !== undefined) {
          const owner = this.store.accountOfToken(auth.accessToken);
          if (owner && owner.address === auth.username) done(null, { user: owner.address });
          // What XOAUTH2 answers: why, in JSON, and then the refusal.
          else done(null, { data: { status: '401', schemes: 'bearer', scope: MAIL_SCOPE } });
          return;
        }
        const account = this.store.accounts.get(auth.username ?? '');
        if (account && account.password === auth.password) done(null, { user: account.address });
        else done(refusal(535, '5.7.8 The user name or password is wrong'));
      },
      onMailFrom: (_from, session, done) => {
        const user = userOf(session);
        if (this.faults.take(user, 'drop_at_mail')) return this.drop(session);
        if (this.faults.take(user, 'refuse_at_mail')) done(refusal(550, '5.7.1 Mail from your network is not taken'));
        else if (this.isOverLimit(user)) done(refusal(550, '5.4.5 Daily sending limit exceeded'));
        else done();
      },
      onRcptTo: (to, session, done) => {
        const from = session.envelope.mailFrom;
        const refused = this.behaviour.refusalAtRcpt(
          from ? from.address : '',
          to.address.toLowerCase(),
          this.store.nowMs,
        );
        if (refused) this.store.count('refused');
        done(refused && refusal(refused.code, refused.text));
      },
      onData: (stream, session, done) => {
        void this.take(stream, session).then(
          (taken) => (taken ? done(null, '2.0.0 Taken') : this.drop(session)),
          (error: Error) => done(error),
        );
      },
    };
  }

  private isOverLimit(user: string): boolean {
    const account = this.store.accounts.get(user);
    const lately = (this.store.sentTimes.get(user) ?? []).filter((t) => t > this.store.nowMs - DAY).length;
    return account !== undefined && lately >= account.dailyLimit;
  }

  /** @returns false when the connection breaks instead of an answer */
  private async take(stream: SMTPServerDataStream, session: SMTPServerSession): Promise<boolean> {
    const chunks: Buffer[] = [];
    for await (const chunk of stream) chunks.push(chunk as Buffer);
    if (stream.sizeExceeded) throw refusal(552, '5.3.4 The message is too large');
    const user = userOf(session);
    if (this.faults.take(user, 'drop_before_taking')) return false;
    await this.deliver(user, session, Buffer.concat(chunks));
    if (this.faults.take(user, 'drop_after_taking')) return false;
    await this.faults.pause(user);
    return true;
  }

  private async deliver(user: string, session: SMTPServerSession, raw: Buffer): Promise<void> {
    const { store } = this;
    store.noteSent(user, store.nowMs);
    if (store.accounts.get(user)?.keepsSent !== false) store.addMail(user, 'Sent', raw, store.nowMs);
    for (const rcpt of session.envelope.rcptTo) {
      const person = rcpt.address.toLowerCase();
      store.count('accepted');
      const account = store.accountOf(person);
      const uid = store.addMail(account?.address ?? person, 'INBOX', raw, store.nowMs);
      if (!account) await this.behaviour.received(person, uid, raw, store.nowMs);
    }
  }
}

const refusal = (code: number, text: string) => Object.assign(new Error(text), { responseCode: code });
const userOf = (session: SMTPServerSession) => String(session.user ?? '');

interface OpenConnection {
  id: string;
  session: SMTPServerSession;
  _socket: { destroy(): void };
}

const connectionsOf = (server: SMTPServer): OpenConnection[] => [
  ...(server as unknown as { connections: Set<OpenConnection> }).connections,
];

function dropConnection({ id }: SMTPServerSession, server: SMTPServer): void {
  for (const c of connectionsOf(server)) if (c.id === id) c._socket.destroy();
}
