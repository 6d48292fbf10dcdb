import { DAY_MS, type Clock } from '@baton/core';
import { announce } from '../store/changes';
import { LOCKS, withLock, type Store } from '../store/database';
import { readClock, updateClock, type ClockRow } from '../store/workspace-rows';
import { SETTLE } from '../sending/recover';
import { readAgenda, type Agenda } from '../store/duties/agenda-rows';
import { backOffMs } from '../time/back-off';
import type { Duty } from './duty';

/** The simulated outside world, which goes by the same clock. */
export interface OutsideWorld {
  /** Everything in it up to and including this instant happens. @returns when there is something next, or null */
  advance(toMs: number): Promise<number | null>;
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
/** Pauses of real time after a duty failed, the first and the longest. */
const FAILED_MS = 500;
const FAILED_MOST_MS = 60_000;
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
export class Conductor {
  private toldAt = 0;
  private begun = false;
  private simulated: boolean | null = null;
  private worldDue: number | null = null;
  /** The clock's time while this process conducts; null before it has been read. */
  private stands: number | null = null;
  /** Duties that failed the last time: how often in a row, and until when in real time they are left alone. */
  private readonly failing = new Map<string, { failures: number; until: number }>();
  private readonly asked = new Map<string, { at: number; due: number | null }>();

  constructor(
    private readonly store: Store,
    private readonly duties: readonly Duty[],
    private readonly world: OutsideWorld | null,
    private readonly real: Clock,
    private readonly failures: Failures,
  ) {}

  /**
   * Does what is due, and moves the clock where it is simulated, until there is nothing more to do at once.
   *
   * @param isEnough asked between two steps; true ends the run
   * @returns when in real time there is next something to do, as far as is known
   */
  async run(isEnough: () => boolean = () => false): Promise<number> {
    // A clock never changes its kind.
    this.simulated ??= (await readClock(this.store.db)).simulated;
    if (!this.simulated) {
      for (;;) {
        // Each round by the time it is then.
        const { done, due } = await this.runDue(this.real.now(), 0);
        if (done === 0 || isEnough()) return Math.min(...due.map((d) => d.at));
      }
    }
    await withLock(this.store, LOCKS.conductor, 0, async () => {
      // Another process may have conducted meanwhile.
      this.stands = null;
      while ((await this.stepSimulated()) && !isEnough());
    });
    return Infinity;
  }

  /** Waits for what duties have begun and not finished. */
  async settle(): Promise<void> {
    for (const duty of this.duties) await duty.settle?.();
  }

  /** @returns whether there is more to do at once */
  private async stepSimulated(): Promise<boolean> {
    await this.begin();
    // Only who conducts moves the clock.
    const nowMs = this.stands ?? (await readClock(this.store.db)).nowMs;
    const { done, due, clock: row } = await this.runDue(nowMs);
    // What was sent gives the world something to do.
    if (done > 0) await this.advance(nowMs);
    if (this.worldDue !== null) due.push({ at: Math.max(this.worldDue, nowMs), eventful: true });
    const wanted = this.wantedTime(row, due);
    const driven = row.untilMs !== null || row.toNextEvent;
    if (wanted <= row.nowMs && !driven) return false;
    const toMs = Math.max(row.nowMs, Math.min(wanted, ...due.map((d) => d.at)));
    const arrived = driven && toMs >= wanted;
    await this.moveTo(row, toMs, arrived);
    if (arrived && (await this.runDue(toMs)).done > 0) await this.advance(toMs);
    if (arrived || this.real.now() - this.toldAt > TELL_REAL_MS) {
      this.toldAt = this.real.now();
      await announce(this.store.db, 'clock', 'today');
    }
    return (driven && !arrived) || toMs < wanted;
  }

  /** Real time that passed while nobody conducted is not simulated; the simulator may be at an earlier event. */
  private async begin(): Promise<void> {
    if (this.begun) return;
    await updateClock(this.store.db, { anchorRealMs: this.real.now() });
    await this.advance((await readClock(this.store.db)).nowMs);
    this.begun = true;
  }

  private async advance(toMs: number): Promise<void> {
    this.worldDue = this.world ? await this.world.advance(toMs) : null;
  }

  /**
   * Does what is due until nothing is.
   *
   * @returns what was done, when each duty is next due, and the clock afterwards: somebody may have set it meanwhile
   */
  private async runDue(nowMs: number, mostRounds = MAX_ROUNDS): Promise<{ done: number; due: Due[]; clock: ClockRow }> {
    let all = 0;
    let agenda = await this.agenda();
    for (let round = 0; ; round++) {
      let done = 0;
      const due: Due[] = [];
      for (const duty of this.duties) {
        if (this.real.now() < (this.failing.get(duty.name)?.until ?? 0)) continue;
        try {
          let at = await this.nextDue(duty, nowMs, agenda);
          if (at !== null && at <= nowMs) {
            const n = await duty.run(nowMs, agenda);
            done += n;
            // What one duty does may make another due; one that did nothing may have come to its end.
            agenda = await this.agenda();
            this.asked.delete(duty.name);
            // All are asked again after this round.
            at = n > 0 ? null : await this.nextDue(duty, nowMs, agenda);
          }
          if (at !== null) due.push({ at: at <= nowMs ? nowMs + STUCK_MS : at, eventful: duty.eventful });
          this.failing.delete(duty.name);
        } catch (error) {
          const failures = (this.failing.get(duty.name)?.failures ?? 0) + 1;
          const until = this.real.now() + backOffMs(failures, FAILED_MS, FAILED_MOST_MS);
          this.failing.set(duty.name, { failures, until });
          this.failures.dutyFailed(duty.name, error);
        }
      }
      all += done;
      if (done === 0 || round >= mostRounds) return { done: all, due, clock: agenda.clock };
    }
  }

  private agenda(): Promise<Agenda> {
    return readAgenda(this.store.db, SETTLE, this.real.now());
  }

  /** When a duty is next due; of one that need not be asked each time, as it said within its interval. */
  private async nextDue(duty: Duty, nowMs: number, agenda: Agenda): Promise<number | null> {
    const { askEveryMs = 0, name } = duty;
    const asked = this.asked.get(name);
    if (asked && nowMs >= asked.at && nowMs < asked.at + askEveryMs) return asked.due;
    const due = await duty.nextDue(nowMs, agenda);
    this.asked.set(name, { at: nowMs, due });
    return due;
  }

  private wantedTime(row: ClockRow, due: readonly Due[]): number {
    if (row.untilMs !== null) return row.untilMs;
    if (row.toNextEvent)
      return Math.min(...due.filter((d) => d.eventful).map((d) => d.at), row.nowMs + LONGEST_WAIT_MS);
    return row.rate > 0 ? Math.floor(row.nowMs + (this.real.now() - row.anchorRealMs) * row.rate) : row.nowMs;
  }

  private async moveTo(row: ClockRow, toMs: number, arrived: boolean): Promise<void> {
    const realNow = this.real.now();
    const reckoned = row.rate > 0 ? row.anchorRealMs + (toMs - row.nowMs) / row.rate : realNow;
    const startsAnew = realNow - reckoned > MAX_LAG_REAL_MS || row.untilMs !== null || row.toNextEvent;
    await updateClock(this.store.db, {
      nowMs: toMs,
      anchorRealMs: startsAnew ? realNow : Math.min(realNow, reckoned),
      ...(arrived ? { untilMs: null, toNextEvent: false } : {}),
    });
    this.stands = toMs;
    await this.advance(toMs);
  }
}
