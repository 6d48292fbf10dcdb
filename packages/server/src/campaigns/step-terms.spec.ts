import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { BriefView, ChangeView } from '@baton/contract';
import { silentPeople, TestWorld } from '../testing/test-world';

let world: TestWorld;
let mailbox: number;
beforeEach(async () => {
  world = await TestWorld.start();
  mailbox = await world.connect('ines');
});
afterEach(() => world.close());

const minuteOf = (at: number) => new Date(at).getUTCHours() * 60 + new Date(at).getUTCMinutes();
type Steps = BriefView['steps'];
const steps = async (...over: Partial<Steps[number]>[]): Promise<Steps> => {
  const all: Steps = [];
  for (const [i, o] of over.entries())
    all.push({ ...(await world.step({ body: `Letter ${i + 1}` }, i === 0 ? 0 : 2)), ...o });
  return all;
};

describe('a follow-up', () => {
  it('leaves in hours of its own', async () => {
    const people = silentPeople(12);
    const id = await world.begin({
      ...{ listId: await world.people(people), mailboxIds: [mailbox], windowZone: 'workspace' },
      steps: await steps({}, { hours: { from: 14 * 60, to: 15 * 60 } }),
    });
    await world.drive('2026-11-06T20:00:00Z');
    const got = await Promise.all(Object.keys(people).map((address) => world.inbox(address)));
    expect(got.every((mails) => mails.length === 2)).toBe(true);
    // In the workspace's zone, which is UTC then.
    for (const [, second] of got) expect(minuteOf(second?.receivedAt ?? 0)).toBeGreaterThanOrEqual(14 * 60);
    for (const [, second] of got) expect(minuteOf(second?.receivedAt ?? 0)).toBeLessThan(15 * 60);
    expect((await world.brief(id)).state).toBe('finished');
  });

  it('is passed over from its last day on, and what comes behind it comes when it would have', async () => {
    const listId = await world.people(silentPeople(2));
    const draft = await world.draft({
      ...{ listId, mailboxIds: [mailbox] },
      steps: await steps({}, { delay: 4, lastDay: '2026-11-04' }, { delay: 2 }),
    });
    const { id, forecast } = draft;
    expect(forecast.obstacles.map((o) => o.text)).toContain(
      '2 follow-ups would leave after their own last day and are not sent',
    );
    await world.api.post(`/campaigns/${id}/start`, { people: forecast.people, lastDay: forecast.lastDay });
    // Planned: the first message and the last one, which waits as long as if the second had left.
    const first = await world.brief(id);
    expect(first.forecast.messages).toBe(4);
    await world.drive('2026-11-13T20:00:00Z');
    expect(await world.firstLines('p0@vines.example')).toEqual(['Letter 1', 'Letter 3']);
    expect(new Date((await world.inbox('p0@vines.example'))[1]?.receivedAt ?? 0).getUTCDate()).toBe(10);
    expect(Object.values(await world.states(id))).toEqual(['done', 'done']);
    const { rows } = await world.store.pool.query(`select distinct detail from events where kind = 'skipped'`);
    expect(rows).toEqual([{ detail: 'its last day has passed' }]);
  });

  it('quotes the message before it, in the proof as in what leaves', async () => {
    const listId = await world.people({ 'ana@vines.example': 'silent' });
    const id = await world.begin({
      ...{ listId, mailboxIds: [mailbox] },
      steps: await steps({}, { quotes: true }, { quotes: true }),
    });
    await world.drive('2026-11-02T20:00:00Z');
    const [ana] = await world.recipients(id);
    const proof = await world.api.get<{ text: string }>(`/people/${ana?.contactId}/campaigns/${id}/messages/1`);
    await world.drive('2026-11-09T20:00:00Z');
    const [first, second, third] = await world.inbox('ana@vines.example');
    expect(first?.text).not.toContain('>');
    expect(second?.text).toMatch(/^Letter 2\s+.*<ines@tidewaterkelp\.example>, 2026-11-02 \d+:\d\d:\n> Letter 1/s);
    expect(second?.html).toMatch(/<blockquote type="cite"[\s\S]*Letter 1[\s\S]*<\/blockquote>/);
    expect(proof.text.trim()).toBe(second?.text.trim());
    expect(third?.text).toMatch(/> Letter 2/);
  });

  it('can be given other terms while the campaign runs, said as they are', async () => {
    const listId = await world.people(silentPeople(2));
    const id = await world.begin({
      listId,
      mailboxIds: [mailbox],
      startDate: '2026-11-05',
      steps: await steps({}, {}),
    });
    const brief = await world.brief(id);
    const [one, two] = brief.steps as [Steps[number], Steps[number]];
    const other: Steps = [
      { ...one, answersLast: true },
      { ...two, quotes: true, lastDay: '2026-11-20', hours: { from: 600, to: 660 } },
    ];
    const body = { ...brief, steps: other };
    const { changes } = await world.api.post<ChangeView>(`/campaigns/${id}/changes/preview`, body);
    expect(changes).toEqual([
      'The first message answers the last conversation with the person, where there is one.',
      'Follow-up 1 quotes the message before it.',
      'Follow-up 1 leaves until Friday 20 November; whoever has not had it by then is passed over.',
      'Follow-up 1 leaves from 10:00 to 11:00.',
    ]);
    const after = await world.api.post<BriefView>(`/campaigns/${id}/changes`, body);
    expect(after.steps[1]).toMatchObject({ quotes: true, lastDay: '2026-11-20', hours: { from: 600, to: 660 } });
    expect((await world.undo(id)).steps[1]).toMatchObject({ quotes: false, lastDay: null, hours: null });
  });
});

