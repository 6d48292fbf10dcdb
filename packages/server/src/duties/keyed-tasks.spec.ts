import { describe, expect, it } from 'vitest';
import { KeyedTasks } from './keyed-tasks';

/** A task that ends when it is told to. */
function held() {
  let end: (n: number) => void = () => undefined;
  const ended = new Promise<number>((resolve) => (end = resolve));
  return { task: () => ended, end };
}

describe('tasks by key', () => {
  it('go on by themselves: a slow one holds up nobody, and is not begun twice', async () => {
    const tasks = new KeyedTasks(3);
    const slow = held();
    let begun = 0;
    tasks.begin(1, () => {
      begun++;
      return slow.task();
    });
    tasks.begin(2, () => Promise.resolve(5));
    expect(await tasks.turn(20)).toBe(5);
    expect([tasks.isBusy(1), tasks.isBusy(2)]).toEqual([true, false]);
    tasks.begin(1, () => {
      begun++;
      return Promise.resolve(1);
    });
    slow.end(2);
    expect(await tasks.turn(Infinity)).toBe(2);
    expect(begun).toBe(1);
    expect(tasks.isBusy(1)).toBe(false);
  });

  it('that fail are told of, and may be begun again', async () => {
    const tasks = new KeyedTasks(3);
    tasks.begin(1, () => Promise.reject(new Error('away')));
    await expect(tasks.turn(Infinity)).rejects.toThrow('away');
    expect(tasks.isBusy(1)).toBe(false);
    tasks.begin(1, () => Promise.resolve(1));
    expect(await tasks.turn(Infinity)).toBe(1);
  });

  it('run so many at once, and the others after them', async () => {
    const tasks = new KeyedTasks(2);
    const all = [held(), held(), held()];
    let running = 0;
    all.forEach((one, key) =>
      tasks.begin(key, () => {
        running++;
        return one.task();
      }),
    );
    await tasks.turn(20);
    expect(running).toBe(2);
    for (const one of all) one.end(1);
    expect(await tasks.turn(Infinity)).toBe(3);
  });
});
