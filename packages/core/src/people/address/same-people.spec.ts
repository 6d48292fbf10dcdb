import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { samenessKey } from './check-address';
import { FirstLines } from '../import/files/first-lines';
import { SamePeople } from './same-people';

function linesOf(keys: readonly string[]): number[] {
  const [same, all] = [new SamePeople(), new FirstLines()];
  keys.forEach((key, i) => {
    all.firstOf(key, i + 1);
    same.add(key, i + 1);
  });
  return same.lines(all).sort((a, b) => a - b);
}

describe('addresses of the same people', () => {
  it('are those that differ in dots and what follows a plus sign, all of them', () => {
    const keys = [
      'ana.reyes@x.example',
      'bo@x.example',
      'anareyes@x.example',
      'bo+fair@x.example',
      'anareyes@y.example',
    ];
    expect(linesOf(keys)).toEqual([1, 2, 3, 4]);
  });

  it('are found as by comparing each with each', () => {
    const local = fc
      .array(fc.constantFrom('a', 'b', '.', '+'), { minLength: 1, maxLength: 4 })
      .map((c) => `x${c.join('')}`);
    fc.assert(
      fc.property(fc.uniqueArray(local, { maxLength: 30 }), (locals) => {
        const keys = locals.map((l) => `${l}@x.example`);
        const expected = keys.flatMap((key, i) =>
          keys.some((other, j) => i !== j && samenessKey(other) === samenessKey(key)) ? [i + 1] : [],
        );
        expect(linesOf(keys)).toEqual(expected);
      }),
    );
  });
});
