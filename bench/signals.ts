import { rm } from 'node:fs/promises';
import { Agent, get, type Server } from 'node:http';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import Koa from 'koa';
import { SERVER_MAIN } from '../bin/lib/build.mjs';
import { STATE } from '../bin/lib/paths.mjs';
import { startCluster } from '../bin/lib/postgres.mjs';
import { preparePostgres } from '../bin/lib/prepare.mjs';
import { Processes } from '../bin/lib/processes.mjs';
import { createPublicApp, listen } from '../packages/server/src/http/app';
import type { ServerParts } from '../packages/server/src/http/context';
import { createSecrets } from '../packages/server/src/security/secrets';
import { watchingOf } from '../packages/server/src/sending/signed-links';
import { OwnMachine } from '../packages/server/src/signals/own-machine';
import { openStore, type Store } from '../packages/server/src/store/database';
import { print } from './row';

const DELIVERIES = 2000;
const REQUESTS = 6000;
const AT_ONCE = 32;
/** Redirects a second, and for how long. */
const PER_SECOND = 200;
const SECONDS = 10;
const MOST_MS = 50;
const BROWSER = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0';

/** Writing an open or a click down against a bare handler that inserts one row; how long a redirect takes. */
export async function signals(): Promise<void> {
  const dir = join(STATE, `bench-signals-${process.pid}`);
  const cluster = await startCluster({ bin: preparePostgres() as string, dir });
  cluster.createDatabase('signals');
  const store = openStore(cluster.url('signals'));
  const servers: Server[] = [];
  try {
    const env = { DATABASE_URL: store.url, BATON_KEY_FILE: join(dir, 'key') };
    await new Processes().run('The migration', SERVER_MAIN, ['migrate'], env);
    await fill(store);
    const secrets = createSecrets(Buffer.alloc(32, 7));
    const clock = { now: () => Promise.resolve(Date.now()) };
    const parts = { store, secrets, clock, ownMachine: new OwnMachine(true) };
    servers.push(await listen(createPublicApp(parts as unknown as ServerParts), '127.0.0.1', 0));
    servers.push(await listen(bareApp(store), '127.0.0.1', 0));
    const [own = '', bare = ''] = servers.map((s) => `http://127.0.0.1:${(s.address() as { port: number }).port}`);
    const links = Array.from({ length: DELIVERIES }, (_, i) => {
      const all = { watchesOpens: 'all', watchesClicks: 'all' } as const;
      const watching = watchingOf({ secrets, publicAddress: own }, i + 1, all, 'letter');
      return watching?.link('https://tidewaterkelp.example/soil?from=letter', 3) ?? '';
    });
    const click = (n: number) => links[n % DELIVERIES] as string;
    await inAll(500, (n) => ask(click(n)));
    const rate = { own: 0, bare: 0 };
    // In turn, since other work on the machine comes and goes.
    for (let turn = 0; turn < 3; turn++) {
      rate.bare = Math.max(rate.bare, await inAll(REQUESTS, () => ask(`${bare}/`)));
      rate.own = Math.max(rate.own, await inAll(REQUESTS, (n) => ask(click(n))));
    }
    print({
      ...{ name: 'write clicks down, durably', ratio: rate.bare / rate.own, goal: 2 },
      unit: 'times as long as a bare handler that inserts one row',
      ...{ perSecond: Math.round(rate.own), barePerSecond: Math.round(rate.bare) },
    });
    const late = await steadily(click);
    const bareLate = await steadily(() => `${bare}/`);
    print({
      ...{ name: `a redirect at ${PER_SECOND} a second, 99th percentile`, ratio: late / MOST_MS, goal: 1 },
      ...{
        unit: `of ${MOST_MS} ms`,
        milliseconds: Number(late.toPrecision(3)),
        bareMilliseconds: Number(bareLate.toPrecision(3)),
      },
    });
  } finally {
    for (const server of servers) server.close();
    agent.destroy();
    await store.close();
    await cluster.stop();
    await rm(dir, { recursive: true, force: true });
  }
}

async function fill({ pool }: Store): Promise<void> {
  await pool.query(`
    insert into lists (id, name, source, created_at) values (1, 'People', '', 0);
    insert into campaigns (id, name, state, list_id, start_date, "window", window_zone, created_at)
      values (1, 'Bench', 'finished', 1, '2026-11-02', '{}', 'workspace', 0);
    insert into mailboxes (id, address, sender_name, signature, smtp, imap, username, password_sealed, zone, windows, daily_quota, pace_seconds, keeps_sent, created_at)
      values (1, 'ines@tidewaterkelp.example', '', '', '{}', '{}', '', '', 'UTC', '[]', 50, 60, true, 0);
    insert into contacts (id, address, key, domain, created_at) select n, 'p' || n || '@vines.example', 'p' || n || '@vines.example', 'vines.example', 0
      from generate_series(1, ${DELIVERIES}) n;
    insert into enrolments (id, campaign_id, contact_id, list_row_id, state, changed_at) select n, 1, n, n, 'done', 0
      from generate_series(1, ${DELIVERIES}) n;
    insert into deliveries (id, enrolment_id, campaign_id, step, mailbox_id, day, state, sent_at) select n, n, 1, 0, 1, 20000, 'sent', 1
      from generate_series(1, ${DELIVERIES}) n;
    create table bare (id serial primary key, at bigint not null, what text not null);`);
}

function bareApp({ pool }: Store): Koa {
  const app = new Koa();
  app.use(async (ctx) => {
    await pool.query('insert into bare (at, what) values ($1, $2)', [Date.now(), 'click']);
    ctx.status = 302;
    ctx.set('Location', 'https://tidewaterkelp.example/soil');
    ctx.body = '';
  });
  return app;
}

const agent = new Agent({ keepAlive: true, maxSockets: 256 });

function ask(url: string): Promise<void> {
  return new Promise((resolve, reject) => {
    get(url, { agent, headers: { 'user-agent': BROWSER } }, (answer) => {
      answer.resume();
      answer.on('end', () => (answer.statusCode === 302 ? resolve() : reject(new Error(String(answer.statusCode)))));
    }).on('error', reject);
  });
}

/** @returns how many a second */
async function inAll(requests: number, act: (n: number) => Promise<void>): Promise<number> {
  const from = performance.now();
  let next = 0;
  const one = async () => {
    while (next < requests) await act(next++);
  };
  await Promise.all(Array.from({ length: AT_ONCE }, one));
  return (requests / (performance.now() - from)) * 1000;
}

/** Asks evenly, whether or not answers have come. @returns the 99th percentile of the time that one took, in milliseconds */
async function steadily(click: (n: number) => string): Promise<number> {
  const took: number[] = [];
  const all: Promise<void>[] = [];
  const from = performance.now();
  for (let n = 0; n < PER_SECOND * SECONDS; n++) {
    const due = from + (n * 1000) / PER_SECOND;
    const wait = due - performance.now();
    if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait));
    const began = performance.now();
    all.push(ask(click(n)).then(() => void took.push(performance.now() - began)));
  }
  await Promise.all(all);
  return took.sort((a, b) => a - b)[Math.floor(took.length * 0.99)] ?? Infinity;
}
