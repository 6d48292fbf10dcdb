import { randomInt } from 'node:crypto';
import { varied } from '@baton/core';

/**
 * How long to wait after so many failures in a row: twice as long each time up to a limit, and varied by a third, so
 * that many who lost the same thing do not all come back at once.
 *
 * @param failures 1 or more
 * @param random 0 to 1
 * @returns milliseconds
 */
export function backOffMs(failures: number, firstMs: number, mostMs: number, random = randomInt(1001) / 1000): number {
  const pause = Math.min(mostMs, firstMs * 2 ** Math.min(failures - 1, 30));
  return varied(pause, random);
}
