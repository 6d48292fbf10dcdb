import { planSends, type Tier } from '@baton/core';
import { seededRandom } from '@baton/core';
import { best, print } from '../row';
import { threeMessages } from './workspaces';

const MORE_MS: Record<Tier, number> = { quick: 20, full: 1000 };
const GOALS: Record<Tier, number> = { quick: 6, full: 60 };

/** Planning to the instant against sorting as many random doubles as there are messages. */
export function planning(): void {
  for (const people of [10_000, 100_000, 1_000_000]) {
    const input = threeMessages(people);
    const random = seededRandom(3);
    const doubles = Float64Array.from({ length: people * 3 }, random);
    const sorting = best(7, () => void doubles.slice().sort());
    for (const tier of ['quick', 'full'] as const) {
      let messages = 0;
      const planned = best(people > 500_000 ? 2 : 12, () => {
        messages = planSends(input, tier).columns.instant.length;
      });
      print({
        name: `plan ${people.toLocaleString('en')} people by 3 messages by 20 mailboxes to the instant, ${tier}`,
        ratio: Math.max(0, planned - MORE_MS[tier]) / sorting,
        goal: GOALS[tier],
        unit: `times sorting as many random doubles, beside ${MORE_MS[tier]} ms`,
        milliseconds: Math.round(planned),
        sorting: Number(sorting.toFixed(1)),
        messages,
      });
    }
  }
}
