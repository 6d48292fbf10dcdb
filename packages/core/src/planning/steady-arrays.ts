type Arrays = Readonly<Record<string, Int32Array | Float64Array>>;

/**
 * A class whose objects all have the same arrays, as long as those are large enough. The arrays stand in its prototype,
 * where engines take them for constants: a loop reads them two to three times as quickly as arrays that come and go with
 * an object, of which it asks in every turn anew where they are and how long. They keep what was in them, and belong to
 * the object that was made last.
 *
 * @param make the arrays for a size
 * @param common up to what size the arrays are shared; objects of a larger one have their own
 */
export function steadyArrays<S extends object, A extends Arrays>(
  make: (size: S) => A,
  common: NoInfer<S>,
): new (size: S) => A {
  class Steady {
    constructor(size: S) {
      if (Object.entries(size).some(([what, many]) => many > common[what as keyof S])) Object.assign(this, make(size));
    }
  }
  Object.assign(Steady.prototype, make(common));
  return Steady as unknown as new (size: S) => A;
}

/** A program of that many variables, rows and so on is a large one; what they take together is a few megabytes. */
export const COMMON = {
  variables: 2 ** 12,
  rows: 2 ** 14,
  entries: 2 ** 16,
  joined: 2 ** 17,
  products: 2 ** 17,
};
