import { hash32 } from '../random/seeded';

/**
 * Which variant of a campaign's messages a recipient gets: drawn once by who they are, the same whenever it is asked.
 *
 * @param shares of the variants, in any unit; without any, or with nothing to share, everybody gets the first
 * @returns 0-based
 */
export function drawVariant(shares: readonly number[], campaignId: number, addressKey: string): number {
  const total = shares.reduce((sum, share) => sum + Math.max(0, share), 0);
  if (total <= 0) return 0;
  let at = (hash32(`variant/${campaignId}/${addressKey}`) / 2 ** 32) * total;
  for (const [i, share] of shares.entries()) {
    at -= Math.max(0, share);
    if (at < 0) return i;
  }
  return shares.length - 1;
}
