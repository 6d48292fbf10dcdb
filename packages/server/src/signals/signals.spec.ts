import type { CampaignResults, MessageResults, ResultGroups } from '@baton/contract';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { stepOf, TestWorld } from '../testing/test-world';

const SOIL = 'https://tidewaterkelp.example/soil?for=vines&x=1';
const PRICES = 'https://tidewaterkelp.example/prices';
const BROWSER = { 'user-agent': 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0' };
const BODY = `Hello {{ given_name }},\n\n[soil](${SOIL}) or [prices](${PRICES})?\n\n[Leave]({{ unsubscribe_link }})`;
const DAY = 24 * 60;

let world: TestWorld;
let mailbox: number;
beforeAll(async () => {
  world = await TestWorld.start();
  mailbox = await world.connect('ines');
});
afterAll(() => world.close());

const now = async (): Promise<number> => (await world.api.get<{ clock: { nowMs: number } }>('/shell')).clock.nowMs;
const later = async (minutes: number) => world.drive((await now()) + minutes * 60_000);
const today = async () => new Date(await now()).toISOString().slice(0, 10);
const count = async (of: string): Promise<number> =>
  (await world.store.pool.query(`select count(*)::int as n from ${of}`)).rows[0].n;

type Asks = Awaited<ReturnType<typeof asksOf>>;

/** What of a message is asked for over the network, by the place it has in the page. */
async function asksOf(address: string) {
  const html = (await world.inbox(address)).at(-1)?.html ?? '';
  const urls = (pattern: RegExp) => [...html.matchAll(pattern)].map((m) => m[1] as string);
  const hidden = urls(/<a href="([^"]+)" style="display:none"/g);
  return {
    html,
    pictures: urls(/<img src="([^"]+\/o\/[^"]+)"/g),
    links: urls(/href="([^"]+\/c\/[^"]+)"/g).filter((url) => !hidden.includes(url)),
    hidden,
  };
}

const follow = (url: string, init: RequestInit = {}) => fetch(url, { redirect: 'manual', headers: BROWSER, ...init });

async function seen(address: string) {
  const { rows } = await world.store.pool.query(
    `select n.opens, n.clicks, n.by_machine as programs, e.opened_at is not null as opened, e.clicked_at is not null as clicked
     from delivery_signals n join enrolments e on e.id = n.enrolment_id join contacts c on c.id = e.contact_id
     where c.key = $1 order by n.delivery_id desc limit 1`,
    [address],
  );
  return rows[0];
}

/** A campaign of one message to silent people, which has left. */
async function sent(
  people: string[],
  watch: { watchesOpens?: 'none'; watchesClicks?: 'none'; watchesPlaces?: true } = {},
): Promise<number> {
  const listId = await world.people(Object.fromEntries(people.map((p) => [p, 'silent'])));
  const steps = [await world.step({ body: BODY })];
  const chosen = { listId, mailboxIds: [mailbox], steps, startDate: await today() };
  const id = await world.begin({ ...chosen, watchesOpens: 'all', watchesClicks: 'all', ...watch });
  await later(DAY);
  return id;
}

