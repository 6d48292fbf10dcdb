import { describe, expect, it } from 'vitest';
import { workspace } from '../../testing/plan-inputs';
import { betterPlacements } from './better-placements';
import { noPlacements, type Placements } from '../placements/placements';
import { planSends } from '../plan-sends';

/** Three people, each with the days of their two messages; null for one who has none. */
function placed(...days: ([start: number, followUp: number] | null)[]): Placements {
  const placements = noPlacements(workspace([3]));
  days.forEach((own, p) => own && placements.take(p, 0, Int32Array.from(own)));
  return placements;
}

describe('the better of two ways', () => {
  const good = placed([0, 3], [0, 3], [1, 4]);

  it('is the one that places more people, even if some are late', () => {
    const fewer = placed([0, 3], [0, 3], null);
    const late = placed([0, 9], [5, 20], [6, 30]);
    expect(betterPlacements(fewer, late)).toBe(late);
    expect(betterPlacements(late, fewer)).toBe(late);
  });

  it('is the one with fewer follow-ups late, even if people start later', () => {
    // Two working days over three are allowed.
    const late = placed([0, 8], [0, 3], [0, 3]);
    const later = placed([7, 11], [7, 11], [7, 11]);
    expect(betterPlacements(late, later)).toBe(later);
  });

  it('is the one whose people start earlier, else the first', () => {
    const later = placed([0, 3], [1, 4], [1, 4]);
    expect(betterPlacements(later, good)).toBe(good);
    expect(betterPlacements(good, placed([1, 4], [0, 3], [0, 3]))).toBe(good);
  });
});

it('a plan made with care starts no later than a quick one, where campaigns share some mailboxes', () => {
  const base = workspace([300, 200, 150]);
  const mailboxes = Array.from({ length: 4 }, () => base.mailboxes[0]!);
  const reach = [
    [0, 1, 2],
    [1, 2, 3],
    [3, 0],
  ];
  const campaigns = base.campaigns.map((campaign, c) => ({
    ...campaign,
    mailboxes: reach[c]!,
    weight: c + 1,
    steps: [...campaign.steps, { delay: 2 + c, tolerance: c }],
  }));
  const input = { ...base, mailboxes, campaigns };
  const startsOf = (tier: 'quick' | 'full') =>
    planSends(input, tier).deliveries.reduce((sum, { step, day }) => sum + (step === 0 ? day : 0), 0);
  expect(startsOf('full')).toBeLessThanOrEqual(startsOf('quick'));
});
