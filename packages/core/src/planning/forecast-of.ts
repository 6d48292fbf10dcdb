import type { Placements } from './placements';
import type { CampaignForecast } from './plan-input';

/** First and last days of each campaign, and how many follow-ups are late. */
export function forecastOf({ book, days, day, mailbox, width, campaigns }: Placements): CampaignForecast[] {
  const { count, campaign, nextStep, dueWorkday } = book.people;
  const { workday } = days;
  const late = new Int32Array(campaigns.length);
  // Day indices; a person's days rise from step to step.
  const first = new Int32Array(campaigns.length).fill(days.count);
  const last = new Int32Array(campaigns.length).fill(-1);
  const lastStart = new Int32Array(campaigns.length).fill(-1);
  for (let p = 0; p < count; p++) {
    if (mailbox[p]! < 0) continue;
    const c = campaign[p]!;
    const { steps } = campaigns[c]!;
    const next = nextStep[p]!;
    const at = p * width;
    first[c] = Math.min(first[c]!, day[at + next]!);
    last[c] = Math.max(last[c]!, day[at + steps.length - 1]!);
    if (next === 0) lastStart[c] = Math.max(lastStart[c]!, day[at]!);
    for (let s = Math.max(1, next); s < steps.length; s++) {
      const due = s === next ? dueWorkday[p]! : workday[day[at + s - 1]!]! + steps[s]!.delay;
      if (workday[day[at + s]!]! - due > steps[s]!.tolerance) late[c]!++;
    }
  }
  const numberOf = (i: number) => (i < 0 || i === days.count ? null : days.base + i);
  return campaigns.map((_, c) => ({
    firstDay: numberOf(first[c]!),
    lastStartDay: numberOf(lastStart[c]!),
    lastDay: numberOf(last[c]!),
    late: late[c]!,
  }));
}
