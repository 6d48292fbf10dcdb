import { HOUR_MS } from '../time/clock';
import { chanceOfDifference, type Tally } from './compare-rates';

/** People whom every variant has to have reached at each look; after the last nothing is stopped any more. */
export const VARIANT_LOOKS = [50, 100, 200, 400, 800, 1600] as const;
/** How often, at most, the rule stops a variant that is as good as the others. */
export const VARIANT_RULE_ERROR = 0.05;
/** People count so long after their first message: most replies have come by then. */
export const VARIANT_SETTLED_MS = 72 * HOUR_MS;

/** One variant: how many it has reached, and how many of them have replied. */
export interface VariantTally extends Tally {
  /** 0-based. */
  variant: number;
}

/**
 * Whether it is time for another look.
 *
 * @param looked how many looks have been made
 * @returns how many have been made with it, or null for not yet. Looks that were missed are not made up for
 */
export function lookDue(looked: number, tallies: readonly VariantTally[]): number | null {
  if (tallies.length < 2) return null;
  const least = Math.min(...tallies.map((t) => t.of));
  const passed = VARIANT_LOOKS.filter((n) => n <= least).length;
  return passed > looked ? passed : null;
}

/** A variant that is stopped, and beside which. */
export interface StoppedVariant {
  loser: VariantTally;
  best: VariantTally;
  /** Probability that chance alone makes so large a difference between any two of them. */
  chance: number;
}

/**
 * Variants with clearly fewer replies than the best, at one look. Looks and pairs share the rule's error among them
 * (C. E. Bonferroni, 1936), so that all of them together stop a variant without cause no more often than
 * {@link VARIANT_RULE_ERROR}.
 */
export function clearLosers(tallies: readonly VariantTally[]): StoppedVariant[] {
  const [best, ...others] = [...tallies].sort((a, b) => b.count / b.of - a.count / a.of || b.of - a.of);
  if (!best) return [];
  const pairs = (tallies.length * (tallies.length - 1)) / 2;
  return others
    .map((loser) => ({ loser, best, chance: Math.min(1, pairs * chanceOfDifference(best, loser)) }))
    .filter(({ chance }) => chance < VARIANT_RULE_ERROR / VARIANT_LOOKS.length);
}

const letterOf = (variant: number): string => String.fromCharCode('A'.charCodeAt(0) + variant);
const LEAST_CHANCE = 0.0001;

/** What the rule has done, in a sentence. @param day of it, in words */
export function stoppedWords({ loser, best, chance }: StoppedVariant, day: string): string {
  const of = ({ count, of: n, variant }: VariantTally) =>
    `${count.toLocaleString('en')} of ${n.toLocaleString('en')} replied to ${letterOf(variant)}`;
  const p = chance < LEAST_CHANCE ? `< ${LEAST_CHANCE}` : String(Number(chance.toPrecision(2)));
  return `Variant ${letterOf(loser.variant)} was stopped on ${day}: ${of(loser)}, ${of(best)} (p ${p}).`;
}
