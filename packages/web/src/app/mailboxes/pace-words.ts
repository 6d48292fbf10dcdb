import type { WeekWindows } from '@baton/core';

/** What a mailbox's quota, hours and least gap come to. */
export interface PaceWords {
  /** How far apart messages usually are when a whole quota leaves; '' where it never does. */
  usual: string;
  /** What does not go together; '' when all does. */
  trouble: string;
}

/** Numbers may be any that can be typed. */
interface Limits {
  /** Messages a day. */
  quota: number;
  /** What the provider takes in 24 hours; null or 0 where there is no limit. */
  providerLimit: number | null;
  /** Least gap between two messages. */
  paceSeconds: number;
}

/**
 * @param windows hours of each weekday
 * @param names of the weekdays
 */
export function paceWords(
  { quota: wanted, providerLimit, paceSeconds }: Limits,
  windows: WeekWindows,
  names: readonly string[],
): PaceWords {
  const quota = providerLimit && providerLimit > 0 ? Math.min(wanted, providerLimit) : wanted;
  const open = windows
    .map((spans, i) => ({ name: names[i] ?? '', seconds: 60 * spans.reduce((sum, [from, to]) => sum + to - from, 0) }))
    .filter(({ seconds }) => seconds > 0)
    .map((day) => ({ ...day, room: paceSeconds > 0 ? Math.ceil(day.seconds / paceSeconds) : Infinity }));
  if (quota === 0) return { usual: '', trouble: 'With a quota of 0 nothing is sent.' };
  if (!(quota > 0) || open.length === 0) return { usual: '', trouble: '' };
  const narrow = open.filter(({ room }) => room < quota);
  const isNever = narrow.length === open.length;
  const every = spanOf(
    open.map(({ seconds, room }) => seconds / Math.min(quota, room)),
    gapWords,
  );
  const troubles = [
    quota < wanted ? `The provider limit allows only ${quota} of ${wanted} a day.` : '',
    narrow.length > 0 ? narrowWords(narrow, isNever, quota, paceSeconds) : '',
  ];
  return {
    usual: isNever
      ? ''
      : `Spread over the sending window, ${quota} a day means one message about every ${every}, at uneven times.`,
    trouble: troubles.filter((words) => words !== '').join(' '),
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
  const hours = areAll ? 'The sending window' : `The window on ${days.map(({ name }) => name).join(', ')}`;
  return `${hours} has room for only ${rooms} of ${quota} a day at ${paceSeconds} seconds apart.`;
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
