import { createServer, type AddressInfo, type Socket } from 'node:net';
import type { Faults } from '../faults';
import type { MailStore } from '../mail/mail-store';
import type { Listening } from '../smtp/smtp-server';
import { ImapSession } from './imap-session';

/** IMAP4rev1 (RFC 3501), as much of it as a mail client that reads asks for. Each user has folders of their own. */
export async function startImap(
  store: MailStore,
  faults: Faults,
  port: number,
  configuration = '',
): Promise<Listening> {
  const sockets = new Set<Socket>();
  const server = createServer((socket) => {
    sockets.add(socket);
    socket.on('close', () => sockets.delete(socket));
    new ImapSession(socket, store, faults, configuration).greet();
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  return {
    port: (server.address() as AddressInfo).port,
    close: () =>
      new Promise((resolve) => {
        for (const s of sockets) s.destroy();
        server.close(() => resolve());
      }),
  };
}
