/** Delay and tolerance of one step, in working days. */
export interface StepDelay {
  delay: number;
  tolerance: number;
}

/** For each open day, the last open day whose people have the step released, and due, by its end; -1 for none. */
export interface StepWindows {
  released: Int32Array;
  due: Int32Array;
}

/**
 * @param workday number of working days up to and including each open day; increasing
 * @param allowed the open days on which the step may be sent
 */
export function stepWindows(
  { delay, tolerance }: StepDelay,
  workday: ArrayLike<number>,
  allowed: Uint8Array,
): StepWindows {
  const days = allowed.length;
  const out = { released: new Int32Array(days), due: new Int32Array(days) };
  const after = new Float64Array(days);
  let next = Infinity;
  for (let j = days - 1; j >= 0; j--) {
    after[j] = next;
    if (allowed[j]) next = workday[j]!;
  }
  let [released, due] = [-1, -1];
  for (let j = 0; j < days; j++) {
    // Two messages are never on one day, whatever the delay.
    while (released + 1 < j && workday[j]! - workday[released + 1]! >= delay) released++;
    while (due + 1 <= released && after[j]! - workday[due + 1]! > delay + tolerance) due++;
    out.released[j] = released;
    out.due[j] = Math.min(due, released);
  }
  return out;
}

/** The open days from which the next step, sent on `allowed` days only, can be in time. */
export function allowedBefore(
  { delay, tolerance }: StepDelay,
  workday: ArrayLike<number>,
  allowed: Uint8Array,
): Uint8Array<ArrayBuffer> {
  const days = allowed.length;
  const out = new Uint8Array(days);
  let next = 0;
  for (let j = 0; j < days; j++) {
    next = Math.max(next, j + 1);
    while (next < days && (!allowed[next] || workday[next]! - workday[j]! < delay)) next++;
    if (next < days && workday[next]! - workday[j]! <= delay + tolerance) out[j] = 1;
  }
  return out;
}
