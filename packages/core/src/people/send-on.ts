import { MINUTE_MS } from '../time/clock';
import { dayNumber } from '../time/days';
import type { Zone } from '../time/zone';

/** The day on which somebody is first written to, and the minute if one was given, on the clock of a zone. */
export interface SendOn {
  /** Day number. */
  day: number;
  /** Minutes since midnight; null for any. */
  minute: number | null;
}

/** A day, a time on whatever clock is meant, and an offset from UTC where one was given. */
const FORM = /^(\d{4}-\d\d-\d\d)(?:T(\d\d):(\d\d)(Z|[+-]\d\d:\d\d)?)?$/;

/** Whether a text is a day on which to send, as lists keep it: `2026-11-30`, `2026-11-30T09:30`, or that with an offset. */
export const isSendOn = (text: string): boolean => FORM.test(text);

/**
 * Reads what a list keeps of the day on which to send.
 *
 * @param sendOn see {@link isSendOn}
 * @param zone whose clock the time is on where it has no offset of its own, and that of the answer
 */
export function readSendOn(sendOn: string, zone: Zone): SendOn {
  const [, date = sendOn, hour, minute, offset] = FORM.exec(sendOn) ?? [];
  const day = dayNumber(date);
  if (hour === undefined) return { day, minute: null };
  if (offset === undefined) return { day, minute: Number(hour) * 60 + Number(minute) };
  return zone.toLocal(Math.floor(Date.parse(`${date}T${hour}:${minute}:00${offset}`) / MINUTE_MS) * MINUTE_MS);
}
