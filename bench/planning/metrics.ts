import { workingCalendar, type Plan, type PlanInput } from '@baton/core';

/** How good a plan is; the metrics of docs/planning.md. */
export interface Metrics {
  meanStart: number;
  lastStart: number;
  late: number;
  notPlaced: number;
  /** Smaller over larger of units started per weight, for the worst pair of campaigns that compete; 1 without any. */
  fairness: number;
  /** Mean coefficient of variation of the gaps of days with five messages or more. */
  gapVariation: number;
}

export function measure(input: PlanInput, plan: Plan): Metrics {
  const first = Math.floor(input.now / 86_400_000);
  const calendar = workingCalendar(input.calendar.weekdays, input.calendar.holidays);
  const index = new Map<number, number>();
  const workday = (day: number) => {
    let w = index.get(day);
    if (w === undefined) index.set(day, (w = Math.max(0, calendar.between(first - 1, day) - 1)));
    return w;
  };
  let [weight, sum, lastStart] = [0, 0, 0];
  const r = input.recipients;
  for (const d of plan.deliveries) {
    if (d.step !== 0) continue;
    const w = r.units[d.recipient]! * input.campaigns[r.campaign[d.recipient]!]!.steps.length;
    weight += w;
    sum += w * workday(d.day);
    lastStart = Math.max(lastStart, workday(d.day));
  }
  return {
    meanStart: weight === 0 ? 0 : sum / weight,
    lastStart,
    late: plan.campaigns.reduce((n, c) => n + c.late, 0),
    notPlaced: plan.notPlaced.length,
    fairness: fairnessOf(input, plan),
    gapVariation: gapVariationOf(plan),
  };
}

function fairnessOf(input: PlanInput, plan: Plan): number {
  const r = input.recipients;
  const starts = plan.deliveries.filter((d) => d.step === 0);
  let worst = 1;
  input.campaigns.forEach((a, i) =>
    input.campaigns.slice(i + 1).forEach((b, rest) => {
      const j = i + 1 + rest;
      if (!a.mailboxes.some((m) => b.mailboxes.includes(m))) return;
      const days = (c: number) => starts.filter((d) => r.campaign[d.recipient] === c).map((d) => d.day);
      const [own, other] = [days(i), days(j)];
      if (own.length === 0 || other.length === 0) return;
      const least = (list: number[]) => list.reduce((x, y) => Math.min(x, y), Infinity);
      const most = (list: number[]) => list.reduce((x, y) => Math.max(x, y), -Infinity);
      const from = Math.max(least(own), least(other));
      const until = Math.min(most(own), most(other));
      const begun = (c: number, w: number) =>
        starts
          .filter((d) => r.campaign[d.recipient] === c && d.day >= from && d.day <= until)
          .reduce((n, d) => n + r.units[d.recipient]!, 0) / w;
      const [x, y] = [begun(i, a.weight), begun(j, b.weight)];
      worst = Math.min(worst, Math.min(x, y) / Math.max(x, y));
    }),
  );
  return worst;
}

function gapVariationOf(plan: Plan): number {
  const days = new Map<string, number[]>();
  for (const d of plan.deliveries) {
    const key = `${d.mailbox}/${d.day}`;
    const own = days.get(key);
    if (own) own.push(d.instant);
    else days.set(key, [d.instant]);
  }
  const all = [...days.values()].filter((t) => t.length >= 5).map(variation);
  return all.length === 0 ? 0 : all.reduce((a, b) => a + b, 0) / all.length;
}

function variation(instants: number[]): number {
  const sorted = [...instants].sort((a, b) => a - b);
  const gaps = sorted.slice(1).map((t, k) => t - sorted[k]!);
  const mean = gaps.reduce((a, b) => a + b, 0) / gaps.length;
  return Math.sqrt(gaps.reduce((a, g) => a + (g - mean) ** 2, 0) / gaps.length) / mean;
}
