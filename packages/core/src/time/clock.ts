/** What tells the time. Long-lived objects take one; pure functions take `nowMs`. */
export interface Clock {
  /** Epoch milliseconds UTC. */
  now(): number;
}

export const SECOND_MS = 1000;
export const MINUTE_MS = 60 * SECOND_MS;
export const HOUR_MS = 60 * MINUTE_MS;
export const DAY_MS = 24 * HOUR_MS;
export const MINUTES_A_DAY = DAY_MS / MINUTE_MS;
