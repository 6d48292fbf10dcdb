import { planSends } from '@baton/core';
import { print } from '../row';
import { measure } from './metrics';
import { optimum } from './optimum';
import { WORKSPACES } from './workspaces';

const GOALS = { quick: { mean: 1.03, last: 1.05 }, full: { mean: 1.015, last: 1.04 } };
const TIERS = ['quick', 'full'] as const;

/** How near plans come to the optimum of the day-level program, on each workspace of docs/planning.md. */
export async function quality(): Promise<void> {
  for (const { name, make } of WORKSPACES) {
    const input = make();
    const best = await optimum(input);
    for (const tier of TIERS) {
      const found = measure(input, planSends(input, tier));
      const rest = { late: found.late, lateOfOptimum: best.late, notPlaced: found.notPlaced, fairness: found.fairness };
      print({
        name: `mean start, ${name}, ${tier}`,
        ratio: found.meanStart / best.meanStart,
        goal: GOALS[tier].mean,
        unit: 'times the optimum',
        ...rest,
        gapVariation: found.gapVariation,
      });
      print({
        name: `last start, ${name}, ${tier}`,
        ratio: found.lastStart / best.lastStart,
        goal: Math.max(GOALS[tier].last, 1 + 2 / best.lastStart),
        unit: 'times the optimum (or two working days)',
        lastStart: found.lastStart,
        lastOfOptimum: best.lastStart,
      });
    }
  }
}
