import type { WeekWindows } from '@baton/core';

/** What a mailbox's quota, hours and least gap come to. */
export interface PaceWords {
  /** How far apart messages usually are when a whole quota leaves; '' where it never does. */
  usual: string;
  /** What does not go together; '' when all does. */
  trouble: string;
}

/**
 * @param quota messages a day, 0 or more
 * @param windows hours of each weekday
 * @param paceSeconds least gap between two messages
 * @param names of the weekdays
 */
export function paceWords(
  quota: number,
  windows: WeekWindows,
  paceSeconds: number,
  names: readonly string[],
): PaceWords {
  const open = windows
    .map((spans, i) => ({ name: names[i] ?? '', seconds: 60 * spans.reduce((sum, [from, to]) => sum + to - from, 0) }))
    .filter(({ seconds }) => seconds > 0)
    .map((day) => ({ ...day, room: paceSeconds > 0 ? Math.ceil(day.seconds / paceSeconds) : Infinity }));
  if (quota === 0) return { usual: '', trouble: 'With a quota of 0 nothing leaves.' };
  if (!(quota > 0) || open.length === 0) return { usual: '', trouble: '' };
  const narrow = open.filter(({ room }) => room < quota);
  const isNever = narrow.length === open.length;
  const every = spanOf(
    open.map(({ seconds, room }) => seconds / Math.min(quota, room)),
    gapWords,
  );
  return {
    usual: isNever ? '' : `Spread over its hours, ${quota} a day leave about every ${every}, at uneven times.`,
    trouble: narrow.length === 0 ? '' : narrowWords(narrow, isNever, quota, paceSeconds),
  };
}

interface NarrowDay {
  name: string;
  room: number;
}

function narrowWords(days: readonly NarrowDay[], areAll: boolean, quota: number, paceSeconds: number): string {
  const rooms = spanOf(
    days.map(({ room }) => room),
    String,
  );
  const hours = areAll ? 'Its hours' : `The hours of ${days.map(({ name }) => name).join(', ')}`;
  return `${hours} hold only ${rooms} of ${quota} a day at ${paceSeconds} seconds apart.`;
}

function gapWords(seconds: number): string {
  if (seconds < 90) return `${Math.round(seconds)} seconds`;
  return seconds < 5400 ? `${Math.round(seconds / 60)} minutes` : `${(seconds / 3600).toFixed(1)} hours`;
}

/** `8 to 12 minutes`, or one of them where they read alike. */
function spanOf(values: readonly number[], words: (value: number) => string): string {
  const [least, most] = [words(Math.min(...values)), words(Math.max(...values))];
  return least === most ? most : `${least.replace(most.replace(/^\S+/, ''), '')} to ${most}`;
}
