import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { seededRandom } from '@baton/core';
import pg from 'pg';
import { STATE } from '../bin/lib/paths.mjs';
import { freePort } from '../bin/lib/ports.mjs';
import { startCluster } from '../bin/lib/postgres.mjs';
import { preparePostgres } from '../bin/lib/prepare.mjs';
import { apiClient, type ApiClient } from '../packages/server/src/demo/api-client';
import { clockOf, type ClockFile } from '../packages/server/src/time/system-clock';
import { Tormented } from './baton';
import { fillIn, type Scene } from './fill-in';
import { OwnDisk } from './own-disk';
import { judge, type Ban, type Verdict } from './judge';
import { startSink, type Mood, type Sink } from './sink';

const { values } = parseArgs({
  options: {
    seconds: { type: 'string', default: '120' },
    seed: { type: 'string', default: '1' },
    // Mounts that this process makes are seen by nobody else, and gone with it.
    'own-disk': { type: 'boolean', default: false },
  },
});
const seconds = Number(values.seconds);
const seed = Number(values.seed);
if (!(seconds > 0) || !Number.isInteger(seed)) throw new Error('Expected --seconds N and --seed N.');

/** A day goes by in two minutes. */
const RATE = 720;
const BEGINS = Date.parse('2026-11-02T06:00:00Z');
const WORKERS = 3;
const MINUTE_MS = 60_000;
/** In real time: between two torments, and how long all may take to come to rest afterwards. */
const BETWEEN_MS = 1400;
const REST_MS = 90_000;
/** The database may be away, and the server with it. */
const INSIST_MS = 250;
const INSIST_TRIES = 240;
/** How often is looked whether PostgreSQL still runs. */
const LOOK_MS = 500;
/** A follow-up leaves from a mailbox that was read in the last five minutes. */
const SEEN_WITHIN_MS = 6 * MINUTE_MS;

const dir = join(STATE, `torture-${process.pid}`);
mkdirSync(dir, { recursive: true });
const disk = values['own-disk'] ? OwnDisk.at(dir) : null;
const clockFile = join(dir, 'clock.json');
const clock = clockOf(clockFile);
const real = clockOf(undefined);
const random = seededRandom(seed);
const below = (n: number) => Math.floor(random() * n);
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const setClock = (nowMs: number) =>
  writeFileSync(clockFile, JSON.stringify({ realMs: real.now(), nowMs, rate: RATE } satisfies ClockFile));

/** The latest time that any process may have seen: where the clock was set back, it comes twice, and tells nothing. */
let latest = -Infinity;

/** Sets the clock back; no ban holds for what comes a second time. */
function setBack({ bans }: Trial, minutes: number): void {
  latest = Math.max(latest, clock.now());
  const nowMs = clock.now() - minutes * MINUTE_MS;
  setClock(nowMs);
  for (const ban of bans) if (ban.what === 'held') ban.to = Math.min(ban.to, nowMs);
}

/** From now on, or from when times are told apart again. */
const bannedFrom = () => Math.max(clock.now(), latest);

interface Trial {
  sink: Sink;
  mood: Mood;
  baton: Tormented;
  cluster: Awaited<ReturnType<typeof startCluster>>;
  api: ApiClient;
  scene: Scene;
  /** Null where a trial can have none. */
  disk: OwnDisk | null;
  /** Whether PostgreSQL is to be away just now. */
  down: { wanted: boolean };
  bans: Ban[];
  done: Record<string, number>;
}

/** Asks the API until it does it, or until it is clear that it will not: it may be gone just now. */
async function insist(act: () => Promise<unknown>): Promise<void> {
  for (let i = 0; ; i++) {
    try {
      await act();
      return;
    } catch (error) {
      if (i > INSIST_TRIES) throw error;
      await pause(INSIST_MS);
    }
  }
}

/** Stops PostgreSQL at once, as a crash does, and starts it after a while. */
async function crash({ cluster, down }: Trial, downMs: number): Promise<void> {
  if (!cluster.isRunning()) return;
  down.wanted = true;
  const pid = Number(readFileSync(join(cluster.data, 'postmaster.pid'), 'utf8').split('\n')[0]);
  process.kill(pid, 'SIGQUIT');
  while (existsSync(join(cluster.data, 'postmaster.pid'))) await pause(20);
  await pause(downMs);
  down.wanted = false;
  cluster.startAgain();
}

