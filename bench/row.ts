/** One line of `npm run bench`: a ratio against a yardstick of the same run. */
export interface Row {
  name: string;
  ratio: number;
  /** The ratio is to stay at or below it. */
  goal: number;
  unit: string;
}

export function print(row: Row & Record<string, string | number>): void {
  console.log(JSON.stringify({ ...row, ratio: Number(row.ratio.toPrecision(3)) }));
}

/** The best of several tries in milliseconds: what the machine can do when it is left alone. */
export function best(tries: number, act: () => void): number {
  let ms = Infinity;
  for (let i = 0; i < tries; i++) {
    const from = performance.now();
    act();
    ms = Math.min(ms, performance.now() - from);
  }
  return ms;
}
