import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { samenessKey } from './check-address';
import { SamePeople } from './same-people';

describe('addresses of the same people', () => {
  it('are those that differ in dots and what follows a plus sign, all of them', () => {
    const same = new SamePeople();
    ['ana.reyes@x.example', 'bo@x.example', 'anareyes@x.example', 'bo+fair@x.example', 'anareyes@y.example'].forEach(
      (key, i) => same.add(key, i + 1),
    );
    expect(same.lines().sort()).toEqual([1, 2, 3, 4]);
  });

  it('are found as by comparing each with each', () => {
    const local = fc
      .array(fc.constantFrom('a', 'b', '.', '+'), { minLength: 1, maxLength: 4 })
      .map((c) => `x${c.join('')}`);
    fc.assert(
      fc.property(fc.uniqueArray(local, { maxLength: 30 }), (locals) => {
        const keys = locals.map((l) => `${l}@x.example`);
        const same = new SamePeople();
        keys.forEach((key, i) => same.add(key, i + 1));
        const expected = keys.flatMap((key, i) =>
          keys.some((other, j) => i !== j && samenessKey(other) === samenessKey(key)) ? [i + 1] : [],
        );
        expect(same.lines().sort((a, b) => a - b)).toEqual(expected);
      }),
    );
  });
});
