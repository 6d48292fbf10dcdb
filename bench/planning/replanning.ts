import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { SERVER_MAIN } from '../../bin/lib/build.mjs';
import { STATE } from '../../bin/lib/paths.mjs';
import { startCluster } from '../../bin/lib/postgres.mjs';
import { preparePostgres } from '../../bin/lib/prepare.mjs';
import { Processes } from '../../bin/lib/processes.mjs';
import { replan } from '../../packages/server/src/planning/replan';
import { openStore, type Store } from '../../packages/server/src/store/database';
import { ensureWorkspace } from '../../packages/server/src/store/workspace-rows';
import { print } from '../row';

export const PEOPLE = 100_000;
const MAILBOXES = 20;
export const NOW = Date.parse('2026-11-02T08:00:00Z');

/** Planning again after one reply, stored, against the first plan, stored: a campaign of 100,000 by 3 messages. */
export async function replanning(): Promise<void> {
  const dir = join(STATE, `bench-replan-${process.pid}`);
  const cluster = await startCluster({ bin: preparePostgres() as string, dir });
  cluster.createDatabase('replan');
  const store = openStore(cluster.url('replan'));
  try {
    const env = { DATABASE_URL: store.url, BATON_KEY_FILE: join(dir, 'key') };
    await new Processes().run('The migration', SERVER_MAIN, ['migrate'], env);
    await fill(store);
    const first = await timed(() => replan(store, NOW));
    const again: { ms: number; changed: number | null }[] = [];
    for (const person of [40_000, 60_000, 80_000]) {
      await store.pool.query(`update enrolments set state = 'replied' where id = $1`, [person]);
      await store.pool.query('delete from deliveries where enrolment_id = $1', [person]);
      again.push(await timed(() => replan(store, NOW)));
    }
    const ms = Math.min(...again.map((a) => a.ms));
    print({
      name: `re-plan after one reply in a campaign of ${PEOPLE.toLocaleString('en')}, stored`,
      ratio: ms / first.ms,
      goal: 0.1,
      unit: 'times the first plan, stored',
      milliseconds: Math.round(ms),
      first: Math.round(first.ms),
      deliveries: first.changed ?? 0,
      changed: again.at(-1)?.changed ?? 0,
    });
  } finally {
    await store.close();
    await cluster.stop();
    await rm(dir, { recursive: true, force: true });
  }
}

async function timed(act: () => Promise<number | null>): Promise<{ ms: number; changed: number | null }> {
  const before = performance.now();
  const changed = await act();
  return { ms: performance.now() - before, changed };
}

/** A workspace of 20 mailboxes with one campaign of three messages to 100,000 people, which runs and has no plan yet. */
export async function fill({ db, pool }: Store): Promise<void> {
  await ensureWorkspace(db, {
    workspace: { name: 'Bench', zone: 'UTC', postalAddress: '' },
    clock: { simulated: true, nowMs: NOW, anchorRealMs: 0, rate: 0 },
  });
  const window = JSON.stringify([1, 2, 3, 4, 5, 6, 7].map((d) => (d < 6 ? [[540, 1020]] : [])));
  const server = JSON.stringify({ host: '127.0.0.1', port: 1, security: 'none' });
  await pool.query(
    `insert into mailboxes (address, sender_name, signature, smtp, imap, username, password_sealed, zone, windows, daily_quota, pace_seconds, keeps_sent, created_at)
     select 'm' || i || '@tidewaterkelp.example', 'M', '', $1, $1, 'm', '', 'UTC', $2, 80, 60, true, 0 from generate_series(1, ${MAILBOXES}) i`,
    [server, window],
  );
  await pool.query(`insert into lists (name, source, created_at) values ('All', '', 0)`);
  await pool.query(
    `insert into contacts (address, key, domain, created_at) select a, a, split_part(a, '@', 2), 0 from (select 'p' || i || '@vines' || i % 900 || '.example' as a from generate_series(1, ${PEOPLE}) i) n`,
  );
  await pool.query(
    `insert into list_rows (list_id, contact_id, position, fields) select 1, id, id, '{}' from contacts`,
  );
  await pool.query(
    `insert into campaigns (name, list_id, state, start_date, "window", window_zone, created_at) values ('Bench', 1, 'running', '2026-11-02', $1, 'workspace', 0)`,
    [JSON.stringify({ weekdays: [1, 2, 3, 4, 5], from: 540, to: 1020 })],
  );
  await pool.query(
    `insert into campaign_steps (campaign_id, position, place, delay, tolerance) values (1, 0, 0, 0, 0), (1, 1, 1, 3, 2), (1, 2, 2, 4, 2)`,
  );
  await pool.query('insert into campaign_mailboxes (campaign_id, mailbox_id) select 1, id from mailboxes');
  await pool.query(
    `insert into enrolments (campaign_id, contact_id, list_row_id, state, changed_at) select 1, c.id, r.id, 'waiting', 0 from contacts c join list_rows r on r.contact_id = c.id`,
  );
  await pool.query('analyze');
}
