import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { weekdayWindows } from '@baton/core';
import type { MailboxView, SuppressionList } from '@baton/contract';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

const everyone = (n: number, persona = 'silent') =>
  Object.fromEntries(Array.from({ length: n }, (_, i) => [`p${i}@vines.example`, persona]));
const sentBy = (name: string) => world.provider.store.folder(`${name}@tidewaterkelp.example`, 'Sent');
const oneStep = async () => [await world.step({ name: 'Only' })];

describe('sending', () => {
  it('keeps to quota, window and pace, day after day', async () => {
    const mailbox = await world.connect('ines', { dailyQuota: 7, paceSeconds: 600, windows: weekdayWindows(600, 720) });
    const before = sentBy('ines').length;
    await world.begin({
      listId: await world.people(everyone(16)),
      mailboxIds: [mailbox],
      steps: await oneStep(),
    });
    await world.drive('2026-11-04T20:00:00Z');
    const times = sentBy('ines')
      .slice(before)
      .map((m) => m.receivedAt);
    const perDay = [2, 3, 4].map((d) => times.filter((t) => new Date(t).getUTCDate() === d).length);
    expect(perDay).toEqual([7, 7, 2]);
    for (const t of times) {
      const hour = new Date(t).getUTCHours();
      expect(hour === 10 || hour === 11).toBe(true);
    }
    times.slice(1).forEach((t, i) => expect(t - (times[i] as number)).toBeGreaterThanOrEqual(600_000));
  });

  it('leaves out one person whose values the message cannot use, once and with the reason, and sends to the others', async () => {
    const mailbox = await world.connect('ines');
    const csv = ['email,given name,desk zone', 'a@vines.example,Ana,Europe/Dublin', 'b@vines.example,Bo,CET+1'].join(
      '\n',
    );
    const listId = await world.importCsv(csv);
    const body = 'At {{ sending moment | date: "%H:%M", desk_zone }}. [Leave]({{ unsubscribe_link }})';
    const id = await world.begin({ listId, mailboxIds: [mailbox], steps: [await world.step({ name: 'Only', body })] });
    await world.drive('2026-11-03T20:00:00Z');
    expect(await world.inbox('a@vines.example')).toHaveLength(1);
    expect(await world.inbox('b@vines.example')).toHaveLength(0);
    expect(await world.states(id)).toEqual({ 'a@vines.example': 'done', 'b@vines.example': 'left_out' });
    const leftOut = await world.api.get<{ people: object[] }>(`/campaigns/${id}/recipients?limit=10&state=left_out`);
    expect(leftOut.people).toHaveLength(1);
    expect(JSON.stringify(leftOut.people)).toContain('CET+1 is no time zone');
  });

  it('keeps to the provider’s limit in any 24 hours', async () => {
    const mailbox = await world.connect('ines', { providerLimit24h: 5 });
    const before = sentBy('ines').length;
    await world.begin({ listId: await world.people(everyone(12)), mailboxIds: [mailbox], steps: await oneStep() });
    await world.drive('2026-11-06T20:00:00Z');
    const times = sentBy('ines')
      .slice(before)
      .map((m) => m.receivedAt);
    expect(times).toHaveLength(12);
    for (const t of times) expect(times.filter((o) => o > t - 86_400_000 && o <= t).length).toBeLessThanOrEqual(5);
  });

  it('keeps to a campaign’s daily limit, also when it is planned anew in the middle of the day', async () => {
    const mailbox = await world.connect('ines');
    await world.begin({
      listId: await world.people(everyone(20)),
      mailboxIds: [mailbox],
      steps: await oneStep(),
      dailyLimit: 6,
    });
    await world.drive('2026-11-02T13:00:00Z');
    await world.api.post('/hold-all');
    await world.api.post('/release-all');
    await world.drive('2026-11-02T20:00:00Z');
    expect(sentBy('ines').length - 1).toBe(6);
  });

  it('sends follow-ups in the thread, after the delay in working days, to those who did not reply', async () => {
    const mailbox = await world.connect('ines');
    const listId = await world.people({ 'a@vines.example': 'silent', 'b@vines.example': 'keen' });
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-06T20:00:00Z');
    const [first, second, ...more] = await world.inbox('a@vines.example');
    expect(more).toEqual([]);
    expect(second?.subject).toBe(`Re: ${first?.subject}`);
    expect(second?.references).toEqual([first?.messageId]);
    // Monday 2 November and two working days: Wednesday at the earliest, two more are on time.
    const day = new Date(second?.receivedAt ?? 0).getUTCDate();
    expect(day >= 4 && day <= 6).toBe(true);
    expect(await world.inbox('b@vines.example')).toHaveLength(1);
    expect(await world.states(id)).toEqual({ 'a@vines.example': 'done', 'b@vines.example': 'replied' });
  });

  it.each([
    ['everything', '/hold-all', '/release-all'],
    ['the campaign', '/campaigns/1/hold', '/campaigns/1/release'],
    ['the mailbox', '/mailboxes/1/hold', '/mailboxes/1/release'],
  ])('sends nothing while %s is held, and goes on when it is released', async (_, hold, release) => {
    const mailbox = await world.connect('ines');
    const before = sentBy('ines').length;
    await world.begin({ listId: await world.people(everyone(4)), mailboxIds: [mailbox], steps: await oneStep() });
    await world.api.post(hold);
    await world.drive('2026-11-03T20:00:00Z');
    expect(sentBy('ines').length).toBe(before);
    await world.api.post(release);
    await world.drive('2026-11-04T20:00:00Z');
    expect(sentBy('ines').length).toBe(before + 4);
  });

  it('suppresses an address that is refused, tries a greylisted one again, and gives up on a full one', async () => {
    const mailbox = await world.connect('ines');
    const listId = await world.people({
      'gone@a.example': 'unknown',
      'grey@a.example': 'greylisted',
      'full@a.example': 'full',
    });
    const id = await world.begin({ listId, mailboxIds: [mailbox], steps: await oneStep() });
    await world.drive('2026-11-06T20:00:00Z');
    expect(await world.states(id)).toEqual({
      'gone@a.example': 'bounced',
      'grey@a.example': 'done',
      'full@a.example': 'stopped',
    });
    const { entries: suppressed } = await world.api.get<SuppressionList>('/suppressions');
    expect(suppressed.map((s) => s.key)).toEqual(['gone@a.example']);
    expect(suppressed[0]?.reason).toContain('No such user');
  });

  it('lets a mailbox rest when the provider says it is too much, and goes on the next working day', async () => {
    const mailbox = await world.connect('ines', { providerLimit: 4 });
    await world.begin({ listId: await world.people(everyone(6)), mailboxIds: [mailbox], steps: await oneStep() });
    await world.drive('2026-11-02T20:00:00Z');
    const [resting] = await world.api.get<MailboxView[]>('/mailboxes');
    expect(resting).toMatchObject({ restUntil: '2026-11-03', restReason: expect.stringContaining('limit exceeded') });
    expect(sentBy('ines')).toHaveLength(4);
    await world.drive('2026-11-04T20:00:00Z');
    expect(sentBy('ines')).toHaveLength(7);
  });

  it('proposes as its limit what a provider took before it was too much, until a person has settled it', async () => {
    // The test of the connection is one of the twelve.
    const mailbox = await world.connect('ines', { providerLimit: 12 });
    await world.begin({ listId: await world.people(everyone(14)), mailboxIds: [mailbox], steps: await oneStep() });
    await world.drive('2026-11-02T20:00:00Z');
    const [ines] = await world.api.get<MailboxView[]>('/mailboxes');
    expect(ines).toMatchObject({ learntLimit24h: 11, providerLimit24h: null });
    // Elsewhere there is room for the test.
    await world.desk.call('POST', '/accounts', {
      ...{ address: 'ines@tidewaterkelp.example', password: 'correct horse', dailyLimit: 100 },
    });
    const choices = world.mailboxChoices('ines', { providerLimit24h: 11 });
    await world.api.put(`/mailboxes/${mailbox}`, choices);
    expect((await world.api.get<MailboxView[]>('/mailboxes'))[0]).toMatchObject({
      ...{ learntLimit24h: null, providerLimit24h: 11 },
    });
  });

  it('stops at a mailbox that cannot sign in, says the server’s words, and moves its people to another', async () => {
    const ines = await world.connect('ines');
    const tomas = await world.connect('tomas');
    await world.begin({ listId: await world.people(everyone(8)), mailboxIds: [ines, tomas], steps: await oneStep() });
    await world.desk.call('POST', '/accounts', { address: 'ines@tidewaterkelp.example', password: 'changed' });
    await world.worker.connections.close();
    await world.drive('2026-11-03T20:00:00Z');
    const mailboxes = await world.api.get<MailboxView[]>('/mailboxes');
    expect(mailboxes[0]?.problem).toContain('password is wrong');
    expect(sentBy('ines')).toHaveLength(1);
    expect(sentBy('tomas')).toHaveLength(1 + 8);
  });

  it('leaves out whoever lost a value since the start rather than sending a gap', async () => {
    const mailbox = await world.connect('ines');
    const listId = await world.importCsv('email,company\na@vines.example,Cedar\nb@vines.example,Slate');
    const steps = [await world.step({ body: 'For {{ company }}' })];
    const id = await world.begin({ listId, mailboxIds: [mailbox], steps });
    await world.store.pool.query(`update list_rows set fields = fields - 'company' where fields->>'company' = 'Slate'`);
    await world.drive('2026-11-03T20:00:00Z');
    expect(await world.states(id)).toEqual({ 'a@vines.example': 'done', 'b@vines.example': 'left_out' });
    expect(await world.inbox('b@vines.example')).toEqual([]);
  });

  it('sends nothing to an address put on the suppression list after the start', async () => {
    const mailbox = await world.connect('ines');
    const id = await world.begin({
      listId: await world.people({ 'a@vines.example': 'silent', 'b@slate.example': 'silent' }),
      mailboxIds: [mailbox],
    });
    await world.api.post('/suppressions', { what: 'slate.example', reason: 'customer' });
    await world.drive('2026-11-03T20:00:00Z');
    expect(await world.states(id)).toEqual({ 'a@vines.example': 'in_progress', 'b@slate.example': 'stopped' });
    expect(await world.inbox('b@slate.example')).toEqual([]);
  });

  it('ramps a young mailbox up by the working day', async () => {
    const mailbox = await world.connect('wren', { ramp: { first: 2, add: 3, every: 1 } });
    const before = sentBy('wren').length;
    await world.begin({ listId: await world.people(everyone(30)), mailboxIds: [mailbox], steps: await oneStep() });
    await world.drive('2026-11-05T20:00:00Z');
    const days = sentBy('wren')
      .slice(before)
      .map((m) => new Date(m.receivedAt).getUTCDate());
    expect([2, 3, 4, 5].map((d) => days.filter((x) => x === d).length)).toEqual([2, 5, 8, 11]);
  });

  it('plans anew what is late after the machine slept, and lets nothing out in a burst', async () => {
    const mailbox = await world.connect('ines', { dailyQuota: 12 });
    const before = sentBy('ines').length;
    await world.begin({ listId: await world.people(everyone(12)), mailboxIds: [mailbox], steps: await oneStep() });
    // Nobody was there from eight in the morning till half past two.
    const woke = Date.parse('2026-11-02T14:30:00Z');
    await world.store.pool.query('update clock set now_ms = $1', [woke]);
    await world.drive(woke + 20 * 60_000);
    const soon = sentBy('ines').length - before;
    expect(soon).toBeGreaterThan(0);
    expect(soon).toBeLessThan(6);
    await world.drive('2026-11-03T20:00:00Z');
    expect(sentBy('ines').length - before).toBe(12);
  });
});
