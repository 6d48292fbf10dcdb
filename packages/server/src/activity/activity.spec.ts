import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ActivityList } from '@baton/contract';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
  const mailbox = await world.connect('ines');
  const listId = await world.people({
    ...{ 'ana@vines.example': 'keen', 'bo@vines.example': 'silent' },
    ...{ 'cy@vines.example': 'unknown', 'dee@vines.example': 'leaves_by_link' },
  });
  await world.begin({ listId, mailboxIds: [mailbox] });
  await world.drive('2026-11-06T20:00:00Z');
  await world.api.post(`/mailboxes/${mailbox}/hold`);
});
afterAll(() => world.close());

const activity = (query = '') => world.api.get<ActivityList>(`/activity${query}`);
const counted = async (query: string) => (await activity(query)).entries.length;

describe('the activity', () => {
  it('has what happened to people and mailboxes, the newest first, each with whom and what it is about', async () => {
    const { entries, hasMore } = await activity();
    expect(hasMore).toBe(false);
    expect(entries[0]).toMatchObject({
      ...{ kind: null, person: null, campaign: null },
      mailbox: { address: 'ines@tidewaterkelp.example' },
    });
    const times = entries.map((e) => e.at);
    expect(times).toEqual([...times].sort((a, b) => b - a));
    expect(entries.find((e) => e.kind === 'hard_bounce')).toMatchObject({
      person: { address: 'cy@vines.example' },
      campaign: { name: 'Trial' },
      mailbox: { address: 'ines@tidewaterkelp.example' },
    });
    expect(entries.filter((e) => e.kind === 'sent').map((e) => e.step)).toContain(1);
    expect(new Set(entries.map((e) => e.key)).size).toBe(entries.length);
  });

  it('is filtered by kind and by what is searched', async () => {
    const all = await counted('');
    const each = await Promise.all(
      ['sent', 'answers', 'bounces', 'left', 'mailboxes'].map((group) => counted(`?group=${group}`)),
    );
    expect(each.every((n) => n > 0)).toBe(true);
    expect(each.reduce((a, b) => a + b)).toBe(all);
    expect(await counted('?search=bo@vines')).toBe(2);
    expect(await counted('?search=trial&group=bounces')).toBe(1);
    expect(await counted('?search=100%25')).toBe(0);
    await expect(activity('?group=other')).rejects.toThrow('400');
  });

  it('comes in parts', async () => {
    const { entries } = await activity();
    const first = await activity('?limit=3');
    expect(first).toEqual({ entries: entries.slice(0, 3), hasMore: true });
    expect((await activity(`?limit=${entries.length}`)).hasMore).toBe(false);
  });
});

describe('those who watch over Baton', () => {
  const get = async (path: string, host = `127.0.0.1:${world.config.port}`) => {
    const answer = await fetch(`${world.url}${path}`, { headers: { host } });
    return { status: answer.status, text: await answer.text() };
  };

  it('hear that it runs and can work', async () => {
    expect(await get('/healthz')).toEqual({ status: 200, text: 'ok' });
    expect(await get('/readyz')).toEqual({ status: 200, text: 'ok' });
  });

  it('get its counts in the form of Prometheus, without an address', async () => {
    const { rows } = await world.store.pool.query<{ n: number }>(
      `select count(*)::int as n from deliveries where state = 'sent'`,
    );
    for (let i = 0; i < 2; i++) {
      const { text } = await get('/metrics');
      expect(text).toContain(`baton_deliveries{state="sent"} ${rows[0]?.n}`);
      expect(text).toMatch(/baton_attempts_total\{verdict="accepted"\} \d+/);
      expect(text).toContain('baton_incoming_total{kind="reply"} 1');
      expect(text).toContain('baton_mailboxes{state="held"} 1');
      expect(text).toContain('baton_due_messages 0');
      expect(text).not.toContain('@');
    }
  });

  it('hear with 503 that the database is away', async () => {
    await world.store.pool.query('alter table workspace rename to workspace_away');
    const gone = await get('/readyz');
    await world.store.pool.query('alter table workspace_away rename to workspace');
    expect(gone.status).toBeGreaterThanOrEqual(500);
    expect((await get('/readyz')).status).toBe(200);
  });
});
