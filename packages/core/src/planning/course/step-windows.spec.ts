import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { allowedBefore, stepWindows } from './step-windows';

const all = (days: number) => new Uint8Array(days).fill(1);

describe('who may and who must have been written to', () => {
  it('is told by delay and tolerance', () => {
    const { released, due } = stepWindows({ delay: 2, tolerance: 1 }, [0, 1, 2, 3, 4, 5], all(6));
    expect([...released]).toEqual([-1, -1, 0, 1, 2, 3]);
    // Whoever started on day 0 has until day 3; on the last day of all nothing can be put off any more.
    expect([...due]).toEqual([-1, -1, -1, 0, 1, 3]);
  });

  it('goes by days that are open: where the last that is in time is shut, it is the one before', () => {
    // Days 3 and 4 are shut: whoever started on day 0 must be written to on day 2.
    const { due } = stepWindows({ delay: 2, tolerance: 2 }, [0, 1, 2, 5, 6, 7], all(6));
    expect(due[2]).toBe(0);
    // On day 1, nobody starts who would fall due while it is shut, and be late when it opens.
    expect([...allowedBefore({ delay: 2, tolerance: 1 }, [0, 1, 2, 5, 6, 7], all(6))]).toEqual([1, 0, 1, 1, 0, 0]);
  });

  it('is as counted person by person', () => {
    const gaps = fc.array(fc.record({ gap: fc.integer({ min: 1, max: 4 }), allowed: fc.boolean() }), { maxLength: 24 });
    const step = fc.record({ delay: fc.integer({ min: 1, max: 6 }), tolerance: fc.integer({ min: 0, max: 3 }) });
    fc.assert(
      fc.property(gaps, step, (list, { delay, tolerance }) => {
        let day = 0;
        const workday = list.map(({ gap }) => (day += gap));
        const allowed = Uint8Array.from(list, (d) => (d.allowed ? 1 : 0));
        const days = [...workday.keys()];
        const inTime = (from: number, to: number) => {
          const passed = workday[to]! - workday[from]!;
          return to > from && passed >= delay && passed <= delay + tolerance;
        };
        const { released, due } = stepWindows({ delay, tolerance }, workday, allowed);
        for (const j of days) {
          const ripe = days.filter((from) => from < j && workday[j]! - workday[from]! >= delay);
          expect(released[j]).toBe(ripe.at(-1) ?? -1);
          const next = days.find((to) => to > j && allowed[to]);
          const pressing = ripe.filter(
            (from) => next === undefined || workday[next]! - workday[from]! > delay + tolerance,
          );
          expect(due[j]).toBe(pressing.at(-1) ?? -1);
        }
        const before = allowedBefore({ delay, tolerance }, workday, allowed);
        expect([...before]).toEqual(days.map((from) => (days.some((to) => allowed[to] && inTime(from, to)) ? 1 : 0)));
      }),
    );
  });
});
