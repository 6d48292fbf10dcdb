import type { Clock } from '@baton/core';

/** The machine's own clock. */
export const systemClock: Clock = { now: () => Date.now() };
