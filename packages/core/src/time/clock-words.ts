/** A minute of the day as a time: 540 as `9:00`. */
export function clockWords(minute: number): string {
  return `${Math.floor(minute / 60)}:${String(minute % 60).padStart(2, '0')}`;
}

/** `9:00` as 540, or null for what is not a time of day. */
export function minuteOf(words: string): number | null {
  const m = /^(\d{1,2}):(\d{2})$/.exec(words);
  const minute = m ? Number(m[1]) * 60 + Number(m[2]) : NaN;
  return minute >= 0 && minute <= 1440 ? minute : null;
}
