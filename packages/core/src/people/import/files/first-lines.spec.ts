import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FirstLines } from './first-lines';

describe('FirstLines', () => {
  it('tells what a map of the keys tells', () => {
    fc.assert(
      fc.property(fc.array(fc.oneof(fc.string({ maxLength: 3 }), fc.constantFrom('ab', 'ba', 'aB'))), (keys) => {
        const lines = new FirstLines();
        const map = new Map<string, number>();
        for (const [i, key] of keys.entries()) {
          expect(lines.firstOf(key, i + 1)).toBe(map.get(key) ?? null);
          if (!map.has(key)) map.set(key, i + 1);
        }
      }),
    );
  });

  it('keeps 300,000 keys that differ little apart, and finds each again', () => {
    const lines = new FirstLines();
    const key = (i: number) => `p${i % 1000}.${Math.floor(i / 1000)}@grove${i % 7}.example`;
    let taken = 0;
    for (let i = 0; i < 300_000; i++) if (lines.firstOf(key(i), i + 1) !== null) taken++;
    expect(taken).toBe(0);
    for (let i = 0; i < 300_000; i += 997) expect(lines.firstOf(key(i), 1)).toBe(i + 1);
  });
});