/** Leaves no space where the database and all else that Baton keeps is. PostgreSQL may end over it. */
async function fill(disk: OwnDisk): Promise<void> {
  disk.fill();
  await pause(1000 + below(2000));
  disk.free();
}

/** Does what the launcher does where PostgreSQL has ended by itself. @returns how to stop that */
function watchOver({ cluster, disk, down }: Trial): () => void {
  const look = () => {
    if (down.wanted || cluster.isRunning()) return;
    try {
      cluster.startAgain();
    } catch (error) {
      // With a full disk it cannot be: later, then.
      if (!disk?.isFull) throw error;
    }
  };
  const timer = setInterval(look, LOOK_MS);
  return () => clearInterval(timer);
}

/** Holds something, lets some time pass, and releases it. */
async function hold({ api, bans }: Trial, path: [hold: string, release: string]): Promise<void> {
  await insist(() => api.post(path[0]));
  const from = bannedFrom();
  await pause(500 + below(1500));
  const to = clock.now();
  // Meanwhile the clock may have been set back.
  if (path[0] === '/hold-all' && to > from) bans.push({ what: 'held', address: null, from, to });
  await insist(() => api.post(path[1]));
}

const somebody = ({ scene }: Trial) => scene.people[below(scene.people.length)] as string;

/** What may happen, and how often in proportion. */
const TORMENTS: readonly [name: string, often: number, act: (trial: Trial) => Promise<void> | void][] = [
  ['a worker killed', 50, ({ baton }) => baton.kill(`worker ${below(WORKERS)}`)],
  [
    'two workers killed',
    14,
    ({ baton }) => {
      const spared = below(WORKERS);
      for (let n = 0; n < WORKERS; n++) if (n !== spared) baton.kill(`worker ${n}`);
    },
  ],
  ['the server killed', 4, ({ baton }) => baton.kill('server')],
  ['PostgreSQL crashed', 5, (trial) => crash(trial, 0)],
  ['PostgreSQL away', 4, (trial) => crash(trial, 1000 + below(2000))],
  ['a full disk', 5, ({ disk }) => (disk ? fill(disk) : undefined)],
  ['everything held', 4, (trial) => hold(trial, ['/hold-all', '/release-all'])],
  [
    'the campaign held',
    4,
    (trial) =>
      hold(trial, [`/campaigns/${trial.scene.campaignId}/hold`, `/campaigns/${trial.scene.campaignId}/release`]),
  ],
  [
    'somebody suppressed',
    8,
    async (trial) => {
      const address = somebody(trial);
      await insist(() => trial.api.post('/suppressions', { what: address, reason: 'asked by telephone' }));
      trial.bans.push({ what: 'suppressed', address, from: bannedFrom(), to: Infinity });
    },
  ],
  [
    'somebody replied',
    14,
    ({ sink, bans }) => {
      const first = sink.taken.filter((t) => !t.isFollowUp && t.to[0] !== t.from);
      const of = first[below(Math.max(1, first.length))];
      if (!of) return;
      const [address = ''] = of.to;
      const raw = `From: ${address}\r\nMessage-ID: <r${sink.taken.length}.${below(1e9)}@vines.example>\r\nIn-Reply-To: <${of.messageId}>\r\nSubject: Re: Kelp\r\n\r\nYes, please.\r\n`;
      sink.store.addMail(of.from, 'INBOX', Buffer.from(raw), clock.now());
      bans.push({ what: 'replied', address, from: bannedFrom() + SEEN_WITHIN_MS, to: Infinity });
    },
  ],
  ['the clock jumps ahead', 2, () => setClock(clock.now() + (1 + below(120)) * MINUTE_MS)],
  ['the clock jumps back', 1, (trial) => setBack(trial, 1 + below(20))],
  ['the Sent folders cannot be searched', 4, ({ sink, scene }) => refuseSearches(sink, scene)],
  ['a storm of faults', 6, (trial) => storm(trial)],
];

function refuseSearches(sink: Sink, { mailboxIds }: Scene): void {
  for (let i = 0; i < mailboxIds.length; i++)
    sink.imapFaults.order(`m${i}@tidewaterkelp.example`, 'refuse_search', 1 + below(3));
}