describe('a message that is counted', () => {
  it('leads every link of its page where it led, and its plain text stays as it was', async () => {
    await sent(['ana@vines.example', 'bo@vines.example', 'cy@vines.example']);
    const { links, pictures, hidden, html } = await asksOf('ana@vines.example');
    expect([links.length, pictures.length, hidden.length]).toEqual([2, 1, 1]);
    expect(html).not.toContain('tidewaterkelp.example/soil');
    const places = await Promise.all(links.map((url) => follow(url, { method: 'HEAD' })));
    expect(places.map((p) => [p.status, p.headers.get('location')])).toEqual([
      [302, SOIL],
      [302, PRICES],
    ]);
    const [mail] = await world.inbox('ana@vines.example');
    expect(mail?.text).toContain(SOIL);
    expect(mail?.text).not.toContain('/c/');
    // Whoever leaves by a link has not followed one of the message's.
    expect(html).toContain(mail?.unsubscribeLink);
    for (const url of [...links, ...pictures]) expect(decodeURIComponent(url)).not.toMatch(/ana|vines|soil/);
  });

  it('counts what its reader does, once it is certain that no program did it', async () => {
    const { links, pictures } = await asksOf('bo@vines.example');
    await fetch(pictures[0] as string, { headers: BROWSER });
    await later(5);
    await follow(links[0] as string);
    await follow(links[0] as string);
    expect(await seen('bo@vines.example')).toMatchObject({ opens: 1, clicks: 0 });
    await later(5);
    expect(await seen('bo@vines.example')).toEqual({ opens: 1, clicks: 2, programs: 0, opened: true, clicked: true });
    const { rows } = await world.store.pool.query(`select detail from events where kind = 'clicked'`);
    expect(rows).toEqual([{ detail: SOIL }]);
  });

  it('counts a scanner that looks into everything apart', async () => {
    const { links, pictures, hidden } = await asksOf('cy@vines.example');
    for (const url of [...pictures, ...links, ...hidden]) await follow(url);
    await later(5);
    expect(await seen('cy@vines.example')).toEqual({
      ...{ opens: 0, clicks: 0, programs: 3 },
      ...{ opened: false, clicked: false },
    });
  });

  it('takes links that Baton did not make nowhere, and answers for them with no error', async () => {
    const { links, pictures } = await asksOf('ana@vines.example');
    const before = await count('signals');
    const changed = (url: string) => url.replace(/.(?=.{9}$)/, (c) => (c === 'A' ? 'B' : 'A'));
    const forged = Buffer.from('[1,2,"https://evil.example"]').toString('base64url');
    for (const url of [changed(links[0] as string), `${world.publicUrl}/c/x`, `${world.publicUrl}/c/${forged}`]) {
      const answer = await follow(url);
      expect([answer.status, answer.headers.get('location')]).toEqual([404, null]);
    }
    const picture = await fetch(changed(pictures[0] as string), { headers: BROWSER });
    expect([picture.status, picture.headers.get('content-type')]).toEqual([200, 'image/gif']);
    expect(await count('signals')).toBe(before);
  });

  it('keeps of one message no more than so much, and is forgotten with its reader', async () => {
    const { pictures } = await asksOf('ana@vines.example');
    const [picture] = pictures as [string];
    for (let i = 0; i < 12; i++)
      await Promise.all(Array.from({ length: 50 }, () => fetch(picture, { headers: BROWSER })));
    const before = await count('signals');
    expect(before).toBeGreaterThanOrEqual(500);
    expect(before).toBeLessThan(600);
    const { rows } = await world.store.pool.query(`select id from contacts where key = 'ana@vines.example'`);
    await world.api.get('/results');
    const ofAna = `person_results where contact_id = ${rows[0].id}`;
    expect(await count(ofAna)).toBe(1);
    await world.api.remove(`/people/${rows[0].id}`);
    expect(await count(ofAna)).toBe(0);
    await later(5);
    expect(await count('signals')).toBeLessThan(20);
    expect((await fetch(picture, { headers: BROWSER })).status).toBe(200);
    expect(await count('signals')).toBeLessThan(20);
  });

  it('is not counted where the campaign does not count, or there is no public address', async () => {
    await sent(['di@vines.example'], { watchesOpens: 'none', watchesClicks: 'none' });
    expect((await asksOf('di@vines.example')).html).toContain('https://tidewaterkelp.example/soil');
    await sent(['ed@vines.example'], { watchesClicks: 'none' });
    const opensOnly = await asksOf('ed@vines.example');
    expect([opensOnly.links.length, opensOnly.pictures.length, opensOnly.hidden.length]).toEqual([0, 1, 0]);
    await world.store.pool.query(`update workspace set public_address = ''`);
    await sent(['fi@vines.example']);
    await world.store.pool.query(`update workspace set public_address = '${world.publicUrl}'`);
    const none = await asksOf('fi@vines.example');
    expect([none.links.length, none.pictures.length, none.hidden.length]).toEqual([0, 0, 0]);
  });
});

