import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changeSequence, faultOfSequence, type WantedStep } from './sequence-change';

describe('a sequence that changes while people are on their way through it', () => {
  it('puts a step in for those who have not come past its place', () => {
    const { numbers, out, next } = changeSequence([0, 1], [0, null, 1], [0, 1]);
    expect(numbers).toEqual([0, 2, 1]);
    expect(out).toEqual([]);
    // Nothing yet; after the first message; after both.
    expect(next).toEqual([0, 1, 3]);
  });

  it('takes a step out, and whoever has had it goes on behind the one before it', () => {
    expect(changeSequence([0, 1, 2], [0, 2], [0, 1, 2])).toEqual({
      numbers: [0, 2],
      out: [{ number: 1, place: 0 }],
      next: [0, 1, 1, 2],
    });
  });

  it('gives no number a second time', () => {
    expect(changeSequence([0, 3], [0, null], [0, 1, 2, 3]).numbers).toEqual([0, 4]);
  });

  it('sends nobody a step twice, and nobody back, in whatever order steps are changed', () => {
    const change = fc.record({
      length: fc.integer({ min: 1, max: 6 }),
      keys: fc.array(fc.double({ noNaN: true }), { minLength: 6, maxLength: 6 }),
      kept: fc.array(fc.boolean(), { minLength: 6, maxLength: 6 }),
      added: fc.integer({ min: 0, max: 3 }),
    });
    fc.assert(
      fc.property(fc.array(change, { minLength: 1, maxLength: 5 }), fc.integer({ min: 0, max: 6 }), (changes, had) => {
        let steps = Array.from({ length: changes[0]?.length ?? 1 }, (_, i) => i);
        const used = new Set(steps);
        // Somebody who has had the first few.
        let sent = Math.min(had, steps.length);
        const got = new Set(steps.slice(0, sent));
        for (const { keys, kept, added } of changes) {
          const rest = steps
            .slice(1)
            .map((number, i) => ({ number, key: keys[i % 6] as number, isKept: kept[i % 6] === true }))
            .filter((s) => s.isKept)
            .sort((a, b) => a.key - b.key)
            .map((s) => s.number);
          const wanted: WantedStep[] = [steps[0] as number, ...rest, ...Array<null>(added).fill(null)];
          expect(faultOfSequence(steps, wanted, () => true)).toBeNull();
          const { numbers, out, next } = changeSequence(steps, wanted, [...used]);
          expect(next).toHaveLength(steps.length + 1);
          expect(new Set(numbers).size).toBe(numbers.length);
          for (const number of numbers) if (!steps.includes(number)) expect(used.has(number)).toBe(false);
          expect(out.map((o) => o.number).sort()).toEqual(steps.filter((s) => !numbers.includes(s)).sort());
          const before = sent;
          sent = next[sent] as number;
          expect(sent).toBeGreaterThanOrEqual(before > 0 ? 1 : 0);
          expect(sent).toBeLessThanOrEqual(numbers.length);
          steps = numbers;
          for (const number of numbers) used.add(number);
          // What is still to come has never been had.
          for (const number of steps.slice(sent)) expect(got.has(number)).toBe(false);
          // One more is sent before the next change.
          if (sent < steps.length) got.add(steps[sent++] as number);
        }
      }),
    );
  });

  it('refuses what cannot be', () => {
    const left = (number: number) => number === 0;
    expect(faultOfSequence([0, 1], [], left)).toContain('one message at least');
    expect(faultOfSequence([0, 1], [1, 0], left)).toContain('stays the first');
    expect(faultOfSequence([0, 1], [1, 0], () => false)).toBeNull();
    expect(faultOfSequence([0, 1], [0, 0], left)).toContain('changed by somebody else');
    expect(faultOfSequence([0, 1], [0, 7], left)).toContain('changed by somebody else');
  });
});
