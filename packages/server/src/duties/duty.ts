/** Something Baton does by itself. May run in several processes at once; each takes what it can lock. */
export interface Duty {
  readonly name: string;
  /** Whether a person would call it an event of the day (reading an empty mailbox is none). */
  readonly eventful: boolean;
  /** When there is next something to do: an instant, perhaps past, or null for never. */
  nextDue(nowMs: number): Promise<number | null>;
  /** Does what is due at `nowMs` in small transactions. @returns how many things were done that may make others due */
  run(nowMs: number): Promise<number>;
}
