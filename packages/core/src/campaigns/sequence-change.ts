/** A step as somebody wants it: one that is there, by its number, or a new one (null). */
export type WantedStep = number | null;

/** A sequence that is changed while people are on their way through it. */
export interface SequenceChange {
  /** Numbers of the wanted steps in order; new ones get numbers that no step has had. */
  numbers: number[];
  /** Steps that are taken out, each with the place up to which whoever has had it has come. */
  out: { number: number; place: number }[];
  /**
   * By the place of the next message in the old sequence (0 to its length): the place of the next message in the new one.
   * Whoever has had a message goes on behind the last of those that they have had.
   */
  next: number[];
}

/**
 * Works out what becomes of people when a sequence changes. Nobody gets a step twice, and nobody goes back: what is put in
 * before the point somebody has reached goes only to those who have not reached it.
 *
 * @param old numbers of the steps in order
 * @param wanted each step of the old sequence at most once; the first stays first once it has left to anybody
 * @param used every number that a step of this campaign has ever had
 */
export function changeSequence(
  old: readonly number[],
  wanted: readonly WantedStep[],
  used: readonly number[],
): SequenceChange {
  let free = Math.max(-1, ...used, ...old);
  const numbers = wanted.map((step) => step ?? ++free);
  const placeOf = new Map(numbers.map((number, place) => [number, place]));
  // How far somebody has come who has had the steps before a place.
  const next = [0];
  for (const number of old) next.push(Math.max(next.at(-1) as number, (placeOf.get(number) ?? -1) + 1));
  const out = old.flatMap((number, place) =>
    placeOf.has(number) ? [] : [{ number, place: Math.max(0, (next[place] as number) - 1) }],
  );
  return { numbers, out, next };
}

/**
 * What is wrong with a wanted sequence, in a sentence; null where nothing is.
 *
 * @param hasLeft whether a step has left to anybody
 */
export function faultOfSequence(
  old: readonly number[],
  wanted: readonly WantedStep[],
  hasLeft: (number: number) => boolean,
): string | null {
  const known = wanted.filter((step): step is number => step !== null);
  if (wanted.length === 0) return 'A campaign has one message at least.';
  if (known.some((step) => !old.includes(step)) || new Set(known).size < known.length)
    return 'The messages have been changed by somebody else meanwhile. Look at them again.';
  const first = old[0];
  if (first !== undefined && hasLeft(first) && wanted[0] !== first)
    return 'The first message has left to some people: it can be changed for the others, but it stays the first.';
  return null;
}
