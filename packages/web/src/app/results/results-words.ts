import type { CampaignResults, ResultGroup, ResultGroups, ResultsBy, ResultsOverview } from '@baton/contract';
import {
  baseOf,
  compareWithBest,
  differenceWords,
  RATES,
  rateOf,
  rateRange,
  reachedOf,
  type RateName,
  type RateRange,
  type ResultCounts,
} from '@baton/core';
import type { FigureTable } from '../look/charts/figures';
import { countryName, formatNumber, weekdays } from '../look/language';
import { resultsTexts } from './texts';

const texts = resultsTexts.words;

/** A share in percent: with one place below ten, so that small ones can be told apart. */
export function percentOf(share: number): string {
  const percent = share * 100;
  return percent > 0 && percent < 10 ? String(Number(percent.toFixed(1))) : formatNumber(Math.round(percent));
}

/** What a campaign's page begins with: what happened, what may be said of it, and what is still open. */
export interface Headline {
  lead: string;
  rest: string;
  /** What may still be chance; '' for nothing. */
  doubt: string;
}

/** A campaign's results in sentences. @param variants its people by variant; none where everybody got the same */
export function headlineOf(results: CampaignResults, variants: readonly ResultGroup[]): Headline {
  const { counts, steps, expected, silent, toCome } = results;
  const reached = reachedOf(counts);
  if (reached === 0) return { lead: texts.nobodyReached, rest: '', doubt: '' };
  const { rate, low, high } = rateRange(counts.replied, reached);
  const brought = steps
    .filter((s) => s.replied > 0)
    .map((s) => (s.place === 0 ? texts.firstBrought(s.replied) : texts.followUpBrought(s.place, s.replied)));
  const more = expected === null ? 0 : Math.round(expected);
  return {
    lead: texts.replied(counts.replied, reached),
    rest: [
      texts.range(percentOf(rate), percentOf(low), percentOf(high)),
      counts.interested > 0 ? texts.outcomes(counts.interested, counts.meetings) : '',
      '.',
      brought.length > 1 ? texts.broughtBy(brought) : '',
      texts.toCome(toCome, silent),
      more > 0 ? texts.expected(more) : '',
    ].join(''),
    doubt:
      variants.length > 1 ? (differenceWords(comparedOf(variants, 'replied'), resultsTexts.did.replied) ?? '') : '',
  };
}

/** How many bounced for which reason; without a number where all did for the same. */
function bounceKinds({ bounced, unreachable, blocked }: ResultCounts): string[] {
  const { bounces } = texts;
  const kinds = [
    { n: bounced - unreachable - blocked, words: bounces.unknown },
    { n: unreachable, words: bounces.unreachable },
    { n: blocked, words: bounces.blocked },
  ].filter(({ n }) => n > 0);
  return kinds.map(({ n, words }) => (kinds.length === 1 ? words : texts.ofKind(n, words)));
}

/** Why people were not reached, and who wants no more; '' where there is nobody. */
export function lostWords(counts: ResultCounts): string {
  const { bounced, unsubscribed, complained } = counts;
  return [
    ...(bounced > 0 ? [texts.bounced(bounced, bounceKinds(counts))] : []),
    ...(unsubscribed > 0 ? [texts.left(unsubscribed)] : []),
    ...(complained > 0 ? [texts.complained(complained)] : []),
  ].join(' ');
}

const comparedOf = (groups: readonly Pick<ResultGroup, 'name' | 'counts'>[], rate: RateName) =>
  groups.map(({ name, counts }) => ({ name, count: counts[rate], of: baseOf(rate, counts) }));

/** One line of a comparison. */
export interface RateLine {
  key: string;
  name: string;
  counts: ResultCounts;
  range: RateRange;
  share: string;
  /** What may be said of it beside the best. */
  soFar: string;
  /** Of bounces, how many of which kind; '' of anything else. */
  kinds: string;
  /** Whether its difference to the best may be chance. */
  mayBeChance: boolean;
}

/** A line of a comparison, or one that those are seen beside, such as one's own past. */
export interface ComparedLine extends RateLine {
  /** Where more about it stands; absent for nowhere. */
  link?: string;
  /** What stands in the second column, where there is one. */
  second?: string;
  /** The same in a file, where it is written otherwise. */
  secondInFile?: string;
  /** Whether it is what was before or all together, and not one of those that are compared. */
  isPast?: boolean;
}

/** Lines on one scale, each with what may be said of it beside the best one. */
export function rateLines(groups: readonly (ResultGroup & { isUnderWay?: boolean })[], rate: RateName): RateLine[] {
  // What is not over yet has not had its replies; it is not held against it.
  const ended = groups.filter((g) => !g.isUnderWay);
  // Names may be the same; keys are not.
  const compared = compareWithBest(
    ended.map((g) => ({ name: g.key, count: g.counts[rate], of: baseOf(rate, g.counts) })),
  );
  const isSome = (compared?.best.count ?? 0) > 0;
  const bestRate = compared ? compared.best.count / compared.best.of : 0;
  return groups.map(({ key, name, counts, isUnderWay = false }) => {
    const range = rateOf(rate, counts);
    const difference = isSome ? compared?.differences.find((d) => d.other === key) : undefined;
    const isBest = isSome && compared?.best.name === key;
    const isAsMany = difference !== undefined && range.rate === bestRate;
    const chance = difference === undefined ? '' : chanceWords(difference.chance);
    return {
      ...{ key, name, counts, range },
      share: texts.shareOf(range.count, percentOf(range.rate)),
      kinds: rate === 'bounced' ? bounceKinds(counts).join(', ') : '',
      soFar: isUnderWay
        ? texts.underWay
        : isBest
          ? texts.best
          : difference === undefined
            ? ''
            : difference.tells
              ? texts.notByChance(chance)
              : isAsMany
                ? texts.asMany
                : texts.mayBeChance(chance),
      mayBeChance: difference !== undefined && !difference.tells && !isAsMany,
    };
  });
}

