import { signal } from '@angular/core';
import { WHOLE_LIST } from '@baton/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { PickedRows } from './picked-rows';

const alone = { ctrl: false, shift: false };
const order = signal(Int32Array.from([11, 12, 13, 14, 15]));
let picked: PickedRows;
const which = () => [...order()].filter((id) => picked.has(id));

beforeEach(() => {
  order.set(Int32Array.from([11, 12, 13, 14, 15]));
  picked = new PickedRows(order);
});

describe('rows picked by hand', () => {
  it('are turned over one by one', () => {
    picked.press(1, alone);
    picked.press(3, alone);
    expect(which()).toEqual([12, 14]);
    picked.press(1, alone);
    expect(which()).toEqual([14]);
    expect(picked.count()).toBe(1);
  });

  it('go from the last press to this one with shift, in either direction', () => {
    picked.press(3, alone);
    picked.press(1, { ctrl: false, shift: true });
    expect(which()).toEqual([12, 13, 14]);
    picked.press(4, { ctrl: false, shift: true });
    expect(which()).toEqual([14, 15]);
  });

  it('are kept beside a new range with ctrl as well', () => {
    picked.press(0, alone);
    picked.press(3, alone);
    picked.press(4, { ctrl: true, shift: true });
    expect(which()).toEqual([11, 14, 15]);
  });

  it('are picked alone by shift where nothing was pressed before', () => {
    picked.press(2, { ctrl: false, shift: true });
    expect(which()).toEqual([13]);
  });

  it('are no more of than are shown', () => {
    picked.pick([11, 13, 15]);
    order.set(Int32Array.from([13, 14]));
    picked.keepShown();
    expect(picked.count()).toBe(1);
    expect(which()).toEqual([13]);
    picked.press(7, alone);
    expect(picked.count()).toBe(1);
  });

  it('say what an action would be done to: them, all found, or all', () => {
    const query = { ...WHOLE_LIST, search: 'grove', sort: [{ key: 'region', descending: false }] };
    expect(picked.meant(query, false)).toEqual({
      choice: { query: { ...query, sort: [] }, count: 5 },
      count: 5,
      words: 'all 5 found',
    });
    expect(picked.meant(WHOLE_LIST, true).words).toBe('all 5');
    picked.pick([12, 14]);
    expect(picked.meant(query, false)).toEqual({ choice: { rows: [12, 14] }, count: 2, words: '2' });
    picked.clear();
    expect(picked.meant(query, false).count).toBe(5);
  });

  it('are counted with their thousands apart', () => {
    order.set(Int32Array.from({ length: 12_400 }, (_, i) => i + 1));
    expect(picked.meant(WHOLE_LIST, true).words).toBe('all 12,400');
    picked.pick(order());
    expect(picked.meant(WHOLE_LIST, true).words).toBe('12,400');
  });
});
