import { DomainError, type Clock } from '@baton/core';
import type { ClockChange } from '@baton/contract';
import { announce } from '../store/changes';
import type { Queryable } from '../store/database';
import { readClock, updateClock, type ClockRow } from '../store/workspace-rows';

/**
 * The clock everything goes by. In real time it is the machine's; simulated it is the row's `nowMs`, which
 * only the conductor moves, so that nobody ever acts later than something due that has not been done.
 */
export interface WorkspaceClock {
  now(): Promise<number>;
  read(): Promise<ClockRow>;
}

export function workspaceClock(db: Queryable, real: Clock): WorkspaceClock {
  const read = () => readClock(db);
  return {
    read,
    async now() {
      const row = await read();
      return row.simulated ? row.nowMs : real.now();
    },
  };
}

/** Fastest rate: a month in a little over half a minute, if the work keeps up. */
const MAX_RATE = 100_000;

/** @throws DomainError `invalid` in real time, for a rate out of bounds, or for an instant in the past */
export async function changeClock(db: Queryable, change: ClockChange, real: Clock): Promise<void> {
  const row = await readClock(db);
  if (!row.simulated)
    throw new DomainError('invalid', 'This workspace goes by real time; only the demo’s clock can be set.');
  const anchorRealMs = real.now();
  if ('rate' in change) {
    if (!(change.rate >= 0 && change.rate <= MAX_RATE))
      throw new DomainError('invalid', `The clock cannot run at ${change.rate}; expected 0 to ${MAX_RATE}.`);
    await updateClock(db, { rate: change.rate, anchorRealMs, untilMs: null, toNextEvent: false });
  } else if ('untilMs' in change) {
    if (change.untilMs < row.nowMs)
      throw new DomainError('invalid', 'The clock cannot go back; expected a later time.');
    await updateClock(db, { untilMs: change.untilMs, anchorRealMs, toNextEvent: false });
  } else {
    await updateClock(db, { toNextEvent: true, untilMs: null, anchorRealMs });
  }
  await announce(db, 'clock');
}