/** A line that others are seen beside: what was before, or all together. */
export const pastLine = (key: string, name: string, counts: ResultCounts, rate: RateName): ComparedLine => {
  const range = rateOf(rate, counts);
  return {
    ...{ key, name, counts, range, soFar: '', kinds: '', mayBeChance: false, isPast: true },
    share: range.of === 0 ? '' : texts.shareOf(range.count, percentOf(range.rate)),
  };
};

/** Everything that is counted of a campaign's people, each with its share and range; what it does not count is left out. */
export function figuresOf({ counts, countsOpens, countsClicks }: CampaignResults): FigureTable {
  const { columns, reached } = resultsTexts.comparison;
  const isCounted = (rate: RateName) => (rate !== 'opened' || countsOpens) && (rate !== 'clicked' || countsClicks);
  const row = (name: string, { count, of, rate, low, high }: RateRange) => [
    ...[name, count, of, ...(of === 0 ? [null, null, null] : [rate, low, high].map(percentOf))],
  ];
  const ofWritten = (name: string, count: number) => row(name, rateRange(count, counts.written));
  return {
    heads: Object.values(resultsTexts.figures),
    rows: [
      ofWritten(reached, reachedOf(counts)),
      ...RATES.filter(isCounted).map((rate) => row(columns[rate], rateOf(rate, counts))),
      ofWritten(columns.unreachable, counts.unreachable),
      ofWritten(columns.blocked, counts.blocked),
    ],
  };
}

const LEAST_CHANCE = 0.001;
const chanceWords = (p: number): string =>
  p < LEAST_CHANCE ? `< ${LEAST_CHANCE}` : String(Number(p.toFixed(p < 0.01 ? 3 : 2)));

/** The range alone, where there is no room to draw it. */
export const rangeWords = ({ of, low, high }: RateRange): string =>
  of === 0 ? '' : texts.rangeAlone(percentOf(low), percentOf(high));

/** A share for a screen reader. */
export const spokenRange = ({ rate, low, high }: RateRange): string =>
  texts.rangeSpoken(percentOf(rate), percentOf(low), percentOf(high));

/** Groups with the names that they have on screen; the smallest together come last. */
export function namedGroups({ groups, others }: ResultGroups, by: ResultsBy): ResultGroup[] {
  const days = weekdays('long');
  const nameOf = ({ key, name }: ResultGroup): string => {
    if (key === '') return by === 'country' ? texts.noPlace : texts.noValue;
    if (by === 'country') return countryName(key);
    if (by === 'weekday') return days[Number(key) - 1] ?? key;
    if (by === 'weekday_hour') return texts.weekdayHour(days[Number(key[0]) - 1] ?? key, Number(key.slice(2)));
    return by === 'hour' ? texts.hour(Number(key)) : name;
  };
  const named = groups.map((g) => ({ ...g, name: nameOf(g) }));
  // No key of a group has a line's end in it.
  return others === null
    ? named
    : [...named, { key: '\n', name: texts.otherGroups(others.groups), counts: others.counts }];
}

/** Where a scale ends that begins at 0: a round share above all of them, 1 at most. */
export function scaleEnd(highs: readonly number[]): number {
  const most = Math.max(0.05, ...highs);
  return [0.05, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.8].find((end) => end >= most) ?? 1;
}

/** The marks of such a scale, in percent. */
export function scaleMarks(end: number): number[] {
  const step = [1, 2, 5, 10, 20, 25].find((s) => (end * 100) / s <= 5) ?? 25;
  return Array.from({ length: Math.floor((end * 100) / step + 1e-9) + 1 }, (_, i) => i * step);
}

/** How a message has done, in a sentence. */
export const messageWords = ({ count, of, rate, low, high }: RateRange, campaigns: number): string =>
  of === 0
    ? resultsTexts.message.nobody
    : resultsTexts.message.words(of, campaigns, count, texts.range(percentOf(rate), percentOf(low), percentOf(high)));

/** What became of all campaigns, in sentences. */
export function overviewWords({
  campaigns,
  together: counts,
}: Pick<ResultsOverview, 'campaigns' | 'together'>): Headline {
  const ended = campaigns.filter((c) => c.toCome === 0);
  const reached = reachedOf(counts);
  if (reached === 0) return { lead: texts.nobodyReached, rest: '', doubt: '' };
  const { rate, low, high } = rateRange(counts.replied, reached);
  const outcomes = counts.interested > 0 ? texts.outcomes(counts.interested, counts.meetings) : '';
  return {
    lead: texts.replied(counts.replied, reached),
    rest: `${texts.range(percentOf(rate), percentOf(low), percentOf(high))}${outcomes}.`,
    doubt: ended.length > 1 ? (differenceWords(comparedOf(ended, 'replied'), resultsTexts.did.replied) ?? '') : '',
  };
}

/** Of whom rates are a share, as the head of their column and below the table. */
export const scaleWords = (rate: RateName): { people: string; legend: string } =>
  rate === 'bounced'
    ? { people: resultsTexts.scale.writtenTo, legend: resultsTexts.scale.ofThoseWrittenTo }
    : { people: resultsTexts.scale.reached, legend: resultsTexts.scale.ofThoseReached };