it('has hours in which the campaign sends, and a last day that is still to come', async () => {
  const listId = await world.people(silentPeople(2));
  const over = await steps({}, { hours: { from: 1200, to: 1260 } }, { lastDay: '2026-10-30' });
  const draft = await world.draft({ listId, mailboxIds: [mailbox], startDate: '2026-11-05', steps: over });
  expect(draft.forecast.obstacles.filter((o) => o.kind === 'fix').map((o) => o.text)).toEqual([
    '2 people cannot be planned: there are too few hours in which mailbox and recipient may both',
    'Follow-up 1 leaves from 20:00 to 21:00, but the campaign sends from 9:00 to 16:30',
    'Follow-up 2 goes to nobody: its last day has passed',
  ]);
  const id = await world.begin({ listId, mailboxIds: [mailbox], startDate: '2026-11-05', steps: await steps({}, {}) });
  const brief = await world.brief(id);
  const changed = brief.steps.map((s, i) => ({ ...s, ...(i === 1 ? { hours: { from: 1200, to: 1260 } } : {}) }));
  const { faults } = await world.api.post<ChangeView>(`/campaigns/${id}/changes/preview`, { ...brief, steps: changed });
  expect(faults).toEqual(['Follow-up 1 leaves from 20:00 to 21:00, but the campaign sends from 9:00 to 16:30.']);
});

describe('a first message', () => {
  it('names no more of an earlier conversation than a header should hold', async () => {
    const listId = await world.people({ 'dee@vines.example': 'silent' });
    const first = await world.begin({ listId, mailboxIds: [mailbox], steps: await steps({}) });
    await world.drive('2026-11-02T20:00:00Z');
    const [dee] = await world.recipients(first);
    await world.store.pool.query(
      `insert into incoming (mailbox_id, uid_validity, uid, raw, received_at, from_name, from_key, subject, body, message_id,
        kind, because, did, enrolment_id)
      select $1, '9', n, '', 1793649600000 + n, '', 'dee@vines.example', 'Re: x', '',
        case when n = 40 then repeat('x', 5000) else n || '@robot.example' end, 'reply', '', '', $2
      from generate_series(1, 40) n`,
      [mailbox, dee?.enrolmentId],
    );
    const all = await world.people({ 'dee@vines.example': 'silent' });
    const again = { listId: all, mailboxIds: [mailbox], startDate: '2026-11-03', name: 'Again' };
    await world.begin({ ...again, steps: await steps({ answersLast: true }) });
    await world.drive('2026-11-03T20:00:00Z');
    const references = (await world.inbox('dee@vines.example'))[1]?.references ?? [];
    expect(references).toHaveLength(20);
    expect(references.at(-1)).toBe('<39@robot.example>');
  });

  it('answers the last conversation of its mailbox with the person, where there is one', async () => {
    const listId = await world.people({ 'bo@vines.example': 'silent' });
    await world.begin({ listId, mailboxIds: [mailbox], steps: await steps({}, {}) });
    await world.drive('2026-11-06T20:00:00Z');
    const all = await world.people({ 'bo@vines.example': 'silent', 'cy@vines.example': 'silent' });
    const again = await world.draft({
      ...{ listId: all, mailboxIds: [mailbox], startDate: '2026-11-09', name: 'Again' },
      steps: await steps({ answersLast: true }, {}),
    });
    const { people, lastDay } = again.forecast;
    await world.api.post(`/campaigns/${again.id}/start`, { people, lastDay });
    const [bo] = await world.recipients(again.id);
    const proof = await world.api.get<{ subject: string }>(`/people/${bo?.contactId}/campaigns/${again.id}/messages/0`);
    expect(proof.subject).toBe('Re: Kelp for Bo');
    await world.drive('2026-11-13T20:00:00Z');
    const [first, second, third, fourth] = await world.inbox('bo@vines.example');
    expect(third?.subject).toBe(second?.subject);
    expect(third?.references).toEqual([first?.messageId, second?.messageId]);
    expect(fourth?.subject).toBe(second?.subject);
    const [cys] = await world.inbox('cy@vines.example');
    expect(cys?.subject).toBe('Kelp for Cy');
    expect(cys?.references).toEqual([]);
  });
});
