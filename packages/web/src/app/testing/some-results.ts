import type { CampaignResults } from '@baton/contract';
import { NO_RESULTS } from '@baton/core';

const DAY = 86_400_000;
const FIRST = Date.UTC(2026, 10, 9, 9);

/** What became of a campaign that is in its follow-ups. */
export const aCampaignsResults = (over: Partial<CampaignResults> = {}): CampaignResults => ({
  ...{ id: 2, name: 'Garden centres, autumn', state: 'running', firstSentAt: FIRST },
  counts: {
    ...NO_RESULTS,
    ...{ written: 184, bounced: 8, unsubscribed: 2, opened: 70, clicked: 30, byPrograms: 5 },
    ...{ replied: 25, interested: 11, meetings: 4 },
  },
  ...{ refused: 0, hasSegments: false },
  ...{ countsOpens: true, countsClicks: true, countsPlaces: false, silent: 149, toCome: 105 },
  steps: [
    {
      ...{
        place: 0,
        name: 'A feed your customers ask for',
        sent: 184,
        replied: 16,
        repliedAt: Array<number>(16).fill(FIRST + DAY),
      },
      ...{ firstSentAt: FIRST, lastSentAt: FIRST + 3 * DAY },
      days: [0, 1, 2, 3].map((d) => ({ from: FIRST + d * DAY, to: FIRST + d * DAY + DAY / 4, sent: 46 })),
    },
    {
      ...{
        place: 1,
        name: 'A short reminder',
        sent: 140,
        replied: 9,
        repliedAt: Array<number>(9).fill(FIRST + 5 * DAY),
      },
      ...{ firstSentAt: FIRST + 4 * DAY, lastSentAt: FIRST + 7 * DAY },
      days: [4, 7].map((d) => ({ from: FIRST + d * DAY, to: FIRST + d * DAY + DAY / 4, sent: 70 })),
    },
  ],
  silence: [
    { from: 0, share: 1 },
    { from: 30, share: 0.86 },
  ],
  expected: 2.6,
  past: { ...NO_RESULTS, written: 300, replied: 30 },
  fields: [{ key: 'region', name: 'Region' }],
  ...over,
});
