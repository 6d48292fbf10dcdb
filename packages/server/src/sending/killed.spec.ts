import { fork, type ChildProcess } from 'node:child_process';
import { rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { seededRandom } from '@baton/core';
import type { ShellView } from '@baton/contract';
import { build, SERVER_MAIN } from '../../../../bin/lib/build.mjs';
import { TestWorld } from '../testing/test-world';

const KEY_FILE = join(tmpdir(), `baton-killed-${process.pid}.key`);
const PEOPLE = 30;
const KILLS = 5;
let world: TestWorld;

beforeAll(async () => {
  await build({ web: false });
  // The key the test world seals with.
  await writeFile(KEY_FILE, Buffer.alloc(32, 5));
  world = await TestWorld.start();
}, 120_000);
afterAll(async () => {
  await world.close();
  await rm(KEY_FILE, { force: true });
});

async function startWorker(): Promise<ChildProcess> {
  const worker = fork(SERVER_MAIN, ['work'], {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: {
      ...process.env,
      DATABASE_URL: world.config.databaseUrl,
      BATON_KEY_FILE: KEY_FILE,
      BATON_SIMULATOR_URL: world.config.simulatorUrl ?? '',
      BATON_LOG_LEVEL: 'error',
    },
  });
  await new Promise((resolve) => worker.once('message', resolve));
  return worker;
}

async function kill(worker: ChildProcess): Promise<void> {
  const ended = new Promise((resolve) => worker.once('exit', resolve));
  worker.kill('SIGKILL');
  await ended;
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

describe('a worker killed at any moment', () => {
  it('goes on when it is started again, and sends nothing twice', async () => {
    const ines = await world.connect('ines', { dailyQuota: 30, paceSeconds: 30 });
    const tomas = await world.connect('tomas', { dailyQuota: 30, paceSeconds: 30 });
    const people = Object.fromEntries(Array.from({ length: PEOPLE }, (_, i) => [`p${i}@vines.example`, 'silent']));
    const id = await world.begin({ listId: await world.people(people), mailboxIds: [ines, tomas] });
    // The server thinks before it says that it took a message: kills fall into that gap too.
    for (const name of ['ines', 'tomas'])
      await world.desk.call('POST', '/faults', { account: `${name}@tidewaterkelp.example`, slowMs: 40 });
    await world.store.pool.query('update clock set until_ms = $1', [Date.parse('2026-11-06T20:00:00Z')]);
    const seed = Math.floor(performance.timeOrigin) % 100_000;
    const random = seededRandom(seed);
    for (let i = 0; i < KILLS; i++) {
      const worker = await startWorker();
      await pause(150 + random() * 900);
      await kill(worker);
    }
    const last = await startWorker();
    for (;;) {
      const { clock } = await world.api.get<ShellView>('/shell');
      if (!clock.driving) break;
      await pause(100);
    }
    await kill(last);

    const states = await world.states(id);
    const { rows: stuck } = await world.store.pool.query(
      `select enrolment_id, step, state, reason, instant from deliveries where state <> 'sent'`,
    );
    expect(stuck, `seed ${seed}`).toEqual([]);
    expect(Object.values(states), `seed ${seed}`).toEqual(Array(PEOPLE).fill('done'));
    for (const address of Object.keys(people)) {
      const subjects = (await world.inbox(address)).map((m) => m.subject);
      const name = (address.split('@')[0] as string).toUpperCase();
      expect(subjects, `seed ${seed}`).toEqual([`Kelp for ${name}`, `Re: Kelp for ${name}`]);
    }
    for (const name of ['ines', 'tomas']) {
      const perDay = new Map<number, number>();
      for (const m of world.provider.store.folder(`${name}@tidewaterkelp.example`, 'Sent')) {
        const day = Math.floor(m.receivedAt / 86_400_000);
        perDay.set(day, (perDay.get(day) ?? 0) + 1);
      }
      // One more on the first day: the test of the connection.
      for (const n of perDay.values()) expect(n, `seed ${seed}`).toBeLessThanOrEqual(31);
    }
  }, 300_000);
});
