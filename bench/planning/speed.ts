import { planSends, seededRandom, type PlanInput, type Tier } from '@baton/core';
import { best, bestInTurn, print } from '../row';
import { threeMessages, WORKSPACES } from './workspaces';

const MORE_MS: Record<Tier, number> = { quick: 20, full: 1000 };
const GOALS: Record<Tier, number> = { quick: 6, full: 60 };
const TIERS = ['quick', 'full'] as const;

/** Planning to the instant against sorting as many random doubles as there are messages. */
export function planning(): void {
  for (const people of [10_000, 100_000, 1_000_000]) {
    const input = threeMessages(people);
    const doubles = randomDoubles(people * 3);
    const sorting = best(7, () => void doubles.slice().sort());
    for (const tier of TIERS) {
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
  for (const { name, make } of WORKSPACES) for (const tier of TIERS) allowance(name, make(), tier);
}

/** Small workspaces are sorted in no time: what they take is compared with all that they may take. */
function allowance(name: string, input: PlanInput, tier: Tier): void {
  const doubles = randomDoubles(planSends(input, tier).columns.instant.length);
  const sort = () => void doubles.slice().sort();
  const [planned, sorting] = bestInTurn(25, () => void planSends(input, tier), sort);
  print({
    name: `plan ${name}, ${tier}`,
    ratio: planned / (GOALS[tier] * sorting + MORE_MS[tier]),
    goal: 1,
    unit: `times ${GOALS[tier]} sorts and ${MORE_MS[tier]} ms together`,
    milliseconds: Math.round(planned),
  });
}

function randomDoubles(count: number): Float64Array {
  const random = seededRandom(3);
  return Float64Array.from({ length: count }, random);
}
