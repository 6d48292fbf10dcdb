import { connect as connectTcp, isIP, type Socket } from 'node:net';
import { checkServerIdentity, connect as connectTls, type DetailedPeerCertificate } from 'node:tls';
import type { ServerCertificate } from '@baton/contract';
import { systemClock } from '../time/system-clock';
import type { Server } from '../store/schema/schema';

/** How a server begins: with TLS, with a greeting in clear, or with nothing that we know. */
type Beginning = 'tls' | 'plain' | 'unknown';

/** A server that speaks first greets long before; one that waits for a handshake never does. */
const GREETING_MS = 3000;
const ANSWER_MS = 10_000;
const MOST_BYTES = 16_384;

export type Protocol = 'smtp' | 'imap';

/** Finds out whether a port begins with TLS, so that nobody has to wait for a greeting that never comes. */
export async function howItBegins(server: Server): Promise<Beginning> {
  const socket = connectTcp({ host: server.host, port: server.port });
  try {
    return await within(GREETING_MS, socket, async () => {
      const said = await lineFrom(socket, /./);
      return said === null ? 'unknown' : 'plain';
    });
  } catch (error) {
    if (!(error instanceof TooLong)) return 'unknown';
    return (await certificateAt(server, null)) === null ? 'unknown' : 'tls';
  } finally {
    socket.destroy();
  }
}

/**
 * The certificate that a server shows, where this machine does not trust it though its name is right: whoever knows the
 * server may trust it all the same. Null where it is trusted, or trusting would not help.
 */
export async function untrustedCertificate(server: Server, protocol: Protocol): Promise<ServerCertificate | null> {
  const shown = await certificateAt(server, server.security === 'starttls' ? protocol : null).catch(() => null);
  if (!shown || shown.isTrusted) return null;
  const top = topOf(shown.certificate);
  if (checkServerIdentity(server.host, shown.certificate)) return null;
  if (Date.parse(shown.certificate.valid_to) < systemClock.now()) return null;
  return {
    server: protocol,
    host: server.host,
    subject: nameOf(shown.certificate.subject),
    issuer: nameOf(shown.certificate.issuer),
    validTo: Date.parse(shown.certificate.valid_to),
    fingerprint: top.fingerprint256,
    pem: pemOf(top),
  };
}

interface Shown {
  certificate: DetailedPeerCertificate;
  isTrusted: boolean;
}

/** @param startTls the protocol in which TLS is asked for first; null where the port begins with it */
async function certificateAt(server: Server, startTls: Protocol | null): Promise<Shown | null> {
  const plain = connectTcp({ host: server.host, port: server.port });
  try {
    return await within(ANSWER_MS, plain, async () => {
      if (startTls !== null && !(await beginTls(plain, startTls))) return null;
      const servername = isIP(server.host) ? {} : { servername: server.host };
      const secure = connectTls({ socket: plain, rejectUnauthorized: false, ...servername });
      return new Promise<Shown | null>((resolve) => {
        secure.on('error', () => resolve(null)).on('close', () => resolve(null));
        secure.on('secureConnect', () =>
          resolve({ certificate: secure.getPeerCertificate(true), isTrusted: secure.authorized }),
        );
      });
    });
  } catch {
    return null;
  } finally {
    plain.destroy();
  }
}

/** Asks for TLS (RFC 3207, 4; RFC 9051, 6.2.1). @returns whether the server agrees */
async function beginTls(socket: Socket, protocol: Protocol): Promise<boolean> {
  if (protocol === 'imap') {
    await lineFrom(socket, /^\* /m);
    socket.write('a STARTTLS\r\n');
    return (await lineFrom(socket, /^a /m))?.includes('a OK') ?? false;
  }
  await lineFrom(socket, /^220 /m);
  socket.write('EHLO [127.0.0.1]\r\n');
  await lineFrom(socket, /^250 /m);
  socket.write('STARTTLS\r\n');
  return /^220/m.test((await lineFrom(socket, /^\d{3} /m)) ?? '');
}

/** What a server says until it says what is waited for; null where it ends before, or says too much. */
function lineFrom(socket: Socket, what: RegExp): Promise<string | null> {
  return new Promise((resolve, reject) => {
    let said = '';
    const done = (answer: string | null) => {
      socket.off('data', take).off('close', ended).off('error', failed);
      resolve(answer);
    };
    const take = (bytes: Buffer) => {
      said += bytes.toString('latin1');
      if (what.test(said)) done(said);
      else if (said.length > MOST_BYTES) done(null);
    };
    const ended = () => done(null);
    const failed = (error: Error) => reject(error);
    socket.on('data', take).on('close', ended).on('error', failed);
  });
}

class TooLong extends Error {}

async function within<T>(ms: number, socket: Socket, work: () => Promise<T>): Promise<T> {
  socket.on('error', () => undefined);
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new TooLong()), ms);
  });
  try {
    return await Promise.race([work(), late]);
  } finally {
    clearTimeout(timer);
  }
}

/** The last certificate of the chain that the server sends: trusting it trusts what it signed. */
function topOf(certificate: DetailedPeerCertificate): DetailedPeerCertificate {
  const next = certificate.issuerCertificate as DetailedPeerCertificate | undefined;
  return !next || next.fingerprint256 === certificate.fingerprint256 ? certificate : topOf(next);
}

const nameOf = (names: { CN?: string | string[]; O?: string | string[] } | undefined): string =>
  [names?.CN ?? names?.O ?? 'nobody'].flat().join(', ').slice(0, 200);

const pemOf = ({ raw }: DetailedPeerCertificate): string =>
  `-----BEGIN CERTIFICATE-----\n${raw.toString('base64').replace(/(.{64})/g, '$1\n')}\n-----END CERTIFICATE-----\n`;
