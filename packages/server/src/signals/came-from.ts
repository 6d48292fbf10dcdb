import { isIP } from 'node:net';
import type { Context } from 'koa';

/** What tells where a request came from. */
export type Asked = Pick<Context, 'get'> & { req: { socket: { remoteAddress?: string | undefined } } };

/** The address of whoever asks: as the web server in front, on this machine or in its network, says, or else of the connection. */
export function cameFrom(by: Asked): string {
  const direct = plain(by.req.socket.remoteAddress ?? '');
  if (!isLoopback(direct) && !isPrivate(direct)) return direct;
  // Of several, the last was added by the server that is nearest.
  const passedOn = plain(by.get('X-Forwarded-For').split(',').at(-1) ?? '');
  return isIP(passedOn) === 0 ? direct : passedOn;
}

/** An IPv4 address that came over IPv6 is the same (RFC 4291, 2.5.5.2). */
const plain = (address: string): string =>
  address
    .trim()
    .toLowerCase()
    .replace(/^::ffff:(?=\d+\.)/, '');
export const isLoopback = (address: string): boolean => /^(?:127(?:\.\d+){3}|::1)$/.test(address);
/** RFC 1918 and RFC 4193. */
const isPrivate = (address: string): boolean =>
  /^(?:10\.|192\.168\.|172\.(?:1[6-9]|2\d|3[01])\.|f[cd][\da-f]{2}:)/.test(address);
