import type { WorkingCalendar } from '../time/working-calendar';

/** A campaign that writes to some people first, and to the others later. */
export interface FirstGroup {
  /** How many come first; null where all may begin at once. */
  firstGroup: number | null;
  /** Working days after the last of them before the others begin. */
  groupWait: number;
  /** Whether the others wait until a person lets them go. */
  groupByHand: boolean;
}

/** How far the first group is. */
export interface GroupProgress {
  /** How many of it still wait for their first message. */
  waiting: number;
  /** Local day number of the last first message to it; null before any. */
  lastDay: number | null;
}

/** When the others may begin: at once, from a local day number on, or only when a person says so. */
export type OthersBegin = 'at_once' | 'by_hand' | number;

/**
 * @param today local day number; the group itself begins on it at the earliest
 * @param startDay the campaign's first day
 */
export function othersBegin(
  { firstGroup, groupWait, groupByHand }: FirstGroup,
  { waiting, lastDay }: GroupProgress,
  days: { today: number; startDay: number },
  calendar: WorkingCalendar,
): OthersBegin {
  if (firstGroup === null) return 'at_once';
  if (groupByHand) return 'by_hand';
  // As long as some of it wait, it is not over before today.
  const last = waiting > 0 ? Math.max(days.today, days.startDay, lastDay ?? 0) : lastDay;
  return last === null ? 'at_once' : calendar.add(last, groupWait);
}
