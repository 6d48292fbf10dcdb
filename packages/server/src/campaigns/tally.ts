/** How many people each reason is given for, the commonest first. */
export function tally(reasons: readonly string[]): { reason: string; people: number }[] {
  const counts = new Map<string, number>();
  for (const r of reasons) counts.set(r, (counts.get(r) ?? 0) + 1);
  return [...counts].map(([reason, people]) => ({ reason, people })).sort((a, b) => b.people - a.people);
}
