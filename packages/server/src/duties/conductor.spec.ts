import { afterEach, describe, expect, it } from 'vitest';
import { createTestStore, MONDAY, type TestStore } from '../testing/test-store';
import { TestWorld } from '../testing/test-world';
import { readClock, updateClock } from '../store/workspace-rows';
import { changeClock } from '../time/workspace-clock';
import { Conductor, type OutsideWorld } from './conductor';
import type { Duty } from './duty';

let store: TestStore;
afterEach(() => store.drop());

const HOUR = 3_600_000;
const failures = {
  dutyFailed: (_: string, error: unknown) => {
    throw error;
  },
};

/** A duty with things to do at fixed instants. */
function duty(times: number[], log: string[], name = 'd'): Duty {
  const left = [...times];
  return {
    name,
    eventful: true,
    nextDue: () => Promise.resolve(left[0] ?? null),
    run(nowMs) {
      const due = left.filter((t) => t <= nowMs).length;
      left.splice(0, due);
      log.push(`${name}@${(nowMs - MONDAY) / HOUR}`);
      return Promise.resolve(due);
    },
  };
}

async function setUp(duties: Duty[], world: OutsideWorld | null = null) {
  store = await createTestStore();
  const real = { ms: 0, now: () => real.ms };
  return { real, conductor: new Conductor(store, duties, world, real, failures) };
}

const hoursOn = async () => ((await readClock(store.db)).nowMs - MONDAY) / HOUR;

describe('Conductor', () => {
  it('does things in the order of their time on the way to where it is driven', async () => {
    const log: string[] = [];
    const { conductor, real } = await setUp([
      duty([MONDAY + 2 * HOUR, MONDAY + 5 * HOUR], log, 'a'),
      duty([MONDAY + 3 * HOUR], log, 'b'),
    ]);
    await changeClock(store.db, { untilMs: MONDAY + 4 * HOUR }, real);
    await conductor.run();
    expect(log).toEqual(['a@2', 'b@3']);
    expect(await hoursOn()).toBe(4);
    expect((await readClock(store.db)).untilMs).toBeNull();
  });

  it('stops at the next event when asked for it', async () => {
    const log: string[] = [];
    const { conductor, real } = await setUp([duty([MONDAY + 2 * HOUR, MONDAY + 5 * HOUR], log)]);
    await changeClock(store.db, { toNextEvent: true }, real);
    await conductor.run();
    expect([log, await hoursOn()]).toEqual([['d@2'], 2]);
  });

  it('stands still while it is held, and goes at its rate otherwise', async () => {
    const log: string[] = [];
    const { conductor, real } = await setUp([duty([MONDAY + HOUR], log)]);
    real.ms = 10_000;
    await conductor.run();
    expect(await hoursOn()).toBe(0);
    await changeClock(store.db, { rate: 3600 }, real);
    real.ms += 500;
    await conductor.run();
    expect([log, await hoursOn()]).toEqual([[], 0.5]);
    real.ms += 700;
    await conductor.run();
    expect(log).toEqual(['d@1']);
    expect(await hoursOn()).toBeCloseTo(1.2, 5);
  });

  it('lets the outside world do what is due before its own duties see it', async () => {
    const log: string[] = [];
    const due = [MONDAY + HOUR, MONDAY + 3 * HOUR];
    const world: OutsideWorld = {
      advance(toMs) {
        while ((due[0] ?? Infinity) <= toMs) log.push(`world@${((due.shift() as number) - MONDAY) / HOUR}`);
        return Promise.resolve(due[0] ?? null);
      },
    };
    const { conductor, real } = await setUp(
      [duty([MONDAY + 2 * HOUR], log), duty([MONDAY + 3 * HOUR], log, 'e')],
      world,
    );
    await changeClock(store.db, { untilMs: MONDAY + 4 * HOUR }, real);
    await conductor.run();
    expect(log).toEqual(['world@1', 'd@2', 'world@3', 'e@3']);
  });

  it('goes on past a duty that never gets done', async () => {
    const stuck: Duty = {
      name: 'stuck',
      eventful: false,
      nextDue: () => Promise.resolve(MONDAY),
      run: () => Promise.resolve(0),
    };
    const { conductor, real } = await setUp([stuck]);
    await changeClock(store.db, { untilMs: MONDAY + HOUR }, real);
    await conductor.run();
    expect(await hoursOn()).toBe(1);
  });

  it('is one process at a time', async () => {
    const log: string[] = [];
    let second: Conductor | null = null;
    const world: OutsideWorld = {
      async advance() {
        await second?.run();
        return null;
      },
    };
    const { conductor, real } = await setUp([duty([MONDAY + HOUR], log, 'first')], world);
    second = new Conductor(store, [duty([MONDAY + HOUR], log, 'second')], null, real, failures);
    await changeClock(store.db, { untilMs: MONDAY + 2 * HOUR }, real);
    await conductor.run();
    expect(log).toEqual(['first@1']);
    await changeClock(store.db, { untilMs: MONDAY + 3 * HOUR }, real);
    await second.run();
    expect(log).toEqual(['first@1', 'second@2']);
  });

  it('goes by the machine’s clock in real time', async () => {
    const log: string[] = [];
    const { conductor, real } = await setUp([duty([MONDAY + HOUR], log)]);
    await updateClock(store.db, { simulated: false });
    real.ms = MONDAY;
    await conductor.run();
    real.ms = MONDAY + HOUR;
    await conductor.run();
    expect(log).toEqual(['d@1']);
    await expect(changeClock(store.db, { rate: 5 }, real)).rejects.toThrow('real time');
  });
});

describe('a simulated week', () => {
  it('goes the same way twice', async () => {
    store = await createTestStore();
    const play = async () => {
      const world = await TestWorld.start();
      try {
        const mailboxIds = [await world.connect('ines'), await world.connect('tomas')];
        const rows = Array.from({ length: 20 }, (_, i) => `p${i}@place${i % 7}.example,P${i}`);
        const listId = await world.importCsv(['email,given name', ...rows].join('\n'));
        const id = await world.begin({ listId, mailboxIds });
        await world.drive('2026-11-06T20:00:00Z');
        const sent = ['ines', 'tomas'].flatMap((n) =>
          world.provider.store.folder(`${n}@tidewaterkelp.example`, 'Sent').map((m) => `${n} ${m.receivedAt}`),
        );
        return { sent, states: await world.states(id), counts: world.provider.store.counts };
      } finally {
        await world.close();
      }
    };
    const once = await play();
    expect(once.sent.length).toBeGreaterThan(30);
    expect(await play()).toEqual(once);
  }, 240_000);
});
