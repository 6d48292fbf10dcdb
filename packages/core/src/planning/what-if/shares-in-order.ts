/** The least and the largest share of new starts that a campaign may have. */
export const SHARES = { least: 1, most: 9 } as const;

/** A campaign and how many start in it for each one of another. */
export interface SharedCampaign {
  id: number;
  share: number;
}

/**
 * What it takes for a campaign to come behind those above it and before those below it, where a larger share comes first: the
 * nearest share that lies between theirs, or one of theirs where none does. At the end, with no smaller share left, those above
 * it get a larger one.
 *
 * @param order campaigns as they are to come, with the shares that they have, each at least that of the next but for the one moved
 * @param moved which of them was put into another place
 * @returns only those whose share is another then
 */
export function sharesInOrder(order: readonly SharedCampaign[], moved: number): SharedCampaign[] {
  const at = order.findIndex((c) => c.id === moved);
  const own = order[at];
  if (!own) return [];
  const [above, below] = [order[at - 1]?.share, order[at + 1]?.share];
  const share = between(own.share, above, below);
  const raised = above === share && below === undefined ? order.slice(0, at).filter((c) => c.share === share) : [];
  return [
    ...(share === own.share ? [] : [{ id: own.id, share }]),
    ...raised.filter((c) => c.share < SHARES.most).map((c) => ({ id: c.id, share: c.share + 1 })),
  ];
}

function between(own: number, above: number | undefined, below: number | undefined): number {
  const least = below === undefined ? SHARES.least : below + 1;
  const most = above === undefined ? SHARES.most : above - 1;
  if (least <= most) return Math.min(most, Math.max(least, own));
  // Whoever comes from above is no longer before the one above it; whoever comes from below no longer behind the one below it.
  const [upper, lower] = [above ?? SHARES.most, below ?? SHARES.least];
  return own > lower ? lower : upper;
}
