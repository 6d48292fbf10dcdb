import type { CampaignResults, MessageResults, ResultGroups, ResultsBy, ResultsOverview } from '@baton/contract';
import { readPeopleFile, WHOLE_LIST, type ResultCounts } from '@baton/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { writeSheet } from '../people/list/write-sheet';
import { stepOf, TestWorld } from '../testing/test-world';

let world: TestWorld;
let campaign: number;
beforeAll(async () => {
  world = await TestWorld.start();
  const [ines, tomas] = [await world.connect('ines'), await world.connect('tomas')];
  for (const [who, persona] of Object.entries(PEOPLE))
    await world.desk.call('PUT', `/people/${encodeURIComponent(who)}`, { persona });
  const rows = Object.keys(PEOPLE).map((a, i) => `${a},Ana,${['North', 'South', ''][i % 3] ?? ''}`);
  const listId = await world.importCsv(['email,given name,Region', ...rows].join('\n'), 'Vines');
  const link = '\n\n[soil](https://tidewaterkelp.example/soil)\n\n[Leave]({{ unsubscribe_link }})';
  const [first, other, reminder] = [
    await world.message({ name: 'Kelp', body: `Kelp?${link}` }),
    await world.message({ name: 'Sack', body: `A sack?${link}` }),
    await world.message({ name: 'Reminder', body: `Still there?${link}` }),
  ];
  campaign = await world.begin({
    ...{ name: 'Spring', listId, mailboxIds: [ines, tomas], watchesOpens: 'all', watchesClicks: 'all' },
    steps: [{ ...stepOf(first), others: [other] }, stepOf(reminder, 3)],
    variants: [50, 50],
  });
  await world.drive('2026-11-20T20:00:00Z');
}, 120_000);
afterAll(() => world.close());

const PEOPLE: Record<string, string> = {
  'keen1@a.example': 'keen',
  'keen2@a.example': 'keen',
  'curious@b.example': 'curious',
  'no@b.example': 'decliner',
  'click@c.example': 'clicker',
  'scan@c.example': 'scanned',
  'silent1@d.example': 'silent',
  'silent2@d.example': 'silent',
  'gone@e.example': 'unknown',
  'leaves@e.example': 'leaves_by_link',
  'spam@f.example': 'complains',
};

const results = () => world.api.get<CampaignResults>(`/results/${campaign}`);
const groups = (by: ResultsBy) =>
  world.api.get<ResultGroups>(`/results/${campaign}/groups?by=${encodeURIComponent(by)}`);
const sum = (of: ResultGroups, what: keyof ResultCounts) => of.groups.reduce((n, g) => n + g.counts[what], 0);

