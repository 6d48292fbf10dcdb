import { describe, expect, it } from 'vitest';
import { sharedWorkspace } from './shared-workspace';

class Numbers extends sharedWorkspace((size: { numbers: number }) => ({ at: new Int32Array(size.numbers) }), {
  numbers: 4,
}) {}

describe('sharedWorkspace', () => {
  it('gives all of up to the common size the same arrays, and larger ones their own', () => {
    const [small, common, large, other] = [4, 1, 5, 5].map((numbers) => new Numbers({ numbers }));
    expect(common!.at).toBe(small!.at);
    expect(small!.at).toHaveLength(4);
    expect(large!.at).toHaveLength(5);
    expect(other!.at).not.toBe(large!.at);
  });
});
