import { describe, expect, it } from 'vitest';
import { campaign, mailbox, workspace } from '../../testing/plan-inputs';
import { dayNumber } from '../../time/days';
import { findEntries } from '../course/entries';
import { noPlacements } from '../placements/placements';
import { StartTurns, type Claim } from './start-turns';

const mailboxes = [mailbox(), mailbox()];
const shared = (over = {}) => campaign({ mailboxes: [0, 1], ...over });

/** Turns of two campaigns of 40, of which the second may begin later, and some of the first be bound to a mailbox. */
function turnsOf(weights: [number, number], over: { startDate?: string; bound?: Record<number, number> } = {}) {
  const { startDate = '2026-10-19', bound = {} } = over;
  const campaigns = [shared({ weight: weights[0] }), shared({ weight: weights[1], startDate })];
  const input = workspace([40, 40], { mailboxes, campaigns });
  for (const [p, m] of Object.entries(bound)) input.recipients.boundMailbox[Number(p)] = m;
  const placements = noPlacements(input);
  const turns = new StartTurns(placements, findEntries(placements, null));
  const claims = (free = Infinity): Claim[] => turns.turns.map((turn) => ({ turn, free }));
  /** Starts so many on a day of a mailbox. @returns who they are */
  const start = (own: Claim[], count: number, m = 0, i = 0): number[] => {
    const begun: number[] = [];
    while (begun.length < count && turns.next(own, m, i, (people, from) => begun.push(people[from]!) && 1));
    return begun;
  };
  /** Starts all of some entries on a day. @returns who was offered a turn together */
  const offered = (own: Claim[]): number[][] => {
    const runs: number[][] = [];
    const all = (people: readonly number[], from: number, most: number) =>
      runs.push(people.slice(from, from + most)) && most;
    while (turns.next(own, 0, 0, all));
    return runs;
  };
  return { turns, claims, start, offered };
}

describe('who starts next', () => {
  it('is of the campaign that has started least over weight, in the order of its list', () => {
    const { claims, start } = turnsOf([3, 1]);
    const begun = start(claims(), 8);
    expect(begun.filter((p) => p < 40)).toEqual([0, 1, 2, 3, 4, 5]);
    expect(begun.filter((p) => p >= 40)).toEqual([40, 41]);
  });

  it('counts what has started in all mailboxes', () => {
    const { claims, start } = turnsOf([1, 1]);
    const own = claims();
    expect(start([own[0]!], 3, 1)).toEqual([0, 1, 2]);
    expect(start(own, 3)).toEqual([40, 41, 42]);
  });

  it('is not of a campaign before its day, nor made up for when that comes', () => {
    const { turns, claims, start } = turnsOf([1, 1], { startDate: '2026-10-21' });
    const later = dayNumber('2026-10-21') - dayNumber('2026-10-19');
    turns.begin(0);
    expect(start(claims(), 10).every((p) => p < 40)).toBe(true);
    turns.begin(later);
    expect(start(claims(), 6, 0, later).filter((p) => p >= 40)).toHaveLength(3);
  });

  it('is bound to no other mailbox, and where no room is left for the others, bound to this', () => {
    const { claims, start } = turnsOf([1, 1], { bound: { 0: 1, 5: 0, 7: 0 } });
    const [first] = claims(2) as [Claim];
    expect(start([first], 9)).toEqual([1, 2, 5, 7]);
  });

  it('is of several together where nobody else has a turn before them', () => {
    const bound = { 0: 1, 5: 0, 7: 0 };
    const upTo = (from: number, to: number) => Array.from({ length: to - from + 1 }, (_, k) => from + k);
    const { claims, offered } = turnsOf([1, 1], { bound });
    expect(offered([claims()[0]!])).toEqual([upTo(1, 4), [5], [6], [7], upTo(8, 39)]);
    const few = turnsOf([1, 1], { bound });
    expect(few.offered([few.claims(2)[0]!])).toEqual([
      [1, 2],
      [5, 7],
    ]);
    const both = turnsOf([1, 1]);
    expect(both.offered(both.claims()).every((people) => people.length === 1)).toBe(true);
  });

  it('is nobody of a kind that does not fit on the day, and anybody of it on the next', () => {
    const { turns, claims, start } = turnsOf([1, 1]);
    const own = claims();
    expect(turns.next(own, 0, 0, () => 0)).toBe(false);
    expect(start(own, 2, 0, 1)).toHaveLength(2);
    expect(turns.rest()).toHaveLength(78);
  });
});
