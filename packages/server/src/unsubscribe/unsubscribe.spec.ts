import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
let link: string;
let campaign: number;
beforeAll(async () => {
  world = await TestWorld.start();
  const mailbox = await world.connect('ines');
  const listId = await world.people({ 'ana@vines.example': 'silent', 'bo@vines.example': 'silent' });
  campaign = await world.begin({ listId, mailboxIds: [mailbox] });
  await world.drive('2026-11-02T20:00:00Z');
  link = (await world.inbox('ana@vines.example'))[0]?.unsubscribeLink ?? '';
});
afterAll(() => world.close());

describe('an unsubscribe link', () => {
  it('stands in the header and in the text, and is the recipient’s own', async () => {
    const [ana] = await world.inbox('ana@vines.example');
    const [bo] = await world.inbox('bo@vines.example');
    // One press is for addresses that nobody on the way can read (RFC 8058, 3.1), which the test's is not.
    expect(ana?.oneClick).toBe(false);
    expect(ana?.text).toContain(link);
    expect(bo?.unsubscribeLink).not.toBe(link);
  });

  it('changes nothing when it is only opened, as scanners do', async () => {
    const page = await fetch(link);
    expect(page.status).toBe(200);
    expect(await page.text()).toContain('<button>Leave this list</button>');
    expect((await world.states(campaign))['ana@vines.example']).toBe('in_progress');
  });

  it('that Baton did not make leads nowhere', async () => {
    const other = link.replace(/.$/, (c) => (c === 'A' ? 'B' : 'A'));
    for (const url of [other, `${world.publicUrl}/u/x`, `${world.publicUrl}/u/%3Cscript%3E`]) {
      const answer = await fetch(url, { method: 'POST' });
      expect(answer.status).toBe(404);
      expect(await answer.text()).not.toContain('<script');
    }
  });

  it('lets the person leave, once for all, however often it is pressed', async () => {
    for (let i = 0; i < 2; i++) {
      const body = new URLSearchParams({ 'List-Unsubscribe': 'One-Click' });
      expect((await fetch(link, { method: 'POST', body })).status).toBe(200);
    }
    expect(await world.states(campaign)).toEqual({
      'ana@vines.example': 'unsubscribed',
      'bo@vines.example': 'in_progress',
    });
    const events = await world.store.pool.query(`select count(*)::int as n from events where kind = 'unsubscribe'`);
    expect(events.rows[0].n).toBe(1);
  });

  it('is undone by who pressed by mistake, and everything is as it was', async () => {
    expect((await fetch(`${link}/undo`, { method: 'POST' })).status).toBe(200);
    expect(await world.states(campaign)).toEqual({
      'ana@vines.example': 'in_progress',
      'bo@vines.example': 'in_progress',
    });
    const { rows } = await world.store.pool.query(`select count(*)::int as n from suppressions`);
    expect(rows[0].n).toBe(0);
    // Who has not left has nowhere to come back from.
    expect((await fetch(`${link}/undo`, { method: 'POST' })).status).toBe(200);
    expect((await world.states(campaign))['ana@vines.example']).toBe('in_progress');
  });

  it('ends only this campaign where that is wanted, and the address stays good for others', async () => {
    expect((await fetch(`${link}/campaign`)).status).toBe(200);
    expect((await world.states(campaign))['ana@vines.example']).toBe('in_progress');
    for (let i = 0; i < 2; i++) expect((await fetch(`${link}/campaign`, { method: 'POST' })).status).toBe(200);
    expect((await world.states(campaign))['ana@vines.example']).toBe('unsubscribed');
    const { rows } = await world.store.pool.query(
      `select (select count(*) from suppressions)::int as s, (select count(*) from events where kind = 'opted_out')::int as e`,
    );
    expect(rows[0]).toEqual({ s: 0, e: 1 });
    // And everything still, where they want that after all.
    await fetch(link, { method: 'POST' });
    const after = await world.store.pool.query(`select key from suppressions`);
    expect(after.rows).toEqual([{ key: 'ana@vines.example' }]);
  });

  it('speaks the reader’s language', async () => {
    for (const [accepts, title, language] of [
      ['de-AT,de;q=0.9,en;q=0.5', 'Keine weiteren Nachrichten?', 'de'],
      ['ja', 'No more messages?', 'en'],
      ['sv, fi', 'Inga fler meddelanden?', 'sv'],
      ['', 'No more messages?', 'en'],
    ] as const) {
      const page = await (await fetch(link, { headers: { 'accept-language': accepts } })).text();
      expect(page).toContain(`<h1>${title}</h1>`);
      expect(page).toContain(`<html lang="${language}">`);
    }
  });

  it('leads nowhere else where it was not made by Baton', async () => {
    for (const rest of ['/campaign', '/undo'])
      expect((await fetch(`${world.publicUrl}/u/x.y${rest}`, { method: 'POST' })).status).toBe(404);
  });
});
