import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { MailboxHistory, MailboxView, TodayView } from '@baton/contract';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { preparePostgres } from '../../../../bin/lib/prepare.mjs';
import { createSecrets } from '../security/secrets';
import { TestWorld } from '../testing/test-world';
import { messageIdOf, messageOfId } from './message-id';
import { SentMark } from './sent-mark';

let world: TestWorld;
let dir: string;
beforeEach(async () => {
  world = await TestWorld.start();
  dir = mkdtempSync(join(tmpdir(), 'baton-backup-'));
});
afterEach(async () => {
  await world.close();
  rmSync(dir, { recursive: true, force: true });
});

const bin = () => preparePostgres() as string;
const backup = () => join(dir, 'backup.sql');

/** As a person makes and restores a backup, with PostgreSQL's own tools. */
function makeBackup(): void {
  execFileSync(join(bin(), 'pg_dump'), ['-f', backup(), world.store.url]);
}

const END_CONNECTIONS =
  'select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()';

/** Time does not go back with the database. */
async function restore(): Promise<void> {
  const { pool, url } = world.store;
  const { rows } = await pool.query<{ now: string }>('select now_ms as now from clock');
  await world.worker.connections.close();
  const anew = 'drop schema public cascade; drop schema drizzle cascade; create schema public;';
  await pool.query(END_CONNECTIONS);
  const psql = ['-q', '-v', 'ON_ERROR_STOP=1', '-c', anew, '-f', backup(), url];
  execFileSync(join(bin(), 'psql'), psql, { env: { ...process.env, PGOPTIONS: '-c client_min_messages=warning' } });
  // Nobody goes on with what the old tables were.
  await pool.query(END_CONNECTIONS);
  await pool.query('update clock set now_ms = $1', [rows[0]?.now]);
}

const people = Array.from({ length: 30 }, (_, i) => `p${i}@vines.example`);

async function begin(name: string, keepsSent = true): Promise<number> {
  const mailbox = await world.connect(name, { keepsSent, dailyQuota: 12 });
  const listId = await world.people(Object.fromEntries(people.map((p) => [p, 'silent'])));
  await world.begin({ listId, mailboxIds: [mailbox] });
  return mailbox;
}

const received = async () => Promise.all(people.map(async (p) => (await world.inbox(p)).map((m) => m.subject)));
const total = async () => (await received()).flat().length;
const mailboxView = async () => (await world.api.get<MailboxView[]>('/mailboxes'))[0] as MailboxView;

