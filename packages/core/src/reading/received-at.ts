import { DAY_MS } from '../time/clock';

/** Before this no message was sent that is read today: clocks that say so are not set. */
const EARLIEST_MS = Date.UTC(2000, 0, 1);

/**
 * When a message came in, by its head: the date of the last server that took it, else its own (RFC 5322, 3.6.7 and 3.6.1).
 *
 * @param headers by name in lower case, several of one name joined by a line break, the first on top
 * @param nowMs what counts where neither is there or can be
 * @returns epoch ms UTC
 */
export function receivedAt(headers: Readonly<Record<string, string>>, nowMs: number): number {
  const received = (headers['received'] ?? '').replace(/\r?\n[ \t]+/g, ' ').split('\n')[0] as string;
  for (const written of [received.split(';').at(-1) as string, headers['date'] ?? '']) {
    const at = Date.parse(written.replace(/\([^()]*\)/g, ' ').trim());
    if (at >= EARLIEST_MS && at <= nowMs + 2 * DAY_MS) return at;
  }
  return nowMs;
}
