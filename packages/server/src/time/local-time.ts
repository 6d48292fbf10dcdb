import { isoDate } from '@baton/core';
import { zones } from './zones';

/** Wall-clock time of a zone as `2026-11-30 09:14`. */
export function localTime(ms: number, zone: string): string {
  const { day, minute } = zones.get(zone).toLocal(ms);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${isoDate(day)} ${two(Math.floor(minute / 60))}:${two(Math.floor(minute % 60))}`;
}
