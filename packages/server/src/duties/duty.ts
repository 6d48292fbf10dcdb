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
}