async function storm({ mood }: Trial): Promise<void> {
  mood.faults = 8;
  await pause(800);
  mood.faults = 1;
}

async function torment(trial: Trial): Promise<void> {
  const all = TORMENTS.reduce((sum, [, often]) => sum + often, 0);
  const ends = real.now() + seconds * 1000;
  while (real.now() < ends) {
    await pause(BETWEEN_MS * (0.3 + 1.2 * random()));
    let draw = random() * all;
    const [name, , act] = TORMENTS.find(([, often]) => (draw -= often) < 0) ?? (TORMENTS[0] as (typeof TORMENTS)[0]);
    if (name === 'a full disk' && !trial.disk) continue;
    trial.done[name] = (trial.done[name] ?? 0) + 1;
    await act(trial);
  }
}

/** Waits until no try is open any more: each is looked for twice in the Sent folder. */
async function rest({ cluster }: Trial): Promise<void> {
  const database = new pg.Client({ connectionString: cluster.url('torture') });
  await database.connect();
  const ends = real.now() + REST_MS;
  for (let quiet = 0; quiet < 5 && real.now() < ends;) {
    await pause(1000);
    const { rows } = await database.query<{ n: number }>(
      `select count(*)::int as n from deliveries where state = 'sending'`,
    );
    quiet = rows[0]?.n === 0 ? quiet + 1 : 0;
  }
  await database.end();
}

async function main(): Promise<boolean> {
  setClock(BEGINS);
  const mood: Mood = { faults: 0 };
  const sink = await startSink(clock, random, mood);
  const cluster = await startCluster({ bin: preparePostgres() as string, dir: join(dir, 'postgres') });
  cluster.createDatabase('torture');
  const web = await freePort();
  const baton = new Tormented(
    {
      ...{ DATABASE_URL: cluster.url('torture'), BATON_PORT: String(web), BATON_PUBLIC_PORT: String(await freePort()) },
      ...{ BATON_KEY_FILE: join(dir, 'key'), BATON_CLOCK_FILE: clockFile, BATON_ZONE: 'UTC', BATON_LOG_LEVEL: 'warn' },
    },
    join(STATE, 'torture.log'),
  );
  let stopWatching: () => void = () => undefined;
  try {
    await baton.run('migrate');
    await baton.keep('server', 'serve');
    const api = apiClient(`http://127.0.0.1:${web}`);
    const scene = await fillIn(api, sink, '2026-11-02', seconds);
    const trial: Trial = {
      ...{ sink, mood, baton, cluster, api, scene, disk },
      down: { wanted: false },
      bans: [],
      done: {},
    };
    stopWatching = watchOver(trial);
    await Promise.all(Array.from({ length: WORKERS }, (_, i) => baton.keep(`worker ${i}`, 'work')));
    mood.faults = 1;
    await torment(trial);
    mood.faults = 0;
    await rest(trial);
    await baton.stop();
    const verdict = await judge(cluster.url('torture'), sink.taken, trial.bans);
    return tell(trial, verdict);
  } finally {
    stopWatching();
    await baton.stop();
    await sink.close();
    await cluster.stop();
    disk?.leave();
    rmSync(dir, { recursive: true, force: true });
  }
}

/** Prints what was done and what came of it. @returns whether all promises were kept */
function tell({ sink, baton, bans, done }: Trial, verdict: Verdict): boolean {
  const broken = (['twice', 'lost', 'overQuota', 'afterStop'] as const).filter((key) => verdict[key].length > 0);
  for (const key of broken) for (const line of verdict[key]) console.log(`${key}: ${line}`);
  const { taken, twice, lost, overQuota, afterStop, unconfirmed, states } = verdict;
  console.log(
    JSON.stringify({
      ...{ seconds, seed, kills: baton.kills, torments: done, faults: sink.met, stops: bans.length, taken },
      ...{ twice: twice.length, lost: lost.length, overQuota: overQuota.length, afterStop: afterStop.length },
      ...{ unconfirmed, states },
    }),
  );
  if (broken.length > 0) console.log('What the processes said is in .baton/torture.log.');
  return broken.length === 0;
}

process.exit((await main()) ? 0 : 1);
