import { MINUTES_A_DAY, MINUTE_MS } from '../time/clock';
import { clockWords } from '../time/clock-words';
import { dayNumber } from '../time/days';
import { dayWords, type DateForm } from '../time/day-words';
import type { Zone } from '../time/zone';

/** From when to when a campaign sends, on the workspace's clock. */
export interface CampaignHours {
  /** ISO date. */
  startDate: string;
  /** Minutes since midnight; null for the whole day. */
  startMinute: number | null;
  /** ISO date of the last day on which it sends; null for no end. */
  endDate: string | null;
  /** Minutes since midnight of that day, from which on nothing leaves; null for the whole day. */
  endMinute: number | null;
}

/** The instant before which no first message leaves; null where mailboxes begin with their own day. */
export const startInstant = ({ startDate, startMinute }: CampaignHours, zone: Zone): number | null =>
  startMinute === null ? null : zone.toInstant(dayNumber(startDate), startMinute);

/** So long after its start nothing of a campaign leaves, and the start can be undone. */
export const UNDO_START_MS = 2 * MINUTE_MS;

/**
 * The same of a campaign that has just been started, or that would be now.
 *
 * @param startedAt instant; null where it has not been started
 */
export function firstInstant(
  hours: CampaignHours & { startedAt: number | null },
  zone: Zone,
  nowMs: number,
): number | null {
  const begins = startInstant(hours, zone);
  const free = (hours.startedAt ?? nowMs) + UNDO_START_MS;
  return free <= nowMs ? begins : Math.max(free, begins ?? -Infinity);
}

/** The instant from which on nothing leaves any more; null for never. */
export const endInstant = (
  { endDate, endMinute }: Pick<CampaignHours, 'endDate' | 'endMinute'>,
  zone: Zone,
): number | null => (endDate === null ? null : zone.toInstant(dayNumber(endDate), endMinute ?? MINUTES_A_DAY));

/** Why a campaign with these hours could send nothing, in words without a stop; null where it can. */
export function whyNoHours(hours: CampaignHours, zone: Zone, nowMs: number): string | null {
  const end = endInstant(hours, zone);
  if (end === null || hours.endDate === null) return null;
  if (end <= nowMs) return 'Its last day has passed';
  const begins = startInstant(hours, zone) ?? -Infinity;
  return hours.endDate < hours.startDate || begins >= end ? 'It would end before it starts' : null;
}

/** A day with its time, if it has one, in words. */
export const momentWords = (date: string, minute: number | null, form: DateForm): string =>
  `${dayWords(date, 'long', form)}${minute === null ? '' : ` at ${clockWords(minute)}`}`;
