import { signal } from '@angular/core';
import { describe, expect, it } from 'vitest';
import type { GridColumn } from './grid-columns';
import { GridViewport } from './grid-viewport';

const columns = [236, 132, 146, 146, 146, 146].map((width) => ({ width }) as GridColumn);
const box = (over: Partial<HTMLElement> = {}) =>
  ({ scrollTop: 0, scrollLeft: 0, clientHeight: 350, clientWidth: 700, ...over }) as HTMLElement;
const viewport = (count: number) => new GridViewport(signal(count), signal(columns));

describe('GridViewport', () => {
  it('draws what is seen and a little more, and keeps each row’s element while it is in view', () => {
    const v = viewport(1000);
    v.scrolled(box({ scrollTop: 3500 }));
    const before = new Map(v.slots().map((s) => [s.index, s.slot]));
    expect(Math.min(...before.keys())).toBe(92);
    expect(Math.max(...before.keys())).toBe(117);
    v.scrolled(box({ scrollTop: 3535 }));
    const after = v.slots();
    for (const { index, slot } of after) if (before.has(index)) expect(slot).toBe(before.get(index));
    expect(new Set(after.map((s) => s.slot)).size).toBe(after.length);
  });

  it('draws no more rows than there are', () => {
    const v = viewport(3);
    expect(v.slots().map((s) => s.index)).toEqual([0, 1, 2]);
    expect(viewport(0).slots()).toEqual([]);
  });

  it('reaches the last of two million rows, in an element that a browser draws', () => {
    const v = viewport(2_000_000);
    expect(v.height()).toBeLessThan(33_000_000);
    v.scrolled(box({ scrollTop: v.height() - 350 }));
    expect(v.end()).toBeGreaterThanOrEqual(2_000_000);
    const last = v.slots().find((s) => s.index === 1_999_999);
    expect(last?.y).toBeCloseTo(v.height() - 35, 3);
    const still = box({ scrollTop: 0 });
    v.reveal(still, { row: 1_999_999, column: 0 });
    expect(still.scrollTop).toBeCloseTo(v.height() - 350, 3);
  });

  it('scrolls as little as needed to show a cell', () => {
    const v = viewport(1000);
    const still = box({ scrollTop: 700 });
    v.reveal(still, { row: 22, column: 0 });
    expect(still.scrollTop).toBe(700);
    v.reveal(still, { row: 5, column: 0 });
    expect(still.scrollTop).toBe(175);
    v.reveal(still, { row: 500, column: 5 });
    expect(still.scrollTop).toBe(502 * 35 - 350);
    expect(still.scrollLeft).toBe(v.width() - 40 - 700);
    v.reveal(still, { row: 500, column: 1 });
    expect(still.scrollLeft).toBe(0);
  });
});
