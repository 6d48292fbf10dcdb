import type { Placements } from './placements';
import type { CampaignForecast } from './plan-input';

/** First and last days of each campaign, and how many follow-ups are late. */
export function forecastOf({ book, days, day, mailbox, width, campaigns }: Placements): CampaignForecast[] {
  const { people } = book;
  const out = campaigns.map((): CampaignForecast => ({ firstDay: null, lastStartDay: null, lastDay: null, late: 0 }));
  for (let p = 0; p < people.count; p++) {
    if (mailbox[p]! < 0) continue;
    const forecast = out[people.campaign[p]!]!;
    const { steps } = campaigns[people.campaign[p]!]!;
    const next = people.nextStep[p]!;
    for (let s = next; s < steps.length; s++) {
      const i = day[p * width + s]!;
      const number = days.base + i;
      forecast.firstDay = Math.min(forecast.firstDay ?? number, number);
      forecast.lastDay = Math.max(forecast.lastDay ?? number, number);
      if (s === 0) {
        forecast.lastStartDay = Math.max(forecast.lastStartDay ?? number, number);
        continue;
      }
      const due = s === next ? people.dueWorkday[p]! : days.workday[day[p * width + s - 1]!]! + steps[s]!.delay;
      if (days.workday[i]! - due > steps[s]!.tolerance) forecast.late++;
    }
  }
  return out;
}
