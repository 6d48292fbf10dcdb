/** One line of `npm run bench`: a ratio against a yardstick of the same run. */
export interface Row {
  name: string;
  ratio: number;
  /** The ratio is to stay at or below it. */
  goal: number;
  unit: string;
}

export function print(row: Row & Record<string, string | number>): void {
  const short = (value: number) => Number(value.toPrecision(4));
  console.log(JSON.stringify({ ...row, ratio: short(row.ratio), goal: short(row.goal) }));
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

/** The best of each of two, tried in turn, so that what else the machine does meets both. */
export function bestInTurn(tries: number, one: () => void, other: () => void): [number, number] {
  let [first, second] = [Infinity, Infinity];
  for (let i = 0; i < tries; i++) {
    first = Math.min(first, best(1, one));
    second = Math.min(second, best(1, other));
  }
  return [first, second];
}
