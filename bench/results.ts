import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { performance } from 'node:perf_hooks';
import { SERVER_MAIN } from '../bin/lib/build.mjs';
import { STATE } from '../bin/lib/paths.mjs';
import { startCluster } from '../bin/lib/postgres.mjs';
import { preparePostgres } from '../bin/lib/prepare.mjs';
import { Processes } from '../bin/lib/processes.mjs';
import type { ServerParts } from '../packages/server/src/http/context';
import { viewCampaignResults, viewResultGroups, viewResults } from '../packages/server/src/results/results-service';
import { openStore, type Store } from '../packages/server/src/store/database';
import { countResults } from '../packages/server/src/store/results/result-counting';
import { print } from './row';

/** Everybody is in two campaigns; of three steps the last has gone to half of the people. */
const CAMPAIGNS = 50;
const PEOPLE_EACH = 40_000;
const DELIVERIES = (CAMPAIGNS * PEOPLE_EACH * 5) / 2;
const EVENTS = 4 * DELIVERIES;
const LOOKED_AT = 17;
const BEGAN = Date.parse('2026-01-05T08:00:00Z');
const DAY_MS = 86_400_000;
const NOW = BEGAN + 330 * DAY_MS;
const TURNS = 5;

/** A campaign's page and the workspace's, with five million deliveries and twenty million events, against counting rows. */
export async function results(): Promise<void> {
  const dir = join(STATE, `bench-results-${process.pid}`);
  const cluster = await startCluster({ bin: preparePostgres() as string, dir });
  cluster.createDatabase('results');
  const store = openStore(cluster.url('results'));
  try {
    const env = { DATABASE_URL: store.url, BATON_KEY_FILE: join(dir, 'key') };
    await new Processes().run('The migration', SERVER_MAIN, ['migrate'], env);
    await fill(store);
    const counting = await timed(() => countResults(store));
    await store.pool.query('vacuum analyze');
    const parts = { store, clock: { now: () => Promise.resolve(NOW) } } as unknown as ServerParts;
    const count = (of: string) => store.pool.query(`select count(*) from ${of}`);
    const rows = {
      own: () => count(`deliveries where campaign_id = ${LOOKED_AT}`),
      all: async () => [await count('deliveries'), await count('events')],
      page: () => viewCampaignResults(parts, LOOKED_AT),
      byMessage: () => viewResultGroups(parts, LOOKED_AT, 'message'),
      byWeekday: () => viewResultGroups(parts, LOOKED_AT, 'weekday'),
      byDomain: () => viewResultGroups(parts, LOOKED_AT, 'domain'),
      workspace: () => viewResults(parts),
    };
    const took = Object.fromEntries(Object.keys(rows).map((name) => [name, Infinity])) as Record<
      keyof typeof rows,
      number
    >;
    // In turn, since other work on the machine comes and goes.
    for (let turn = 0; turn < TURNS; turn++)
      for (const [name, act] of Object.entries(rows) as [keyof typeof rows, () => Promise<unknown>][])
        took[name] = Math.min(took[name], await timed(act));
    const row = (name: string, what: keyof typeof rows, of: 'own' | 'all', goal: number) =>
      print({
        ...{ name, ratio: took[what] / took[of], goal },
        unit:
          of === 'own' ? 'times count(*) over the campaign’s deliveries' : 'of count(*) over all deliveries and events',
        ...{ milliseconds: Number(took[what].toPrecision(3)), countMilliseconds: Number(took[of].toPrecision(3)) },
      });
    row('a campaign’s results, 100,000 deliveries of 5,000,000', 'page', 'own', 3);
    row('the same told apart by weekday', 'byWeekday', 'own', 3);
    row('the same told apart by message', 'byMessage', 'own', 3);
    row('the same told apart by domain', 'byDomain', 'own', 60);
    row('the workspace’s results, 5,000,000 deliveries', 'workspace', 'all', 0.1);
    print({
      ...{ name: 'count everything afresh, once', ratio: counting / took.all, goal: 200 },
      ...{ unit: 'times count(*) over all', seconds: Math.round(counting / 1000) },
    });
  } finally {
    await store.close();
    await cluster.stop();
    await rm(dir, { recursive: true, force: true });
  }
}

async function timed(act: () => Promise<unknown>): Promise<number> {
  const from = performance.now();
  await act();
  return performance.now() - from;
}

/** Runs work on a table without its indexes, which are made again afterwards: rows by the million go in faster. */
async function withoutIndexes({ pool }: Store, table: string, work: () => Promise<unknown>): Promise<void> {
  const { rows } = await pool.query(
    `select i.indexname as name, i.indexdef as def from pg_indexes i
     where i.tablename = $1 and not exists (select from pg_constraint c where c.conname = i.indexname)`,
    [table],
  );
  for (const { name } of rows) await pool.query(`drop index "${name}"`);
  await work();
  for (const { def } of rows) await pool.query(def);
}