describe('the results of a campaign', () => {
  it('count each person once, and tell what a person did from what programs did', async () => {
    const { counts } = await results();
    expect(counts).toMatchObject({
      written: 10,
      bounced: 0,
      replied: 4,
      unsubscribed: 2,
      complained: 1,
      byPrograms: 1,
    });
    expect(counts.interested + counts.meetings).toBe(0);
    // Whoever answers may have followed the link before; the one who only reads and the program's link count as they are.
    expect(counts.clicked).toBeGreaterThanOrEqual(1);
    expect(counts.opened).toBeGreaterThanOrEqual(counts.clicked);
    expect(counts.opened).toBeLessThan(counts.written);
  });

  it('count a reply once though the person writes three times, and the last outcome counts', async () => {
    const [mail] = await world.inbox('keen1@a.example');
    for (const text of ['One more thing.', 'And another.'])
      await world.desk.call('POST', `/people/${encodeURIComponent('keen1@a.example')}/reply`, { id: mail?.id, text });
    await world.drive('2026-11-23T20:00:00Z');
    expect((await results()).counts.replied).toBe(4);
    const { replies } = await world.api.get<{ replies: { id: number; person: string }[] }>('/replies?show=reply');
    const own = replies.filter((r) => r.person?.startsWith('keen1')).map((r) => r.id);
    expect(own.length).toBe(3);
    for (const [i, outcome] of (['no', 'interested', 'meeting'] as const).entries())
      await world.api.put(`/replies/${[...own].sort((a, b) => a - b)[i]}/outcome`, { outcome });
    expect((await results()).counts).toMatchObject({ replied: 4, interested: 1, meetings: 1 });
  });

  it('say which message brought a reply, when it left, and what is still to be expected', async () => {
    const { steps, silent, toCome, silence, expected, past } = await results();
    expect(steps.map((s) => [s.place, s.name, s.replied])).toEqual([
      [0, 'Kelp', 3],
      [1, 'Reminder', 1],
    ]);
    for (const s of steps) {
      expect(s.repliedAt).toHaveLength(s.replied);
      expect(s.repliedAt.every((at) => at > s.firstSentAt)).toBe(true);
      expect(s.days.reduce((n, d) => n + d.sent, 0)).toBe(s.sent);
      expect([s.days[0]?.from, s.days.at(-1)?.to]).toEqual([s.firstSentAt, s.lastSentAt + 15 * 60_000]);
      // A bar is a day of the workspace's, never more.
      for (const d of s.days) expect(d.to - d.from).toBeLessThanOrEqual(24 * 3_600_000);
    }
    expect([silent, toCome]).toEqual([4, 0]);
    expect(silence[0]).toEqual({ from: 0, share: 1 });
    // Four of ten who were reached have replied; nobody knows yet of those who left.
    expect(silence.at(-1)?.share).toBeGreaterThan(0.4);
    expect(expected).toBeNull();
    expect(past.written).toBe(0);
  });

  it.each<ResultsBy>(['variant', 'mailbox', 'list', 'domain', 'weekday', 'hour', 'weekday_hour', 'field:region'])(
    'add up by %s',
    async (by) => {
      const { counts } = await results();
      const told = await groups(by);
      for (const what of Object.keys(counts) as (keyof ResultCounts)[])
        expect(sum(told, what), what).toBe(counts[what]);
      expect(told.others).toBeNull();
    },
  );

  it('add up by message, where everybody counts with each that has left to them', async () => {
    const { counts, steps } = await results();
    const told = await groups('message');
    expect(told.groups.map((g) => [g.name, g.counts.written, g.counts.replied])).toEqual(
      steps.map((s) => [s.name, s.sent, s.replied]),
    );
    expect(sum(told, 'unsubscribed')).toBe(counts.unsubscribed);
    expect(sum(told, 'meetings')).toBe(1);
  });

  it('tell how a message has done, variant by variant', async () => {
    const { steps } = await world.brief(campaign);
    const of = (id: number | null | undefined) => world.api.get<MessageResults>(`/results/messages/${id}`);
    const [first, other, reminder] = await Promise.all([
      of(steps[0]?.messageId),
      of(steps[0]?.others[0]),
      of(steps[1]?.messageId),
    ]);
    const told = await groups('variant');
    expect([first, other].map((m) => m.uses.map((u) => [u.name, u.place, u.counts.written]))).toEqual(
      told.groups.map((g) => [['Spring', 0, g.counts.written]]),
    );
    expect([first, other].reduce((n, m) => n + (m.uses[0]?.counts.replied ?? 0), 0)).toBe(3);
    expect(reminder.uses.map((u) => [u.place, u.counts.replied])).toEqual([[1, 1]]);
    await expect(of(9999)).rejects.toThrow('404');
  });

  it('name what they are told apart by', async () => {
    expect((await groups('variant')).groups.map((g) => g.name)).toEqual(['A Kelp', 'B Sack']);
    expect((await groups('field:region')).groups.map((g) => g.name).sort()).toEqual(['', 'North', 'South']);
    expect((await groups('weekday')).groups.map((g) => g.key)).toEqual(['1']);
    // By the hours of the workspace, whatever the mailboxes' are.
    for (const { key } of (await groups('weekday_hour')).groups) expect(key).toMatch(/^1 (09|1\d)$/);
    expect((await results()).fields).toContainEqual({ key: 'region', name: 'Region' });
  });

  it('tell the segments of its lists apart, in each whoever is in it now', async () => {
    expect(await groups('segment')).toEqual({ groups: [], others: null });
    const { listId } = await world.brief(campaign);
    const segment = async (name: string, value: string) =>
      world.api.post(`/lists/${listId}/segments`, {
        name,
        query: { ...WHOLE_LIST, filters: [{ key: 'region', kind: 'text', test: 'is', value }] },
      });
    await segment('In the north', 'North');
    await segment('In the west', 'West');
    const [north] = (await groups('field:region')).groups.filter((g) => g.key === 'North');
    expect((await groups('segment')).groups.map((g) => [g.name, g.counts])).toEqual([['In the north', north?.counts]]);
  });

  it('put the smallest of many groups together', async () => {
    const many = Array.from({ length: 60 }, (_, i) => `p@d${i}.example`);
    const listId = await world.people(Object.fromEntries([...many, 'q@d7.example'].map((p) => [p, 'silent'])));
    const [mailbox] = (await world.brief(campaign)).mailboxIds;
    const id = await world.begin({
      ...{ name: 'Coves', listId, mailboxIds: [mailbox as number], startDate: '2026-11-24' },
      steps: [await world.step({})],
    });
    await world.drive('2026-11-27T20:00:00Z');
    const { groups: shown, others } = await world.api.get<ResultGroups>(`/results/${id}/groups?by=domain`);
    expect([shown.length, shown[0]?.key, shown[0]?.counts.written]).toEqual([50, 'd7.example', 2]);
    expect([others?.groups, others?.counts.written]).toEqual([10, 10]);
    const past = await world.api.get<CampaignResults>(`/results/${id}`);
    expect([past.past.written, past.past.replied]).toEqual([10, 4]);
  });

  it('lists campaigns of which something has left, and says what is wrong with a question', async () => {
    await world.api.post('/campaigns', { name: 'A draft' });
    // Somebody of the first campaign gets another one too.
    const { steps, mailboxIds, listId } = await world.brief(campaign);
    const again = { name: 'Again', listId, mailboxIds, steps: steps.slice(0, 1), startDate: '2026-11-30' };
    await world.begin({ ...again, notWithinDays: null });
    await world.drive('2026-12-02T20:00:00Z');
    const { campaigns, together } = await world.api.get<ResultsOverview>('/results');
    expect(campaigns.map((c) => c.name)).toEqual(['Again', 'Coves', 'Spring']);
    const written = campaigns.reduce((sum, c) => sum + c.counts.written, 0);
    expect([together.written, together.replied]).toEqual([71, 4]);
    expect(written).toBeGreaterThan(71);
    await expect(world.api.get('/results/999')).rejects.toThrow('404');
    // Of a period, whoever was first written to in it; beside it those of as many days before.
    const between = (from: string, to: string) => world.api.get<ResultsOverview>(`/results?from=${from}&to=${to}`);
    const late = await between('2026-11-24', '2026-12-02');
    expect(late.campaigns.map((c) => [c.name, c.counts.written])).toEqual([
      ['Again', campaigns[0]?.counts.written],
      ['Coves', campaigns[1]?.counts.written],
    ]);
    expect([late.together.written, late.before?.written]).toEqual([written - (campaigns[2]?.counts.written ?? 0), 0]);
    const early = await between('2026-10-01', '2026-11-23');
    expect([early.campaigns.map((c) => c.name), early.together.written]).toEqual([['Spring'], 10]);
    expect((await between('2026-11-10', '2026-11-17')).before).toEqual(early.together);
    expect(await between('2026-12-20', '2026-12-24')).toMatchObject({ campaigns: [], together: { written: 0 } });
    await expect(between('2026-12-02', '2026-12-01')).rejects.toThrow('ends before it begins');
    await expect(world.api.get('/results?from=2026-12-02')).rejects.toThrow('400');
    await expect(world.api.get(`/results/${campaign}/groups?by=shoes`)).rejects.toThrow('By what it is told apart');
  });

  it('are taken back beside the rows that were brought in', async () => {
    const csv = await (await fetch(`${world.url}/api/campaigns/${campaign}/outcomes.csv`)).text();
    const [header, ...lines] = csv.replace('\ufeff', '').trim().split('\r\n');
    expect(header).toMatch(/^email,given name,Region,.*,opens,first opened,last opened,clicks,links followed$/);
    expect(lines.map((l) => l.split(',')[0])).toEqual(Object.keys(PEOPLE));
    const of = (who: string) => (lines.find((l) => l.startsWith(who)) ?? '').split(',').slice(-5);
    const [opens, firstAt, lastAt, clicks, links] = of('click@c.example');
    expect([Number(opens) > 0, Number(clicks)]).toEqual([true, 2]);
    expect([firstAt, lastAt].every((at) => /^2026-11-\d\d \d\d:\d\d$/.test(at ?? ''))).toBe(true);
    expect(links).toBe('https://tidewaterkelp.example/soil');
    // What only a program did is nobody's.
    expect(of('scan@c.example')).toEqual(['', '', '', '', '']);
  });

  it('are taken back as the kind of file that was brought in, or as another', async () => {
    const take = async (id: number, as = '') => {
      const response = await fetch(`${world.url}/api/campaigns/${id}/outcomes${as}`);
      return [response.headers.get('content-type'), Buffer.from(await response.arrayBuffer())] as const;
    };
    const [type, csv] = await take(campaign);
    expect(type).toContain('text/csv');
    const columns = readPeopleFile(csv).table;
    for (const format of ['tsv', 'xlsx', 'ods'] as const) {
      const [kind, bytes] = await take(campaign, `.${format}`);
      expect(kind).toContain({ tsv: 'tab-separated', xlsx: 'openxml', ods: 'opendocument.spreadsheet' }[format]);
      const { header, rows } = readPeopleFile(bytes).table;
      expect(header).toEqual(columns.header);
      expect(rows.map((r) => r.cells)).toEqual(columns.rows.map((r) => r.cells));
    }
    const [, lines] = await take(campaign, '.jsonl');
    const people = lines
      .toString()
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { row: object; outcome: object });
    expect(people.map((p) => (p.row as { email: string }).email)).toEqual(columns.rows.map((r) => r.cells[0]));
    expect(people[0]).toMatchObject({
      row: { 'given name': 'Ana' },
      outcome: { state: 'replied', outcome: 'meeting' },
    });
    // What came as an ODS sheet goes back as one.
    const sheet = new Uint8Array(await writeSheet('ods', ['email', 'Farm'], [[['ods@k.example', 'Kelp & Sons']]], []));
    const { id: importId } = await world.api.upload<{ id: number }>('/imports', 'coves.ods', sheet);
    const { listId } = await world.api.post<{ listId: number }>(`/imports/${importId}/keep`, {
      name: 'Coves by sheet',
    });
    const [mailbox] = (await world.brief(campaign)).mailboxIds;
    const other = await world.draft({ listId, mailboxIds: [mailbox as number], startDate: '2026-12-07' });
    await world.api.post(`/campaigns/${other.id}/start`, { people: 1, lastDay: other.forecast.lastDay });
    const [asCame, back] = await take(other.id);
    expect(asCame).toContain('opendocument.spreadsheet');
    expect(readPeopleFile(back).table.rows[0]?.cells.slice(0, 2)).toEqual(['ods@k.example', 'Kelp & Sons']);
  });

  it('forget whoever is erased', async () => {
    const before = (await results()).counts;
    const { rows } = await world.store.pool.query(`select id from contacts where key = 'keen1@a.example'`);
    await world.api.remove(`/people/${rows[0].id}`);
    const { counts } = await results();
    expect([counts.written, counts.replied, counts.meetings]).toEqual([before.written - 1, before.replied - 1, 0]);
  });
});
