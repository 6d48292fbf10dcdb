import { isIP } from 'node:net';
import type { Context } from 'koa';

/** Addresses of this machine that are remembered: it may have moved. */
const MOST_KEPT = 20;

/** What tells where a request came from. */
export type Asked = Pick<Context, 'get'> & { req: { socket: { remoteAddress?: string | undefined } } };

/**
 * Knows requests of this machine's own among those of recipients: whoever works here looks at their own copies, and counts for
 * nobody.
 */
export class OwnMachine {
  private readonly own = new Set<string>();
  private readonly words = new Set<string>();

  /** @param isSimulated in the demo, whose recipients live on this machine */
  constructor(private readonly isSimulated: boolean) {}

  /** This machine is about to ask for itself at its public address, with this word. */
  asks(word: string): void {
    this.words.add(word);
    keepNewest(this.words);
  }

  /** Somebody has asked with a word: if it is one of this machine's, that is where it is seen. */
  wasAsked(word: string, by: Asked): void {
    if (!this.words.delete(word)) return;
    const from = cameFrom(by);
    this.own.delete(from);
    this.own.add(from);
    keepNewest(this.own);
  }

  isFromHere(by: Asked): boolean {
    const from = cameFrom(by);
    return !this.isSimulated && (isLoopback(from) || this.own.has(from));
  }
}

function keepNewest(of: Set<string>): void {
  const [oldest] = of;
  if (of.size > MOST_KEPT && oldest !== undefined) of.delete(oldest);
}

/** The address of whoever asks: as the web server in front, on this machine or in its network, says, or else of the connection. */
function cameFrom(by: Asked): string {
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
const isLoopback = (address: string): boolean => /^(?:127(?:\.\d+){3}|::1)$/.test(address);
/** RFC 1918 and RFC 4193. */
const isPrivate = (address: string): boolean =>
  /^(?:10\.|192\.168\.|172\.(?:1[6-9]|2\d|3[01])\.|f[cd][\da-f]{2}:)/.test(address);
