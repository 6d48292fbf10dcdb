import { DAY_MS, type Clock } from '@baton/core';
import { announce } from '../store/changes';
import { LOCKS, withLock, type Store } from '../store/database';
import { readClock, updateClock, type ClockRow } from '../store/workspace-rows';
import type { Duty } from './duty';

/** The simulated outside world, which goes by the same clock. */
export interface OutsideWorld {
  nextDue(): Promise<number | null>;
  /** Everything in it up to and including this instant happens. */
  advance(toMs: number): Promise<void>;
}

export interface Conductor {
  /** Does what is due and moves the clock where it is simulated; true when there may be more at once. */
  step(): Promise<boolean>;
}

export interface Failures {
  dutyFailed(name: string, error: unknown): void;
}

/** A duty that says it is due and does nothing is asked again this much later, so that time goes on. */
const STUCK_MS = 60_000;
/** Further behind its rate than this, the clock forgets the difference instead of racing after it. */
const MAX_LAG_REAL_MS = 1000;
/** While the clock runs, open pages are told this often. */
const TELL_REAL_MS = 250;
/** With nothing to come at all, the next event is a day away. */
const LONGEST_WAIT_MS = DAY_MS;
/** Things done at one instant before the conductor looks whether the clock was changed. */
const MAX_ROUNDS = 200;

interface Due {
  at: number;
  eventful: boolean;
}

/**
 * Runs the duties by the workspace clock. In real time: whatever is due now. Simulated: all that is due,
 * until nothing is; then the clock moves to the next thing due, the outside world's included, but no
 * further than its rate or its target allows; again. One process conducts at a time.
 */
export function createConductor(
  store: Store,
  duties: readonly Duty[],
  world: OutsideWorld | null,
  real: Clock,
  failures: Failures,
): Conductor {
  /** Does what is due until nothing is. @returns what was done, and when each duty is next due */
  const runDue = async (nowMs: number): Promise<{ done: number; due: Due[] }> => {
    let all = 0;
    for (let round = 0; ; round++) {
      let done = 0;
      const due: Due[] = [];
      for (const duty of duties) {
        try {
          const at = await duty.nextDue(nowMs);
          if (at !== null && at <= nowMs) done += await duty.run(nowMs);
          if (at !== null) due.push({ at: at <= nowMs ? nowMs + STUCK_MS : at, eventful: duty.eventful });
        } catch (error) {
          failures.dutyFailed(duty.name, error);
        }
      }
      all += done;
      if (done === 0 || round >= MAX_ROUNDS) return { done: all, due };
    }
  };

  const moveTo = async (row: ClockRow, toMs: number, arrived: boolean): Promise<void> => {
    const realNow = real.now();
    const reckoned = row.rate > 0 ? row.anchorRealMs + (toMs - row.nowMs) / row.rate : realNow;
    const anchorRealMs =
      realNow - reckoned > MAX_LAG_REAL_MS || row.untilMs !== null || row.toNextEvent
        ? realNow
        : Math.min(realNow, reckoned);
    await updateClock(store.db, {
      nowMs: toMs,
      anchorRealMs,
      ...(arrived ? { untilMs: null, toNextEvent: false } : {}),
    });
    if (world) await world.advance(toMs);
  };

  let toldAt = 0;
  let begun = false;
  /** Real time that passed while nobody conducted is not simulated; the world may stand at its last event. */
  const begin = async (): Promise<void> => {
    if (begun) return;
    await updateClock(store.db, { anchorRealMs: real.now() });
    if (world) await world.advance((await readClock(store.db)).nowMs);
    begun = true;
  };

  const stepSimulated = async (): Promise<boolean> => {
    await begin();
    const before = await readClock(store.db);
    const { due } = await runDue(before.nowMs);
    const worldDue = world ? await world.nextDue() : null;
    if (worldDue !== null) due.push({ at: Math.max(worldDue, before.nowMs), eventful: true });
    // Somebody may have set the clock meanwhile.
    const row = await readClock(store.db);
    const wanted = wantedTime(row, due);
    const driven = row.untilMs !== null || row.toNextEvent;
    if (wanted <= row.nowMs && !driven) return false;
    const toMs = Math.max(row.nowMs, Math.min(wanted, ...due.map((d) => d.at)));
    const arrived = driven && toMs >= wanted;
    await moveTo(row, toMs, arrived);
    if (arrived) await runDue(toMs);
    if (arrived || real.now() - toldAt > TELL_REAL_MS) {
      toldAt = real.now();
      await announce(store.db, 'clock', 'today');
    }
    return driven || toMs < wanted;
  };

  const wantedTime = (row: ClockRow, due: Due[]): number => {
    if (row.untilMs !== null) return row.untilMs;
    if (row.toNextEvent)
      return Math.min(...due.filter((d) => d.eventful).map((d) => d.at), row.nowMs + LONGEST_WAIT_MS);
    return row.rate > 0 ? Math.floor(row.nowMs + (real.now() - row.anchorRealMs) * row.rate) : row.nowMs;
  };

  return {
    async step() {
      const { simulated } = await readClock(store.db);
      if (!simulated) return (await runDue(real.now())).done > 0;
      return (await withLock(store, LOCKS.conductor, 0, stepSimulated)) ?? false;
    },
  };
}
