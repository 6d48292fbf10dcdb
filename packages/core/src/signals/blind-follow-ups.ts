import { conditionNeeds, type FollowUpCondition } from '../campaigns/follow-up-condition';
import type { MessageContent } from '../messages/message-content';
import { isWatched, type MessageWatches } from './watches';

/** One message of a campaign, as far as it matters for what comes behind it. */
export interface WatchedStep {
  condition: FollowUpCondition;
  /** Whether whoever has followed a link gets another text. */
  tellsClicked: boolean;
  /** Forms of its messages, of all variants. */
  formats: readonly MessageContent['format'][];
}

/**
 * Why follow-ups would go to nobody, or to the wrong people: their condition asks for what no message before them can tell.
 *
 * @param hasAddress whether there is a public address, without which nothing is counted
 * @returns a sentence without its full stop for each, in order
 */
export function blindFollowUps(
  steps: readonly WatchedStep[],
  { watchesOpens, watchesClicks }: MessageWatches,
  hasAddress: boolean,
): string[] {
  return steps.flatMap(({ condition, tellsClicked }, place) => {
    const needs = conditionNeeds(condition) ?? (tellsClicked ? 'clicks' : null);
    if (place === 0 || needs === null) return [];
    const watches = needs === 'opens' ? watchesOpens : watchesClicks;
    const before = steps.slice(0, place).flatMap((s) => s.formats);
    if (hasAddress && before.some((format) => isWatched(watches, format))) return [];
    const done = needs === 'opens' ? 'opened a message' : 'followed a link';
    const why = hasAddress ? `${needs} are counted in none of the messages before it` : 'there is no public address';
    const what = conditionNeeds(condition) === null ? 'What people get as' : 'Whoever gets';
    return [`${what} follow-up ${place} depends on who has ${done}, but ${why}`];
  });
}