describe('a database from a backup', () => {
  it.each([true, false])(
    'sends nothing again that had left, first messages and follow-ups (provider keeps copies: %s)',
    async (keepsSent) => {
      const mailbox = await begin('ines', keepsSent);
      await world.drive('2026-11-03T12:00:00Z');
      makeBackup();
      const atBackup = await total();
      const atOthers = (await world.store.pool.query('select from other_sends')).rowCount;
      // Two more days, with follow-ups to some.
      await world.drive('2026-11-05T12:00:00Z');
      const atRestore = await total();
      expect(atRestore).toBeGreaterThan(atBackup + 10);
      // Of some there are two copies, as where both the provider and Baton file one.
      const { store } = world.provider;
      for (const { raw, receivedAt } of store.folder('ines@tidewaterkelp.example', 'Sent').slice(-3))
        store.addMail('ines@tidewaterkelp.example', 'Sent', raw, receivedAt);
      await restore();
      expect(await world.worker.settleRestored()).toBe(true);
      expect(await world.worker.settleRestored()).toBe(false);
      const { events } = await world.api.get<MailboxHistory>(`/mailboxes/${mailbox}/history`);
      expect(events.map((e) => e.words).join()).toContain(
        `${atRestore - atBackup} messages were found in the Sent folder that the database did not know to have left`,
      );
      expect((await world.store.pool.query('select from other_sends')).rowCount).toBe(atOthers);
      // None of it is taken for written by hand.
      expect((await world.store.pool.query('select from letters')).rowCount).toBe(0);
      // What left today counts today.
      expect((await mailboxView()).sentToday).toBeGreaterThan(0);
      await world.drive('2026-11-20T20:00:00Z');
      const subjects = await received();
      expect(subjects.map((s) => s.length)).toEqual(people.map(() => 2));
      expect(subjects.every(([first, second]) => second === `Re: ${first}`)).toBe(true);
      const { rows } = await world.store.pool.query<{ day: number; units: number }>(
        `select ((started_at - $1) / 86400000)::int as day, sum(units)::int as units from attempts group by 1`,
        [Date.parse('2026-11-02')],
      );
      expect(rows.filter((r) => r.units > 12)).toEqual([]);
    },
    300_000,
  );

  it('on another machine, which knows of nothing, looks into the Sent folder before the first message', async () => {
    await begin('ines');
    await world.drive('2026-11-02T12:00:00Z');
    makeBackup();
    await world.drive('2026-11-03T12:00:00Z');
    await restore();
    const other = world.anotherWorker();
    expect(await other.settleRestored()).toBe(false);
    await world.drive('2026-11-20T20:00:00Z', other);
    await other.connections.close();
    expect((await received()).map((s) => s.length)).toEqual(people.map(() => 2));
  }, 300_000);

  it('asks the person where the Sent folder cannot tell, and sends nothing until then', async () => {
    const mailbox = await begin('ines');
    await world.drive('2026-11-02T12:00:00Z');
    makeBackup();
    const atBackup = await total();
    await world.drive('2026-11-02T15:00:00Z');
    const atRestore = await total();
    await restore();
    // Its access was taken back meanwhile.
    await world.desk.call('POST', '/accounts', {
      address: 'ines@tidewaterkelp.example',
      password: 'other',
      dailyLimit: 99,
    });
    expect(await world.worker.settleRestored()).toBe(true);
    const view = await mailboxView();
    expect([view.id, view.held]).toEqual([mailbox, true]);
    const { needs } = await world.api.get<TodayView>('/today');
    const unsure = needs.filter((n) => n.kind === 'unconfirmed');
    expect(unsure.length).toBeGreaterThanOrEqual(atRestore - atBackup);
    expect(unsure[0]?.detail).toContain('restored from a backup');
    await world.drive('2026-11-03T20:00:00Z');
    expect(await total()).toBe(atRestore);
  }, 300_000);

  it('gives no number again that may be in a message that has left', async () => {
    await begin('ines');
    await world.drive('2026-11-02T12:00:00Z');
    makeBackup();
    await world.drive('2026-11-03T12:00:00Z');
    const last = async (table: string) =>
      Number((await world.store.pool.query(`select last_value from ${table}_id_seq`)).rows[0].last_value);
    const [tries, enrolments] = [await last('attempts'), await last('enrolments')];
    await restore();
    await world.worker.settleRestored();
    expect(await last('attempts')).toBeGreaterThanOrEqual(tries);
    expect(await last('enrolments')).toBeGreaterThan(enrolments + 100_000);
  }, 300_000);
});

describe('a message’s id', () => {
  const secrets = createSecrets(Buffer.alloc(32, 1));
  it('is known again, and no other', () => {
    const id = messageIdOf(secrets, { enrolmentId: 12, step: 3 }, 'tidewaterkelp.example');
    expect(id).toMatch(/^[\w.-]+@tidewaterkelp\.example$/);
    expect(id.length).toBeLessThan(100);
    expect(messageOfId(secrets, id)).toEqual({ enrolmentId: 12, step: 3 });
    expect(messageOfId(createSecrets(Buffer.alloc(32, 2)), id)).toBeNull();
    for (const odd of ['', '@', 'a.b@c', `${secrets.sign('u:12')}@c`, `${secrets.sign('s:12')}@c`, id.slice(3)])
      expect(messageOfId(secrets, odd)).toBeNull();
  });
});

describe('how far this machine has sent', () => {
  const path = () => join(dir, 'sent-mark.json');
  it('is kept by workspace, and never goes back', () => {
    const mark = new SentMark(path());
    mark.note('a', 5);
    mark.note('a', 3);
    mark.note('b', 2);
    mark.close();
    const other = new SentMark(path());
    other.note('a', 4);
    other.close();
    expect([other.read('a'), other.read('b'), other.read('c')]).toEqual([5, 2, 0]);
  });
  it.each(['', '[]', 'null', '{"a":"x"}', '{"a":1e400}', '\u0000'])('is nothing where the file says %j', (text) => {
    writeFileSync(path(), text);
    const mark = new SentMark(path());
    expect(mark.read('a')).toBe(0);
    mark.note('a', 7);
    mark.close();
    expect(new SentMark(path()).read('a')).toBe(7);
  });
  it('keeps nobody from sending where it cannot be written', () => {
    const mark = new SentMark(join(dir, 'no', 'such', 'folder'));
    mark.note('a', 7);
    mark.close();
    expect(mark.read('a')).toBe(7);
  });
});