describe('follow-ups by what people did', () => {
  it('go to those who have, or have not, followed a link; what is passed over holds up nothing', async () => {
    const listId = await world.people({ 'gil@inlet.example': 'silent', 'hua@inlet.example': 'silent' });
    const written = async (line: string, delay = 0) => stepOf(await world.message({ body: `${line}${BODY}` }), delay);
    const campaign = await world.begin({
      ...{ name: 'Inlets', listId, mailboxIds: [mailbox], startDate: await today(), watchesClicks: 'all' },
      steps: [
        await written(''),
        { ...(await written('You looked.\n\n', 2)), condition: 'clicked' },
        { ...(await written('You have not looked.\n\n', 1)), condition: 'not_clicked' },
        await written('The last one.\n\n', 2),
      ],
    });
    await later(3 * DAY);
    await follow((await asksOf('gil@inlet.example')).links[0] as string);
    await later(21 * DAY);
    const lines = async (address: string) => (await world.firstLines(address)).slice(1);
    expect(await lines('gil@inlet.example')).toEqual(['You looked.', 'The last one.']);
    expect(await lines('hua@inlet.example')).toEqual(['You have not looked.', 'The last one.']);
    // Both came to their end together, on the day that the sequence has for it.
    const lastAt = async (address: string) => (await world.inbox(address)).at(-1)?.receivedAt ?? 0;
    const days = [await lastAt('gil@inlet.example'), await lastAt('hua@inlet.example')];
    expect(new Set(days.map((at) => new Date(at).toISOString().slice(0, 10))).size).toBe(1);
    expect(await world.states(campaign)).toEqual({ 'gil@inlet.example': 'done', 'hua@inlet.example': 'done' });
    const { rows } = await world.store.pool.query(
      `select c.key, v.detail from events v join contacts c on c.id = v.contact_id where v.kind like 'skipped%' order by c.key`,
    );
    expect(rows).toEqual([
      { key: 'gil@inlet.example', detail: 'they have followed a link' },
      { key: 'hua@inlet.example', detail: 'they have followed no link' },
    ]);
    expect((await world.brief(campaign)).state).toBe('finished');
  });

  it('that can go to nobody any more end the campaign for them', async () => {
    const listId = await world.people({ 'ida@inlet.example': 'silent' });
    const campaign = await world.begin({
      ...{ name: 'Coves', listId, mailboxIds: [mailbox], watchesClicks: 'all', startDate: await today() },
      steps: [await world.step({ body: BODY }), { ...(await world.step({ body: BODY }, 3)), condition: 'not_clicked' }],
    });
    await later(3 * DAY);
    expect(await world.states(campaign)).toEqual({ 'ida@inlet.example': 'in_progress' });
    await follow((await asksOf('ida@inlet.example')).links[1] as string);
    await later(5);
    expect(await world.states(campaign)).toEqual({ 'ida@inlet.example': 'done' });
    expect((await world.brief(campaign)).state).toBe('finished');
  });

  it('have another text for those who have followed a link; which one left is kept', async () => {
    const listId = await world.people({ 'kit@inlet.example': 'silent', 'lou@inlet.example': 'silent' });
    const message = (line: string) => world.message({ body: `${line}${BODY}` });
    const looked = await message('You looked.\n\n');
    const campaign = await world.begin({
      ...{ name: 'Sounds', listId, mailboxIds: [mailbox], startDate: await today(), watchesClicks: 'all' },
      steps: [
        await world.step({ body: BODY }),
        { ...stepOf(await message('You have not looked.\n\n'), 5), ifClicked: looked },
      ],
    });
    await later(3 * DAY);
    await follow((await asksOf('kit@inlet.example')).links[0] as string);
    await later(14 * DAY);
    const second = async (address: string) => (await world.firstLines(address))[1];
    expect(await second('kit@inlet.example')).toBe('You looked.');
    expect(await second('lou@inlet.example')).toBe('You have not looked.');
    // Whoever follows a link afterwards has had what they have had.
    await follow((await asksOf('lou@inlet.example')).links[0] as string);
    await later(5);
    for (const person of await world.recipients(campaign)) {
      const message = await world.api.get(`/people/${person.contactId}/campaigns/${campaign}/messages/1`);
      expect(JSON.stringify(message)).toContain(
        person.address.startsWith('kit') ? 'You looked.' : 'You have not looked.',
      );
    }
    const { uses } = await world.api.get<MessageResults>(`/results/messages/${looked}`);
    expect(uses.map((u) => u.counts.written)).toEqual([1]);
  });

  it('are sent at once where a person says so, whatever their condition', async () => {
    const listId = await world.people({ 'jo@inlet.example': 'silent' });
    const campaign = await world.begin({
      ...{ name: 'Bays', listId, mailboxIds: [mailbox], watchesClicks: 'all', startDate: await today() },
      steps: [await world.step({ body: BODY }), { ...(await world.step({ body: BODY }, 9)), condition: 'clicked' }],
    });
    await later(3 * DAY);
    // In its mailbox's hours, and days before its own.
    const midnight = (await now()) - ((await now()) % 86_400_000);
    await world.drive(midnight + 86_400_000 + 11 * 3_600_000);
    const [jo] = await world.recipients(campaign);
    await world.api.post(`/campaigns/${campaign}/people`, { act: 'send_now', enrolmentIds: [jo?.enrolmentId] });
    await later(60);
    expect(await world.inbox('jo@inlet.example')).toHaveLength(2);
    expect(await world.states(campaign)).toEqual({ 'jo@inlet.example': 'done' });
  });
});

