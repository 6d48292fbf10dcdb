import type { Placements } from './placements/placements';
import type { CampaignForecast } from './workspace/plan-input';

/** First and last days of each campaign, and how many follow-ups are late. */
export function forecastOf(placements: Placements): CampaignForecast[] {
  const { days, campaigns } = placements;
  const { first, lastStart, last, late } = countDays(placements);
  const numberOf = (i: number) => (i < 0 || i === days.count ? null : days.base + i);
  return campaigns.map((_, c) => ({
    firstDay: numberOf(first[c]!),
    lastStartDay: numberOf(lastStart[c]!),
    lastDay: numberOf(last[c]!),
    late: late[c]!,
  }));
}

/** By campaign, as indices of days. */
function countDays({ book, days, day, mailbox, width, campaigns }: Placements) {
  const { count, campaign, nextStep, dueWorkday } = book.people;
  const { workday } = days;
  const late = new Int32Array(campaigns.length);
  // A person's days increase from step to step.
  const first = new Int32Array(campaigns.length).fill(days.count);
  const last = new Int32Array(campaigns.length).fill(-1);
  const lastStart = new Int32Array(campaigns.length).fill(-1);
  for (let p = 0; p < count; p++) {
    if (mailbox[p]! < 0) continue;
    const c = campaign[p]!;
    const { steps } = campaigns[c]!;
    const next = nextStep[p]!;
    const at = p * width;
    if (next === 0) lastStart[c] = Math.max(lastStart[c]!, day[at]!);
    for (let s = next; s < steps.length; s++) {
      const on = day[at + s]!;
      // What would leave after the campaign's end, or its own, has no day.
      if (on < 0) continue;
      first[c] = Math.min(first[c]!, on);
      last[c] = Math.max(last[c]!, on);
      const before = s === 0 ? -1 : day[at + s - 1]!;
      if (s === 0 || (s > next && before < 0)) continue;
      const due = s === next ? dueWorkday[p]! : workday[before]! + steps[s]!.delay;
      if (workday[on]! - due > steps[s]!.tolerance) late[c]!++;
    }
  }
  return { first, lastStart, last, late };
}
