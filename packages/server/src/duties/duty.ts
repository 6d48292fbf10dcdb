import type { Agenda } from '../store/duties/agenda-rows';

/** Something Baton does by itself. May run in several processes at once; each takes what it can lock. */
export interface Duty {
  readonly name: string;
  /** Whether a person would call it an event of the day (reading an empty mailbox is none). */
  readonly eventful: boolean;
  /** At most so often is it asked when it is next due; absent where it must not be late. */
  readonly askEveryMs?: number;
  /** When there is next something to do: an instant, perhaps past, or null for never. */
  nextDue(nowMs: number, agenda: Agenda): number | null | Promise<number | null>;
  /**
   * Does what is due at `nowMs` in small transactions.
   *
   * @returns how many things were done that may make others due
   */
  run(nowMs: number, agenda: Agenda): Promise<number>;
  /** Waits for what goes on by itself after a run; absent where nothing does. */
  settle?(): Promise<void>;
}

/**
 * How a duty goes about its mailboxes: in the simulated world one instant is finished before the next begins; in real
 * time each mailbox goes by itself, and asks the clock for every message.
 */
export interface Pace {
  /** The time now, of a run that began at `nowMs`. */
  now(nowMs: number): number;
  /** How long a run waits for its mailboxes. */
  waitMs: number;
}

export const SIMULATED_PACE: Pace = { now: (nowMs) => nowMs, waitMs: Infinity };