describe('the place of a click', () => {
  it('is kept as a country where the campaign wants it, and the address nowhere', async () => {
    // Addresses for documentation (RFC 5737, RFC 3849), which the list of countries happens to have.
    const [AUSTRALIA, JAPAN] = ['203.0.113.5', '2001:db8::7'];
    const from = (address: string) => ({ headers: { ...BROWSER, 'x-forwarded-for': address } });
    const without = await sent(['ima@fjords.example']);
    await follow((await asksOf('ima@fjords.example')).links[0] as string, from(AUSTRALIA));
    await later(5);
    const kept = async () =>
      (await world.store.pool.query('select country from signals where country is not null')).rows;
    expect(await kept()).toEqual([]);
    expect((await world.api.get<CampaignResults>(`/results/${without}`)).countsPlaces).toBe(false);

    const people = ['jo@fjords.example', 'kay@fjords.example', 'lu@fjords.example', 'mo@fjords.example'];
    const id = await sent(people, { watchesPlaces: true });
    const [jo, kay, lu] = (await Promise.all(people.map(asksOf))) as [Asks, Asks, Asks];
    await fetch(jo.pictures[0] as string, from(JAPAN));
    await follow(jo.links[0] as string, from(AUSTRALIA));
    await later(1);
    await follow(jo.links[1] as string, from(JAPAN));
    await follow(kay.links[0] as string, from(JAPAN));
    // In a network of its own, and no address at all.
    await follow(lu.links[0] as string, from('10.0.0.1, nonsense'));
    await later(5);
    expect((await kept()).map((r) => r.country).sort()).toEqual(['AU', 'JP', 'JP']);
    expect((await world.api.get<CampaignResults>(`/results/${id}`)).countsPlaces).toBe(true);
    const { groups } = await world.api.get<ResultGroups>(`/results/${id}/groups?by=country`);
    expect(groups.map((g) => [g.key, g.counts.written, g.counts.clicked]).sort()).toEqual([
      ['', 2, 1],
      ['AU', 1, 1],
      ['JP', 1, 1],
    ]);
    const tables = ['signals', 'delivery_signals', 'events', 'person_results'];
    for (const table of tables) {
      const { rows } = await world.store.pool.query(`select t::text as row from ${table} t`);
      for (const { row } of rows) expect(row).not.toMatch(/203\.0\.113|2001:db8/);
    }
  });
});