/** Whom a recipient is, by their number from 0. */
const contactOf = (n: string) =>
  `(${n} / ${PEOPLE_EACH} % ${CAMPAIGNS / 2} * ${PEOPLE_EACH} + ${n} % ${PEOPLE_EACH} + 1)`;

async function fill(store: Store): Promise<void> {
  const client = await store.pool.connect();
  try {
    // Without triggers and checks of references, which the rows below keep anyway.
    await client.query('set session_replication_role = replica');
    await client.query(`
      insert into workspace (id, name, zone, postal_address) values (1, 'Bench', 'Europe/Dublin', '') on conflict do nothing;
      insert into lists (id, name, source, created_at) values (1, 'People', '', 0);
      insert into mailboxes (id, address, sender_name, signature, smtp, imap, username, password_sealed, zone, windows, daily_quota, pace_seconds, keeps_sent, created_at)
        select n, 'm' || n || '@tidewaterkelp.example', '', '', '{}', '{}', '', '', 'UTC', '[]', 50, 60, true, 0 from generate_series(1, 10) n;
      insert into messages (id, name, content, created_at, updated_at) select n, 'Message ' || n, '{"subject": "", "body": ""}', 0, 0 from generate_series(1, 3) n;
      insert into campaigns (id, name, state, list_id, start_date, "window", window_zone, variants, created_at, started_at)
        select n, 'Campaign ' || n, 'running', 1, '2026-01-05', '{}', 'workspace', '[50, 50]', 0, ${BEGAN} + n * 5 * ${DAY_MS}::bigint from generate_series(1, ${CAMPAIGNS}) n;
      insert into campaign_steps (campaign_id, position, place, message_id, delay, tolerance) select c, s, s, s + 1, 3, 2
        from generate_series(1, ${CAMPAIGNS}) c, generate_series(0, 2) s;
      insert into contacts (id, address, key, domain, created_at) select n, 'p' || n || '@d' || n % 5000 || '.example', 'p' || n || '@d' || n % 5000 || '.example', 'd' || n % 5000 || '.example', 0
        from generate_series(1, ${(CAMPAIGNS * PEOPLE_EACH) / 2}) n;`);
    await withoutIndexes(store, 'enrolments', () =>
      client.query(`insert into enrolments (id, campaign_id, contact_id, list_row_id, state, sent, variant, changed_at, opened_at)
        select n + 1, n / ${PEOPLE_EACH} + 1, ${contactOf('n')}, ${contactOf('n')}, case when n % 40 = 0 then 'bounced' when n % 41 = 0 then 'unsubscribed' when n % 23 = 0 then 'replied' else 'done' end,
          3, n % 2, 0, case when n % 3 = 0 then ${BEGAN} end from generate_series(0, ${CAMPAIGNS * PEOPLE_EACH - 1}) n`),
    );
    await withoutIndexes(store, 'deliveries', () =>
      client.query(`insert into deliveries (enrolment_id, campaign_id, step, mailbox_id, day, state, sent_at)
        select e.id, e.campaign_id, s, e.id % 10 + 1, 0, 'sent',
          ${BEGAN} + (e.campaign_id * 5 + e.id % 20 + s * 4) * ${DAY_MS}::bigint + e.id % 32 * 900000 + e.id % 900000
        from generate_series(0, 2) s, enrolments e where s < 2 or e.id % 2 = 0`),
    );
    await withoutIndexes(store, 'delivery_signals', () =>
      client.query(`insert into delivery_signals (delivery_id, enrolment_id, opens, first_open_at, last_open_at, clicks, by_machine)
        select id, enrolment_id, 1, sent_at + 60000, sent_at + 60000, 0, 0 from deliveries where id % 3 = 0`),
    );
    await withoutIndexes(store, 'events', () =>
      client.query(`insert into events (at, kind, contact_id, enrolment_id, delivery_id, detail)
        select d.sent_at, case when k = 0 and d.id % 500 = 0 then 'complaint' else 'sent' end, ${contactOf('(d.enrolment_id - 1)')}, d.enrolment_id, d.id, ''
        from deliveries d, generate_series(0, ${EVENTS / DELIVERIES - 1}) k`),
    );
    await client.query(`insert into incoming (mailbox_id, uid_validity, uid, raw, received_at, from_name, from_key, subject, body, message_id, kind, because, did, enrolment_id, outcome)
      select 1, '1', e.id, '', d.sent_at + e.id % 200 * 3600000::bigint, '', '', '', '', '', 'reply', '', '', e.id, case when e.id % 2 = 0 then 'interested' end
      from enrolments e join deliveries d on d.enrolment_id = e.id and d.step = 0 where e.state = 'replied'`);
    await client.query('insert into result_changes (enrolment_id) select id from enrolments');
    await client.query('set session_replication_role = default');
    await client.query('analyze');
  } finally {
    client.release();
  }
}
