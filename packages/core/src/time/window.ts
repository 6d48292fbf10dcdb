import { isoWeekday } from './days';
import type { Zone } from './zone';

/** Half-open [from, to) in minutes of a local day, 0 to 1440, never across midnight. */
export type MinuteSpan = [from: number, to: number];

/** Seven lists of spans, Monday first, in local wall-clock minutes. An empty list: closed that day. */
export type WeekWindows = MinuteSpan[][];

/** Half-open [startMs, endMs), epoch ms UTC. */
export interface Span {
  startMs: number;
  endMs: number;
}

/** Weekdays Monday to Friday share one span; Saturday and Sunday are closed. */
export function weekdayWindows(from: number, to: number): WeekWindows {
  return Array.from({ length: 7 }, (_, i) => (i < 5 ? [[from, to] as MinuteSpan] : []));
}

/** The open spans of one local day as instants, in order; empty when closed. */
export function spansOfDay(windows: WeekWindows, day: number, zone: Zone): Span[] {
  const spans = windows[isoWeekday(day) - 1] ?? [];
  return spans
    .map(([from, to]) => ({ startMs: zone.toInstant(day, from), endMs: zone.toInstant(day, to) }))
    .filter((s) => s.endMs > s.startMs);
}

/** Where two ordered lists of spans overlap, in order. */
export function intersectSpans(a: readonly Span[], b: readonly Span[]): Span[] {
  const out: Span[] = [];
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    const x = a[i] as Span;
    const y = b[j] as Span;
    const startMs = Math.max(x.startMs, y.startMs);
    const endMs = Math.min(x.endMs, y.endMs);
    if (endMs > startMs) out.push({ startMs, endMs });
    if (x.endMs < y.endMs) i++;
    else j++;
  }
  return out;
}

/** What of some ordered spans lies in [fromMs, toMs). */
export function cropSpans(spans: readonly Span[], fromMs: number, toMs = Infinity): readonly Span[] {
  if (spans.every((s) => s.startMs >= fromMs && s.endMs <= toMs)) return spans;
  return intersectSpans(spans, [{ startMs: fromMs, endMs: toMs }]);
}

/** The first instant from `atMs` on in ordered spans; null after the last. */
export function nextOpen(spans: readonly Span[], atMs: number): number | null {
  for (const s of spans) if (atMs < s.endMs) return Math.max(atMs, s.startMs);
  return null;
}

/** Whether an instant lies in one of the spans. */
export function isInside(spans: readonly Span[], instantMs: number): boolean {
  return spans.some((s) => instantMs >= s.startMs && instantMs < s.endMs);
}
