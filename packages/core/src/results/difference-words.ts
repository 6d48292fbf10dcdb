import { chanceOfDifference, holm, neededOfEach, rateDifference, type Tally } from './compare-rates';

/** One of those that are compared. */
export interface Compared extends Tally {
  name: string;
}

/** What may be said of the difference between the best and another: `tells` it is none by chance, `open` it may be. */
export interface Difference {
  other: string;
  tells: boolean;
  /** Probability that chance alone makes so large a difference, for as many comparisons as are made. */
  chance: number;
  /** How many more of each would tell; null where it tells already, or no number would. */
  more: number | null;
}

/** With more than so many times as many people, a difference that small is not worth finding out. */
const MOST_TIMES = 10;
/** Above this, a difference may be chance. */
const CHANCE = 0.05;
/** More people than this nobody writes to only to find out. */
const MOST_MORE = 1_000_000;

/**
 * The one of several with the highest share, and what may be said of its difference to each of the others.
 *
 * @param all with at least one trial each count; the others are passed over
 * @returns null with fewer than two
 */
export function compareWithBest(all: readonly Compared[]): { best: Compared; differences: Difference[] } | null {
  const some = all.filter((c) => c.of > 0);
  const [best, ...others] = [...some].sort((a, b) => b.count / b.of - a.count / a.of || b.of - a.of);
  if (!best || others.length === 0) return null;
  const chances = holm(others.map((o) => chanceOfDifference(best, o)));
  const differences = others.map((o, i): Difference => {
    const chance = chances[i] as number;
    const tells = chance < CHANCE && rateDifference(best, o).low > 0;
    const needed = neededOfEach(best.count / best.of, o.count / o.of);
    const more = tells || needed > MOST_MORE ? null : Math.max(1, needed - Math.min(best.of, o.of));
    return { other: o.name, tells, chance, more };
  });
  return { best, differences };
}

const counted = (n: number) => n.toLocaleString('en');

/**
 * In a sentence, how much may be believed of a comparison.
 *
 * @param did what is compared, as `got more replies`
 */
export function differenceWords(all: readonly Compared[], did: string): string | null {
  const compared = compareWithBest(all);
  if (compared === null) return null;
  const { best, differences } = compared;
  if (best.count === 0) return null;
  const told = differences.filter((d) => d.tells).map((d) => d.other);
  if (told.length === differences.length)
    return `${best.name} ${did} than ${told.length === 1 ? told[0] : 'each of the others'}, by more than chance.`;
  const [nearest] = differences.filter((d) => !d.tells).sort((a, b) => a.chance - b.chance);
  if (!nearest) return null;
  const other = all.find((c) => c.name === nearest.other) as Compared;
  if (other.count / other.of === best.count / best.of) return `${best.name} and ${other.name} did alike so far.`;
  const least = Math.min(best.of, other.of);
  if (nearest.more === null || nearest.more > MOST_TIMES * least)
    return `${best.name} ${did} than ${other.name}, but too little to tell it from chance.`;
  const so = best.of === other.of ? `${counted(best.of)} each` : `${counted(best.of)} and ${counted(other.of)} people`;
  return `${best.name} ${did} than ${other.name}; with ${so} this may still be chance: ${counted(nearest.more)} more each would tell.`;
}
