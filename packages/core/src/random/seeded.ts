/** Uniform in [0, 1); each call gives the next of a fixed sequence. */
export type Random = () => number;

/**
 * A 32-bit hash of a text: FNV-1a over its UTF-16 units, then the finaliser of MurmurHash3, so that
 * texts that differ in one letter land far apart.
 *
 * @returns a whole number, 0 to 2^32 - 1
 */
export function hash32(text: string): number {
  let h = 0x811c9dc5;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193);
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}

/**
 * A seeded source of randomness (mulberry32, T. Ettinger): small, quick, good enough for spreading
 * messages and drawing personas; not for secrets.
 *
 * @param seed any whole number; only its low 32 bits count
 */
export function seededRandom(seed: number): Random {
  // Kept as a signed number: engines hold those of 32 bits without asking for memory at each call.
  let state = seed | 0;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), state | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** A number in [0, 1) that looks like chance and is always the same for the same text. */
export const chanceOf = (text: string): number => hash32(text) / 2 ** 32;

/** A pause that is varied by a third, so that what was put off together does not come back together. @param chance 0 to 1 */
export const varied = (pauseMs: number, chance: number): number => Math.round(pauseMs * (2 / 3 + (2 / 3) * chance));
