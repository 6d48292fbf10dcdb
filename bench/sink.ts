import type { AddressInfo } from 'node:net';
import { SMTPServer } from 'smtp-server';

export interface Sink {
  port: number;
  /** Milliseconds from the first to the last of the next `n` messages. */
  time(n: number): Promise<number>;
  /** Calls back for each of these recipients' next message. @returns once all have theirs */
  each(addresses: readonly string[], taken: (address: string) => void): Promise<void>;
  close(): Promise<void>;
}

/** Takes every message and throws it away, as quickly as an SMTP server in Node.js can. */
export async function startSink(): Promise<Sink> {
  let onTaken: (address: string) => void = () => undefined;
  const server = new SMTPServer({
    authOptional: true,
    allowInsecureAuth: true,
    disabledCommands: ['STARTTLS'],
    logger: false,
    disableReverseLookup: true,
    onAuth: (_auth, _session, done) => done(null, { user: 'anybody' }),
    onData(stream, session, done) {
      stream.on('end', () => {
        onTaken(session.envelope.rcptTo[0]?.address ?? '');
        done();
      });
      stream.resume();
    },
  });
  server.on('error', () => undefined);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return {
    port: (server.server.address() as AddressInfo).port,
    time(n) {
      let taken = 0;
      let from = 0;
      return new Promise((resolve) => {
        onTaken = () => {
          taken++;
          if (taken === 1) from = performance.now();
          if (taken === n) resolve(performance.now() - from);
        };
      });
    },
    each(addresses, taken) {
      const waiting = new Set(addresses);
      return new Promise((resolve) => {
        onTaken = (address) => {
          if (!waiting.delete(address)) return;
          taken(address);
          if (waiting.size === 0) resolve();
        };
      });
    },
    close: () => new Promise((resolve) => server.close(() => resolve())),
  };
}
