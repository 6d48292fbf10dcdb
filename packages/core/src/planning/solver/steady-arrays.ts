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

/**
 * Programs are hardly ever larger. Where one has been, its class has arrays of two places, and the engine takes neither
 * for constants any more; memory that is never used costs nothing.
 */
export const COMMON = {
  variables: 2 ** 13,
  rows: 2 ** 15,
  entries: 2 ** 17,
  joined: 2 ** 19,
  products: 2 ** 19,
};
