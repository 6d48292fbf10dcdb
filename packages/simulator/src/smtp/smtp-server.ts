import type { AddressInfo } from 'node:net';
import { SMTPServer, type SMTPServerDataStream, type SMTPServerSession } from 'smtp-server';
import type { Faults } from '../faults';
import type { MailStore } from '../mail/mail-store';
import type { Behaviour } from '../people/behaviour';

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
  const refuse = (code: number, text: string) => Object.assign(new Error(text), { responseCode: code });
  const server = new SMTPServer({
    authOptional: false,
    allowInsecureAuth: true,
    disabledCommands: ['STARTTLS'],
    size: MAX_BYTES,
    logger: false,
    disableReverseLookup: true,
    onAuth(auth, _session, done) {
      const account = store.accounts.get(auth.username ?? '');
      if (account && account.password === auth.password) done(null, { user: account.address });
      else done(refuse(535, '5.7.8 The user name or password is wrong'));
    },
    onMailFrom(_from, session, done) {
      const account = store.accounts.get(userOf(session));
      if (faults.take(userOf(session), 'drop_at_mail')) return dropConnection(session, server);
      const lately = (store.sentTimes.get(userOf(session)) ?? []).filter((t) => t > store.nowMs - DAY).length;
      if (account && lately >= account.dailyLimit) done(refuse(550, '5.4.5 Daily sending limit exceeded'));
      else done();
    },
    onRcptTo(to, session, done) {
      const from = session.envelope.mailFrom;
      const refusal = behaviour.refusalAtRcpt(from ? from.address : '', to.address.toLowerCase(), store.nowMs);
      if (refusal) {
        store.count('refused');
        done(refuse(refusal.code, refusal.text));
      } else done();
    },
    onData(stream, session, done) {
      void takeData(stream, session).then(
        (dropped) => (dropped ? undefined : done(null, '2.0.0 Taken')),
        (error: Error) => done(error),
      );
    },
  });

  const takeData = async (stream: SMTPServerDataStream, session: SMTPServerSession): Promise<boolean> => {
    const chunks: Buffer[] = [];
    for await (const chunk of stream) chunks.push(chunk as Buffer);
    if (stream.sizeExceeded) throw refuse(552, '5.3.4 The message is too large');
    const user = userOf(session);
    const raw = Buffer.concat(chunks);
    if (faults.take(user, 'drop_before_taking')) return dropConnection(session, server) ?? true;
    store.noteSent(user, store.nowMs);
    store.addMail(user, 'Sent', raw, store.nowMs);
    for (const rcpt of session.envelope.rcptTo) {
      const person = rcpt.address.toLowerCase();
      store.count('accepted');
      const uid = store.addMail(person, 'INBOX', raw, store.nowMs);
      if (!store.accounts.has(person)) await behaviour.received(person, uid, raw, store.nowMs);
    }
    if (faults.take(user, 'drop_after_taking')) return dropConnection(session, server) ?? true;
    await faults.pause(user);
    return false;
  };

  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  // Clients that vanish mid-sentence are daily business here.
  server.on('error', () => undefined);
  return {
    port: (server.server.address() as AddressInfo).port,
    close: () => new Promise((resolve) => server.close(resolve)),
  };
}

const userOf = (session: SMTPServerSession) => String(session.user ?? '');

function dropConnection(session: SMTPServerSession, server: SMTPServer): void {
  for (const c of (server as unknown as { connections: Set<{ id: string; _socket: { destroy(): void } }> }).connections)
    if (c.id === session.id) c._socket.destroy();
}
