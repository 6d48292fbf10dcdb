import { array, assert, integer, property } from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SHARES, sharesInOrder, type SharedCampaign } from './shares-in-order';

const order = (...shares: number[]): SharedCampaign[] => shares.map((share, id) => ({ id, share }));
const changed = (all: readonly SharedCampaign[], moved: number) =>
  sharesInOrder(all, moved).map((c) => [c.id, c.share]);

describe('the shares of campaigns that are put into an order', () => {
  it('are the nearest that make it come before those below it', () => {
    expect(changed(order(1, 1), 0)).toEqual([[0, 2]]);
    expect(changed(order(1, 4, 2), 0)).toEqual([[0, 5]]);
    expect(changed(order(7, 1, 3), 1)).toEqual([[1, 4]]);
    expect(changed(order(1, 9), 0)).toEqual([[0, 9]]);
  });

  it('are the nearest that make it come behind those above it', () => {
    expect(changed(order(4, 6), 1)).toEqual([[1, 3]]);
    expect(changed(order(4, 6, 1), 1)).toEqual([[1, 3]]);
    // There is none below 1: the other gets more.
    expect(changed(order(1, 1), 1)).toEqual([[0, 2]]);
    expect(changed(order(3, 1, 1, 5), 3)).toEqual([
      [3, 1],
      [1, 2],
      [2, 2],
    ]);
  });

  it('are those of a neighbour where none lies between', () => {
    expect(changed(order(3, 1, 2), 1)).toEqual([[1, 3]]);
    expect(changed(order(3, 5, 2), 1)).toEqual([[1, 2]]);
    expect(changed(order(3, 1, 3), 1)).toEqual([[1, 3]]);
  });

  it('stay where the order is theirs already', () => {
    expect(changed(order(5, 3, 1), 1)).toEqual([]);
    expect(changed(order(5), 0)).toEqual([]);
    expect(changed(order(5, 3), 7)).toEqual([]);
  });

  it('never put anybody out of order, and stay among those that there are', () => {
    const sorted = array(integer({ min: SHARES.least, max: SHARES.most }), { minLength: 1, maxLength: 8 }).map((all) =>
      all.sort((a, b) => b - a).map((share, id) => ({ id, share })),
    );
    assert(
      property(sorted, integer({ min: 0, max: 7 }), integer({ min: 0, max: 7 }), (all, from, to) => {
        const list = [...all];
        const [one] = list.splice(from % all.length, 1) as [SharedCampaign];
        list.splice(to % all.length, 0, one);
        const changes = new Map(sharesInOrder(list, one.id).map((c) => [c.id, c.share]));
        const after = list.map((c) => changes.get(c.id) ?? c.share);
        expect(after.every((share) => share >= SHARES.least && share <= SHARES.most)).toBe(true);
        for (let i = 1; i < after.length; i++) expect(after[i]).toBeLessThanOrEqual(after[i - 1] as number);
      }),
    );
  });
});
