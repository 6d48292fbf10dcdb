import type { MinuteSpan, WeekWindows } from '@baton/core';
import { clockWords, minuteOf } from '@baton/core';
import { mailboxesTexts } from './texts';

const texts = mailboxesTexts.windowWords;

/** `9:00–12:00, 13:00–16:30`; '' when closed. */
export function spansWords(spans: readonly MinuteSpan[]): string {
  return spans.map(([from, to]) => `${clockWords(from)}–${clockWords(to)}`).join(', ');
}

/** Reads {@link spansWords}, with any dash, in any order. @returns null for what is not a list of hours */
export function readSpans(text: string): MinuteSpan[] | null {
  if (text.trim() === '' || text.trim() === '-') return [];
  const spans: MinuteSpan[] = [];
  for (const part of text.split(/[,;]/)) {
    const m = /^\s*(\d{1,2}(?::\d{2})?)\s*(?:-|–|—|to)\s*(\d{1,2}(?::\d{2})?)\s*$/.exec(part);
    const [from, to] = [minuteOf(withMinutes(m?.[1])), minuteOf(withMinutes(m?.[2]))];
    if (from === null || to === null || from >= to) return null;
    spans.push([from, to]);
  }
  spans.sort((a, b) => a[0] - b[0]);
  return spans.some((s, i) => i > 0 && s[0] < (spans[i - 1] as MinuteSpan)[1]) ? null : spans;
}

const withMinutes = (time = '') => (time.includes(':') ? time : `${time}:00`);

/** What is wrong with seven texts of hours, in a sentence, or the week that they are. */
export function readWeek(typed: readonly string[], names: readonly string[]): WeekWindows | string {
  const week: WeekWindows = [];
  for (const [i, text] of typed.entries()) {
    const spans = readSpans(text);
    if (spans === null) return texts.isNotASendingWindow(names[i], text);
    week.push(spans);
  }
  return week.every((spans) => spans.length === 0) ? texts.enterASendingWindowFor : week;
}
