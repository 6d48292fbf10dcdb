import fc from 'fast-check';

interface Mutation {
  at: number;
  kind: 'set' | 'drop' | 'repeat' | 'cut';
  byte: number;
  length: number;
}
/** A damage to a file. */
const mutation = fc.record<Mutation>({
  at: fc.nat({ max: 100_000 }),
  kind: fc.constantFrom('set', 'drop', 'repeat', 'cut'),
  byte: fc.oneof(fc.nat({ max: 255 }), fc.constantFrom(0, 10, 13, 34, 39, 44, 59, 60, 61, 64, 92, 123, 125, 255)),
  length: fc.integer({ min: 1, max: 40 }),
});

/** A file with its damages. */
export function mutated(bytes: Uint8Array, mutations: readonly Mutation[]): Uint8Array {
  let out = [...bytes];
  for (const { at, kind, byte, length } of mutations) {
    const place = out.length === 0 ? 0 : at % out.length;
    if (kind === 'set') out[place] = byte;
    else if (kind === 'drop') out.splice(place, length);
    else if (kind === 'repeat') out.splice(place, 0, ...out.slice(place, place + length));
    else out = out.slice(0, place);
  }
  return Uint8Array.from(out);
}

/** Some damages, one after another. */
export const mutations = fc.array(mutation, { minLength: 1, maxLength: 6 });

/** What is said of something that cannot be read: a sentence. */
export const SENTENCE = /^[\p{Lu}“\d].*[.?”)]$/su;

/** What PostgreSQL does not keep: zero bytes, and halves of letters. */
export const UNSTORABLE = /\\u0000|\\ud[89a-f]/i;
