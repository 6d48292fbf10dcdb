import { drawVariant } from '@baton/core';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { stepOf, TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

const PEOPLE = Array.from({ length: 150 }, (_, i) => `p${i}@vines${i}.example`);
/** The world's first campaign. */
const CAMPAIGN = 1;
const SHARES = [50, 50];
const variantOf = (address: string, shares = SHARES) => drawVariant(shares, CAMPAIGN, address);

/** 130 people get one of two variants, and twenty wait; whether those of the first answer. */
async function begin(persona: string, stopsLosers = true): Promise<number> {
  const mailbox = await world.connect('ines', { dailyQuota: 200, paceSeconds: 60 });
  const listId = await world.people(
    Object.fromEntries(PEOPLE.map((p) => [p, variantOf(p) === 0 ? persona : 'silent'])),
  );
  const [first, other] = [
    await world.message({ name: 'Kelp', body: 'Kelp? [Leave]({{ unsubscribe_link }})' }),
    await world.message({ name: 'Sack', body: 'A sack? [Leave]({{ unsubscribe_link }})' }),
  ];
  return world.begin({
    ...{ listId, mailboxIds: [mailbox], variants: SHARES, stopsLosers },
    ...{ firstGroup: 130, groupByHand: true, mostPerCompany: null },
    steps: [{ ...stepOf(first), others: [other] }],
  });
}

const variants = async () =>
  (
    await world.store.pool.query(
      'select p.key, e.variant, e.sent from enrolments e join contacts p on p.id = e.contact_id',
    )
  ).rows as { key: string; variant: number; sent: number }[];

describe('the rule of a campaign that stops a variant', () => {
  it('stops the one that gets clearly fewer replies, for whoever has had none yet', async () => {
    const id = await begin('keen');
    await world.drive('2026-11-04T20:00:00Z');
    expect((await world.brief(id)).variants).toEqual(SHARES);
    await world.drive('2026-11-06T12:00:00Z');
    const { variants: shares, standing, revision } = await world.brief(id);
    expect(shares).toEqual([50, 0]);
    expect(standing.at(-1)).toMatch(
      /^Variant B was stopped on Thu 5 Nov: 0 of \d+ replied to B, \d+ of \d+ replied to A \(p < 0\.0001\)\.$/,
    );
    expect(revision).toBeGreaterThan(0);
    const now = await variants();
    // Who has had a message keeps the variant; who waits gets what is left.
    for (const { key, variant, sent } of now) expect([key, variant]).toEqual([key, sent > 0 ? variantOf(key) : 0]);
    expect(now.some((e) => e.sent === 0 && variantOf(e.key) === 1)).toBe(true);
    // It is said once, and a variant is begun again by hand.
    await world.drive('2026-11-09T12:00:00Z');
    expect((await world.brief(id)).standing.filter((s) => s.includes('was stopped'))).toHaveLength(1);
  }, 120_000);

  it('does nothing where it is not wanted, or nobody does better', async () => {
    const id = await begin('keen', false);
    await world.drive('2026-11-06T12:00:00Z');
    expect((await world.brief(id)).variants).toEqual(SHARES);
    await world.store.pool.query('update campaigns set stops_losers = true');
    await world.store.pool.query(`delete from incoming`);
    await world.drive('2026-11-09T12:00:00Z');
    const { rows } = await world.store.pool.query('select variants, variant_looks from campaigns');
    expect(rows).toEqual([{ variants: SHARES, variant_looks: 1 }]);
  }, 120_000);
});
