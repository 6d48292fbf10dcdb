import { signal } from '@angular/core';
import { WHOLE_LIST } from '@baton/core';
import { describe, expect, it } from 'vitest';
import { cellsIn, clamped, isIn, moved, pasted, rangeOf, type Cursor } from './grid-cursor';
import { PickedRows } from './picked-rows';

const size = { rows: 100, columns: 5, page: 20 };
const at = (row: number, column: number): Cursor => ({ anchor: { row, column }, focus: { row, column } });
const go = (cursor: Cursor, key: string, shift = false, ctrl = false) => moved(cursor, key, shift, ctrl, size)?.focus;

describe('the cursor of the sheet', () => {
  it.each([
    ['ArrowDown', false, { row: 51, column: 2 }],
    ['ArrowUp', true, { row: 0, column: 2 }],
    ['ArrowRight', true, { row: 50, column: 4 }],
    ['PageDown', false, { row: 70, column: 2 }],
    ['PageUp', false, { row: 30, column: 2 }],
    ['Home', false, { row: 50, column: 0 }],
    ['End', true, { row: 99, column: 4 }],
  ])('goes with %s (ctrl %s)', (key, ctrl, focus) => expect(go(at(50, 2), key, false, ctrl)).toEqual(focus));

  it('stays inside, and keeps its anchor with shift', () => {
    expect(go(at(99, 4), 'ArrowDown')).toEqual({ row: 99, column: 4 });
    expect(go(at(0, 0), 'ArrowLeft')).toEqual({ row: 0, column: 0 });
    expect(moved(at(5, 1), 'ArrowDown', true, false, size)).toEqual({
      anchor: { row: 5, column: 1 },
      focus: { row: 6, column: 1 },
    });
    expect(moved(at(5, 1), 'q', false, false, size)).toBeNull();
    expect(clamped(at(80, 4), { rows: 3, columns: 2, page: 1 })).toEqual(at(2, 1));
    expect(clamped(at(0, 0), { rows: 0, columns: 2, page: 1 })).toBeNull();
  });

  it('marks from corner to corner, whichever was first', () => {
    const range = rangeOf({ anchor: { row: 7, column: 1 }, focus: { row: 5, column: 3 } });
    expect(range).toEqual({ top: 5, bottom: 7, left: 1, right: 3 });
    expect([cellsIn(range), isIn(range, 6, 3), isIn(range, 8, 3)]).toEqual([9, true, false]);
  });
});

describe('a paste', () => {
  const mark = (top: number, left: number, bottom = top, right = left) => ({ top, left, bottom, right });
  const placed = (copied: string[][], range: ReturnType<typeof mark>) =>
    pasted(copied, range, size).cells.map((c) => `${c.row}/${c.column}=${c.value}`);

  it('goes from the corner on', () =>
    expect(placed([['a', 'b'], ['c']], mark(3, 1))).toEqual(['3/1=a', '3/2=b', '4/1=c', '4/2=']));
  it('is repeated over a larger mark that it fits', () => {
    expect(placed([['x']], mark(0, 0, 1, 1))).toEqual(['0/0=x', '0/1=x', '1/0=x', '1/1=x']);
    expect(placed([['a'], ['b']], mark(0, 0, 3, 0))).toEqual(['0/0=a', '1/0=b', '2/0=a', '3/0=b']);
    expect(placed([['a'], ['b']], mark(0, 0, 2, 0))).toEqual(['0/0=a', '1/0=b']);
  });
  it('ends at the edges, and says how many rows lay beyond', () => {
    expect(placed([['a', 'b', 'c']], mark(0, 4))).toEqual(['0/4=a']);
    expect(pasted([['a'], ['b'], ['c']], mark(98, 0), size)).toMatchObject({ beyond: 1, cells: { length: 2 } });
  });
});

describe('picked rows', () => {
  const order = signal(Int32Array.from([11, 12, 13, 14, 15]));
  const picked = () => new PickedRows(order);

  it('are picked one by one, and up to one with shift', () => {
    const p = picked();
    p.press(1, { ctrl: true, shift: false });
    p.press(3, { ctrl: true, shift: true });
    expect([11, 12, 13, 14, 15].filter((id) => p.has(id))).toEqual([12, 13, 14]);
    p.press(2, { ctrl: true, shift: false });
    expect(p.count()).toBe(2);
  });

  it('are what an action means, else all that are found, and the words say which', () => {
    const p = picked();
    const query = { ...WHOLE_LIST, search: 'x', sort: [{ key: 'a', descending: true }] };
    expect(p.meant(query, false)).toEqual({
      choice: { query: { ...query, sort: [] }, count: 5 },
      count: 5,
      words: 'all 5 found',
    });
    expect(p.meant(WHOLE_LIST, true).words).toBe('all 5');
    p.press(0, { ctrl: true, shift: false });
    expect(p.meant(query, false)).toEqual({ choice: { rows: [11] }, count: 1, words: '1' });
    p.press(4, { ctrl: true, shift: false });
    expect(p.meant(query, false).words).toBe('2');
  });

  it('are never what a filter hides', () => {
    const p = picked();
    p.pick([11, 15]);
    order.set(Int32Array.from([11, 12]));
    p.keepShown();
    expect([p.count(), p.has(15)]).toEqual([1, false]);
  });
});
