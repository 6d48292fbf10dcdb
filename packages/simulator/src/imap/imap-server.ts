import { createServer, type AddressInfo, type Socket } from 'node:net';
import type { Faults } from '../faults';
import type { MailStore } from '../mail/mail-store';
import type { Listening } from '../smtp/smtp-server';
import { ImapSession } from './imap-session';

export interface ImapListening extends Listening {
  /** Whether somebody waits to be told of new mail of an account (IDLE, RFC 2177). */
  isIdling(address: string): boolean;
  /** Ends all connections. */
  cut(): void;
}

/** IMAP4rev1 (RFC 3501), as much of it as a mail client that reads asks for. Each user has folders of their own. */
export async function startImap(
  store: MailStore,
  faults: Faults,
  port: number,
  configuration = '',
): Promise<ImapListening> {
  const sessions = new Map<Socket, ImapSession>();
  const server = createServer((socket) => {
    const session = new ImapSession(socket, store, faults, configuration);
    sessions.set(socket, session);
    socket.on('close', () => sessions.delete(socket));
    session.greet();
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  const cut = () => {
    for (const socket of sessions.keys()) socket.destroy();
  };
  return {
    port: (server.address() as AddressInfo).port,
    isIdling: (address) => [...sessions.values()].some((s) => s.idlesFor === address),
    cut,
    close: () =>
      new Promise((resolve) => {
        cut();
        server.close(() => resolve());
      }),
  };
}
