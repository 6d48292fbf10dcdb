/**
 * The known name that a mistyped one was meant to be, by their keys: few characters apart for its length, or one the
 * beginning of the other; null where none is near.
 */
export function nearestName<T extends { key: string }>(key: string, known: readonly T[]): T | null {
  let best: T | null = null;
  let least = Infinity;
  for (const candidate of known) {
    const apart = distance(key, candidate.key);
    if (apart < least) [best, least] = [candidate, apart];
  }
  if (best && least <= Math.max(1, Math.floor(key.length / 3))) return best;
  const begins = known.filter((k) => key.length >= 3 && (k.key.startsWith(key) || key.startsWith(k.key)));
  return begins[0] ?? null;
}

/** Characters to insert, delete or change to make one text of the other (Levenshtein 1966). */
function distance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++) {
      const change = (row[j - 1] as number) + (a[i - 1] === b[j - 1] ? 0 : 1);
      next.push(Math.min(change, (row[j] as number) + 1, (next[j - 1] as number) + 1));
    }
    row = next;
  }
  return row[b.length] as number;
}
