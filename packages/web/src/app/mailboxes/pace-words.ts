import type { WeekWindows } from '@baton/core';
import { mailboxesTexts } from './texts';

const texts = mailboxesTexts.paceWords;

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
  if (quota === 0) return { usual: '', trouble: texts.withAQuotaOf0 };
  if (!(quota > 0) || open.length === 0) return { usual: '', trouble: '' };
  const narrow = open.filter(({ room }) => room < quota);
  const isNever = narrow.length === open.length;
  const every = spanOf(
    open.map(({ seconds, room }) => seconds / Math.min(quota, room)),
    gapWords,
  );
  const troubles = [
    quota < wanted ? texts.theProviderLimitAllowsOnly(quota, wanted) : '',
    narrow.length > 0 ? narrowWords(narrow, isNever, quota, paceSeconds) : '',
  ];
  return {
    usual: isNever ? '' : texts.spreadOverTheSendingWindow(quota, every),
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
  const hours = areAll ? texts.theSendingWindow : texts.theWindowOn(days.map(({ name }) => name).join(', '));
  return texts.hasRoomForOnlyOf(hours, rooms, quota, paceSeconds);
}

function gapWords(seconds: number): string {
  if (seconds < 90) return texts.seconds(Math.round(seconds));
  return seconds < 5400 ? texts.minutes(Math.round(seconds / 60)) : texts.hours(Math.round(seconds / 360) / 10);
}

/** `8 to 12 minutes`, or one of them where they read alike. */
function spanOf(values: readonly number[], words: (value: number) => string): string {
  const [least, most] = [words(Math.min(...values)), words(Math.max(...values))];
  return least === most ? most : texts.to(least.replace(most.replace(/^\S+/, ''), ''), most);
}
