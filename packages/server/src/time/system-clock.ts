import { readFileSync } from 'node:fs';
import type { Clock } from '@baton/core';

/**
 * The machine's own clock. In a trial (`npm run torture`) it goes as the file `BATON_CLOCK_FILE` says, so that days pass
 * in minutes and every process sees the clock jump.
 */
export const systemClock: Clock = clockOf(process.env['BATON_CLOCK_FILE']);

/** What a file of a clock holds: at `realMs` it was `nowMs`, and goes `rate` times as fast since. */
export interface ClockFile {
  realMs: number;
  nowMs: number;
  rate: number;
}

export function clockOf(file: string | undefined): Clock {
  const real = () => Date.now();
  if (file === undefined) return { now: real };
  return {
    now() {
      const { realMs, nowMs, rate } = JSON.parse(readFileSync(file, 'utf8')) as ClockFile;
      return Math.floor(nowMs + (real() - realMs) * rate);
    },
  };
}
