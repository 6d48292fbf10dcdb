type Arrays = Readonly<Record<string, Int32Array | Float64Array>>;

/**
 * Makes a class whose objects share one set of work arrays, as long as those are large enough. Only the object that was
 * made last may use them, and it finds in them what was left there.
 *
 * The arrays are properties of the prototype. That is odd, and done for speed: V8 takes what a prototype holds for
 * constant, and then reads such an array in a loop without asking each time what it is, where it lies and how long it is.
 * Measured (Node.js 20, the 23 workspaces of `npm run bench planning`): plans take 0.35 to 0.5 of the time that they take
 * with the same arrays as fields of an object that is passed in, to the same instant.
 *
 * @param make the arrays for a size
 * @param common up to what size the arrays are shared; objects of a larger one have their own
 */
export function sharedWorkspace<S extends object, A extends Arrays>(
  make: (size: S) => A,
  common: NoInfer<S>,
): new (size: S) => A {
  class Workspace {
    constructor(size: S) {
      if (Object.entries(size).some(([what, many]) => many > common[what as keyof S])) Object.assign(this, make(size));
    }
  }
  Object.assign(Workspace.prototype, make(common));
  return Workspace as unknown as new (size: S) => A;
}

/**
 * Programs are hardly ever larger. Once one has been, V8 sees arrays in two places and takes neither for constant any
 * more. Memory that is never used costs nothing.
 */
export const COMMON = {
  variables: 2 ** 13,
  rows: 2 ** 15,
  entries: 2 ** 17,
  structure: 2 ** 19,
  products: 2 ** 19,
};
