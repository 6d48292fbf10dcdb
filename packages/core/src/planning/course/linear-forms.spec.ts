import { describe, expect, it } from 'vitest';
import { LinearForms, RowBuilder } from './linear-forms';

describe('LinearForms', () => {
  it('are worth what their terms are worth, and number 0 is worth nothing', () => {
    const forms = new LinearForms();
    const a = forms.put(0, 2).put(1, -1).end();
    const b = forms.putAll(a).put(2, 0.5).end();
    const z = Float64Array.of(3, 4, 10);
    expect([0, a, b].map((form) => forms.valueOf(form, z))).toEqual([0, 2, 7]);
  });

  it('have one number where they are the same, and another where anything differs', () => {
    const forms = new LinearForms();
    const a = forms.put(0, 2).put(1, -1).end();
    expect(forms.put(0, 2).put(1, -1).end(a)).toBe(a);
    expect(forms.end(a)).not.toBe(a);
    expect(forms.end()).toBe(0);
    const others = [
      forms.put(0, 2).end(a),
      forms.put(0, 2).put(1, 1).end(a),
      forms.put(0, 2).put(2, -1).end(a),
      forms.put(0, 2).put(1, -1).put(3, 1).end(a),
    ];
    expect(new Set([a, ...others]).size).toBe(5);
    expect(forms.isSame(a, forms.put(0, 2).put(1, -1).end())).toBe(true);
  });
});

describe('RowBuilder', () => {
  it('adds sums up to rows, without what cancels out, and makes none of nothing', () => {
    const forms = new LinearForms();
    const a = forms.put(0, 2).put(1, -1).end();
    const b = forms.put(1, -1).put(3, 4).end();
    const out = new RowBuilder(forms, 4);
    out.add(a, 1).add(b, -1).variable(2, 5).end(7);
    out.add(a, 1).add(a, -1).end(8);
    out.add(b, 2).variable(3, -8).variable(3, 1).end(9);
    const { matrix, bound, n } = out.rows();
    expect(n).toBe(4);
    // Each row by its bound, so that none is above 1.
    expect(Array.from(bound)).toEqual([1, 1]);
    const row = (r: number, by: number) => {
      const entries: [number, number][] = [];
      for (let k = matrix.start[r]!; k < matrix.start[r + 1]!; k++)
        entries.push([matrix.index[k]!, matrix.value[k]! * by]);
      return entries.sort(([x], [y]) => x - y);
    };
    expect(row(0, 7).flat()).toEqual([0, 2, 2, 5, 3, -4].map((x) => expect.closeTo(x, 12)));
    expect(row(1, 9).flat()).toEqual([1, -2, 3, 1].map((x) => expect.closeTo(x, 12)));
  });
});
