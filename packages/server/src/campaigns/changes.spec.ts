import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { BriefView, ChangeView, MessageResults } from '@baton/contract';
import { silentPeople, stepOf, TestWorld } from '../testing/test-world';

let world: TestWorld;
let mailbox: number;
beforeEach(async () => {
  world = await TestWorld.start();
  mailbox = await world.connect('ines', { dailyQuota: 4 });
});
afterEach(() => world.close());

const preview = (b: BriefView, change: Partial<BriefView>) =>
  world.api.post<ChangeView>(`/campaigns/${b.id}/changes/preview`, { ...b, ...change });
const apply = (b: BriefView, change: Partial<BriefView>) =>
  world.api.post<BriefView>(`/campaigns/${b.id}/changes`, { ...b, ...change });
/** All that is stored of a campaign's choices and people, and of its plan but for the moments. */
const stored = async (id: number) => {
  const rows = async (text: string) => (await world.store.pool.query(text, [id])).rows as unknown[];
  return {
    steps: await rows('select * from campaign_steps where campaign_id = $1 order by position'),
    people: await rows(
      'select id, state, reason, sent, last_sent_day from enrolments where campaign_id = $1 order by id',
    ),
    mailboxes: await rows('select mailbox_id from campaign_mailboxes where campaign_id = $1 order by 1'),
    plan: await rows('select enrolment_id, step, state from deliveries where campaign_id = $1 order by 1, 2'),
    choices: await rows(
      `select name, list_id, segment_id, start_date, "window", daily_limit, recipients, needs_lines from campaigns where id = $1`,
    ),
  };
};

/** A campaign of two messages to eight people of whom four have had the first. */
async function running(): Promise<BriefView> {
  const id = await world.begin({
    listId: await world.people(silentPeople(8)),
    mailboxIds: [mailbox],
    steps: [await world.step({ name: 'First', body: 'One' }), await world.step({ name: 'Reminder', body: 'Two' }, 2)],
  });
  await world.drive('2026-11-02T20:00:00Z');
  return world.brief(id);
}

describe('a running campaign', () => {
  it('says before it is changed what that does to people and plan, and changes nothing by saying so', async () => {
    const b = await running();
    const before = await stored(b.id);
    const last = await world.message({ name: 'Last', body: 'Three' });
    const [first, reminder] = b.steps as [BriefView['steps'][number], BriefView['steps'][number]];
    const { changes, effects, faults, loads } = await preview(b, {
      steps: [first, { ...reminder, delay: 4 }, stepOf(last, 3)],
      dailyLimit: 3,
    });
    expect(faults).toEqual([]);
    expect(changes).toEqual([
      'Follow-up 1 leaves 4 working days after the message before it, instead of 2.',
      'Follow-up 2 is new: “Last”, 3 working days after the message before it.',
      'It sends at most 3 a day, instead of as many a day as the quotas allow.',
    ]);
    expect(effects).toContain('8 messages more are to come.');
    expect(effects.join(' ')).toMatch(/\d+ messages? moves? to another day\./);
    expect(effects.join(' ')).toMatch(/Trial ends on \w+ \d+ November, instead of /);
    expect(loads.reduce((sum, l) => sum + l.first + l.followUps, 0)).toBe(4 + 8 + 8);
    expect(await stored(b.id)).toEqual(before);
  });

  it('sends by the new choices what has not left, and keeps what has', async () => {
    const b = await running();
    const [first, reminder] = b.steps as [BriefView['steps'][number], BriefView['steps'][number]];
    const between = await world.message({ name: 'Between', body: 'One and a half' });
    const other = await world.message({ name: 'Better', body: 'Better' });
    const change = { steps: [{ ...first, messageId: other }, stepOf(between, 1), reminder] };
    const { effects, changes } = await preview(b, change);
    expect(changes[0]).toBe('The first message is “Better”, instead of “First”.');
    expect(effects).toContain('4 people have had the first message as it was.');
    const changed = await apply(b, change);
    expect(changed.steps.map((s) => [s.messageName, s.sent])).toEqual([
      ['Better', 4],
      ['Between', 0],
      ['Reminder', 0],
    ]);
    expect(changed.lastChange).toMatchObject({ whyNotUndo: null });
    await world.drive('2026-11-20T20:00:00Z');
    expect(await world.firstLines('p0@vines.example')).toEqual(['One', 'One and a half', 'Two']);
    expect(await world.firstLines('p7@vines.example')).toEqual(['Better', 'One and a half', 'Two']);
    expect((await world.brief(b.id)).state).toBe('finished');
    // What they got is shown as it left.
    const [contact] = (await world.recipients(b.id)).filter((r) => r.address === 'p0@vines.example');
    const proof = await world.api.get<{ text: string }>(`/people/${contact?.contactId}/campaigns/${b.id}/messages/0`);
    expect(proof.text).toContain('One');
  });

  it('takes a step out for those who have not had it, and sends nobody anything twice', async () => {
    const id = await world.begin({
      listId: await world.people(silentPeople(6)),
      mailboxIds: [mailbox],
      steps: [
        await world.step({ name: 'A', body: 'A' }),
        await world.step({ name: 'B', body: 'B' }, 1),
        await world.step({ name: 'C', body: 'C' }, 1),
      ],
    });
    // Some have had A and B, others A, others nothing.
    await world.drive('2026-11-03T20:00:00Z');
    const b = await world.brief(id);
    expect(b.steps.map((s) => s.sent > 0)).toEqual([true, true, false]);
    const [a, , c] = b.steps as [BriefView['steps'][number], BriefView['steps'][number], BriefView['steps'][number]];
    const changed = await apply(b, { steps: [a, c] });
    expect(changed.steps.map((s) => s.messageName)).toEqual(['A', 'C']);
    // And a step more, which must not take the number of the one that went.
    const d = await world.message({ name: 'D', body: 'D' });
    await apply(changed, { steps: [a, c, stepOf(d, 1)] });
    await world.drive('2026-11-27T20:00:00Z');
    const got = await Promise.all(Object.keys(silentPeople(6)).map((address) => world.firstLines(address)));
    for (const texts of got) expect(['A,B,C,D', 'A,C,D']).toContain(texts.join());
    expect(got.map((t) => t.join())).toContain('A,B,C,D');
    expect(got.map((t) => t.join())).toContain('A,C,D');
    expect(await world.states(id)).toEqual(Object.fromEntries(Object.keys(silentPeople(6)).map((p) => [p, 'done'])));
    // Whoever has had more than the campaign has by now is not cut short in the files.
    const file = async (path: string, init?: RequestInit) => (await fetch(`${world.url}/api${path}`, init)).text();
    const csv = (await file(`/campaigns/${id}/outcomes.csv`)).split('\r\n');
    expect(csv[0]).toContain('sent,follow-up 1 sent,follow-up 2 sent,follow-up 3 sent,replied');
    const times = csv.slice(1, 7).map((row) => row.match(/2026-11-\d\d \d\d:\d\d/g)?.length);
    expect(times.sort()).toEqual(got.map((t) => t.length).sort());
  });

  it('goes on with whoever had had every message, when one is added', async () => {
    const other = await world.connect('tomas', { dailyQuota: 50 });
    const id = await world.begin({
      listId: await world.people(silentPeople(3)),
      mailboxIds: [mailbox, other],
      steps: [await world.step({ name: 'Only', body: 'Only' })],
      startDate: '2026-11-02',
      dailyLimit: 1,
    });
    await world.drive('2026-11-02T20:00:00Z');
    const b = await world.brief(id);
    expect(Object.values(await world.states(id)).sort()).toEqual(['done', 'waiting', 'waiting']);
    const more = await world.message({ name: 'More', body: 'More' });
    const change = { steps: [...b.steps, stepOf(more, 1)] };
    expect((await preview(b, change)).effects).toContain('1 person who had had every message goes on with it.');
    await apply(b, change);
    await world.drive('2026-11-20T20:00:00Z');
    for (const address of Object.keys(silentPeople(3)))
      expect(await world.firstLines(address)).toEqual(['Only', 'More']);
  });

  it('is undone exactly while nothing has left by it, and not after', async () => {
    const b = await running();
    const before = await stored(b.id);
    const tomas = await world.connect('tomas');
    const more = await world.message({ name: 'More', body: 'More' });
    const [first, reminder] = b.steps as [BriefView['steps'][number], BriefView['steps'][number]];
    const changed = await apply(b, {
      steps: [{ ...first, messageId: more }, reminder, stepOf(more, 1)],
      mailboxIds: [mailbox, tomas],
      listId: await world.people({
        'p0@vines.example': 'silent',
        'p1@vines.example': 'silent',
        'new@vines.example': 'silent',
      }),
      name: 'Other',
      window: { ...b.window, to: 700 },
    });
    expect(Object.keys(await world.states(b.id))).toContain('new@vines.example');
    expect(Object.values(await world.states(b.id)).filter((s) => s === 'left_out')).toHaveLength(4);
    const back = await world.undo(b.id);
    expect(back.name).toBe('Trial');
    expect(await stored(b.id)).toEqual(before);
    expect(back.lastChange).toBeNull();
    // The page that still shows what was undone changes nothing.
    await expect(apply(changed, { dailyLimit: 1 })).rejects.toThrow('409');
    await apply(back, { dailyLimit: 3 });
    await world.drive('2026-11-03T20:00:00Z');
    expect((await world.brief(b.id)).lastChange?.whyNotUndo).not.toBeNull();
    await expect(world.undo(b.id)).rejects.toThrow('409');
  });

  it('is undone step by step, but not over what was changed in the plan since', async () => {
    const b = await running();
    const first = await apply(b, { dailyLimit: 3 });
    await apply(first, { dailyLimit: 2 });
    expect((await world.undo(b.id)).dailyLimit).toBe(3);
    expect((await world.undo(b.id)).dailyLimit).toBeNull();
    const again = await apply(await world.brief(b.id), { dailyLimit: 3 });
    await world.api.post('/plan/apply', { changes: [{ kind: 'share', campaign: b.id, to: 2 }] });
    expect((await world.brief(b.id)).lastChange?.whyNotUndo).not.toBeNull();
    await expect(world.undo(b.id)).rejects.toThrow('changed in the plan since');
    await expect(apply(again, { dailyLimit: 1 })).rejects.toThrow('409');
  });

  it('leaves out who waits and is no longer meant, and takes in who is', async () => {
    const b = await running();
    const listId = await world.people({
      'p0@vines.example': 'silent',
      'p7@vines.example': 'silent',
      'new@vines.example': 'silent',
    });
    const { effects, changes } = await preview(b, { listId });
    expect(changes[0]).toMatch(/^It is for People.*, instead of People/);
    expect(effects).toContain('1 person is taken in.');
    expect(effects).toContain('3 people who wait for the first message get none.');
    await apply(b, { listId });
    await world.drive('2026-11-20T20:00:00Z');
    // p0 to p3 had the first message and go on, on the list or not.
    expect(await world.firstLines('p2@vines.example')).toEqual(['One', 'Two']);
    expect(await world.firstLines('p5@vines.example')).toEqual([]);
    expect(await world.firstLines('new@vines.example')).toEqual(['One', 'Two']);
    expect((await world.recipients(b.id)).find((r) => r.address === 'p5@vines.example')).toMatchObject({
      state: 'left_out',
      reason: 'no longer among those the campaign is for',
    });
  });

  it('takes the text that a message has now only when asked to', async () => {
    const b = await running();
    const reminder = b.steps[1] as BriefView['steps'][number];
    const content = { subject: 'Reminder', body: 'Two and new' };
    await world.api.put(`/messages/${reminder.messageId}`, { name: 'Reminder', content });
    const now = await world.brief(b.id);
    expect(now.steps.map((s) => s.isOlder)).toEqual([false, true]);
    const change = { steps: now.steps.map((s, i) => ({ ...s, renews: i === 1 })) };
    const said = await preview(now, change);
    expect(said.changes).toEqual(['Follow-up 1, “Reminder”, goes out with the text that it has now.']);
    expect(said.effects).toEqual(['Every message keeps its day, its time and its mailbox.']);
    const times = async () =>
      (await world.store.pool.query('select id, instant, mailbox_id from deliveries order by id')).rows as unknown[];
    const before = await times();
    const after = await apply(now, change);
    expect(await times()).toEqual(before);
    expect(after.steps.map((s) => s.isOlder)).toEqual([false, false]);
    await world.drive('2026-11-20T20:00:00Z');
    expect(await world.firstLines('p0@vines.example')).toEqual(['One', 'Two and new']);
  });

  it('keeps apart how each text of a message has done', async () => {
    const b = await running();
    const [first] = b.steps as [BriefView['steps'][number]];
    const had = (await world.recipients(b.id)).filter((r) => r.messages.some((m) => m.state === 'sent')).length;
    await world.api.put(`/messages/${first.messageId}`, {
      name: 'First',
      content: { subject: 'Kelp', body: 'One and new' },
    });
    await apply(b, { steps: b.steps.map((s, i) => ({ ...s, renews: i === 0 })) });
    await world.drive('2026-11-20T20:00:00Z');
    const { uses } = await world.api.get<MessageResults>(`/results/messages/${first.messageId}`);
    const all = (await world.recipients(b.id)).filter((r) => r.messages.some((m) => m.state === 'sent')).length;
    expect(all).toBeGreaterThan(had);
    expect(uses.map((u) => [u.until === null, u.place, u.counts.written])).toEqual([
      [false, 0, had],
      [true, 0, all - had],
    ]);
  });

  it('is not changed into what cannot run, nor by two at once', async () => {
    const b = await running();
    const [first, reminder] = b.steps as [BriefView['steps'][number], BriefView['steps'][number]];
    expect((await preview(b, { mailboxIds: [] })).faults).toEqual(['No mailbox is chosen.']);
    expect((await preview(b, { steps: [reminder, first] })).faults[0]).toContain('it stays the first');
    expect((await preview(b, { steps: [{ ...first, messageId: null }] })).faults).toEqual(['A step has no message.']);
    expect((await preview(b, { mailboxIds: [999] })).faults).toEqual([
      'One of the mailboxes is gone. Look at them again.',
    ]);
    expect((await preview(b, { listId: 999 })).faults).toEqual(['One of the lists is gone. Choose another.']);
    await expect(apply(b, { mailboxIds: [999] })).rejects.toThrow('400');
    await expect(apply(b, { mailboxIds: [] })).rejects.toThrow('No mailbox is chosen');
    const both = await Promise.allSettled([apply(b, { dailyLimit: 1 }), apply(b, { dailyLimit: 2 })]);
    expect(both.map((r) => r.status).sort()).toEqual(['fulfilled', 'rejected']);
  });
});

describe('how messages leave', () => {
  it('is in the same thread, or in one of their own, which those after them continue', async () => {
    const id = await world.begin({
      listId: await world.people(silentPeople(1)),
      mailboxIds: [mailbox],
      steps: [
        await world.step({ name: 'A', subject: 'Kelp', body: 'A' }),
        await world.step({ name: 'B', subject: 'No subject of mine', body: 'B' }, 1),
        { ...(await world.step({ name: 'C', subject: 'Another matter', body: 'C' }, 1)), startsThread: true },
        await world.step({ name: 'D', subject: 'Nor mine', body: 'D' }, 1),
      ],
    });
    await world.drive('2026-11-20T20:00:00Z');
    const mails = await world.inbox('p0@vines.example');
    expect(mails.map((m) => m.subject)).toEqual(['Kelp', 'Re: Kelp', 'Another matter', 'Re: Another matter']);
    const [a, b, c] = mails.map((m) => m.messageId);
    expect(mails.map((m) => m.references.join())).toEqual(['', a, '', c]);
    expect(b).not.toBe(c);
    const [person] = await world.recipients(id);
    const proof = (step: number) =>
      world.api.get<{ subject: string }>(`/people/${person?.contactId}/campaigns/${id}/messages/${step}`);
    expect([(await proof(1)).subject, (await proof(3)).subject]).toEqual(['Re: Kelp', 'Re: Another matter']);
  });

  it('is by hand where that is chosen: each day waits, is let go, and waits again only on another day', async () => {
    const b = await running();
    await apply(b, { releasedByHand: true });
    const waiting = async () =>
      (
        await world.store.pool.query<{ n: number }>(
          'select count(*)::int as n from deliveries where held_at is not null',
        )
      ).rows[0]?.n;
    expect(await waiting()).toBe(4 + 8);
    const held = async () =>
      (await world.api.get<{ needs: { kind: string; title: string }[] }>('/today')).needs
        .filter((n) => n.kind === 'held')
        .map((n) => n.title);
    // What is not yet due needs nobody yet.
    expect(await held()).toEqual([]);
    await world.drive('2026-11-03T06:00:00Z');
    expect(await held()).toEqual(['4 messages of Tue 3 Nov held']);
    await world.drive('2026-11-03T20:00:00Z');
    expect(await world.firstLines('p7@vines.example')).toEqual([]);
    // Tuesday's have moved on to Wednesday, still waiting.
    await world.drive('2026-11-04T06:00:00Z');
    await world.api.post('/plan/batch', { day: '2026-11-04', mailboxId: null, held: false });
    await world.drive('2026-11-04T20:00:00Z');
    const { rows } = await world.store.pool.query<{ n: number }>(
      "select count(*)::int as n from deliveries where state = 'sent'",
    );
    expect(rows[0]?.n).toBe(8);
    const now = await world.brief(b.id);
    await apply(now, { releasedByHand: false });
    expect(await waiting()).toBe(0);
    await world.drive('2026-11-20T20:00:00Z');
    for (const address of Object.keys(silentPeople(8))) expect(await world.firstLines(address)).toEqual(['One', 'Two']);
  });
});

describe('a first group', () => {
  it('comes first, and the others a working day after the last of it, as the brief says beforehand', async () => {
    const choices = {
      ...{ listId: await world.people(silentPeople(6)), mailboxIds: [mailbox], firstGroup: 2, groupWait: 1 },
      steps: [await world.step({ name: 'First', body: 'One' })],
    };
    const { forecast } = await world.draft(choices);
    expect([forecast.firstDay, forecast.lastDay]).toEqual(['2026-11-02', '2026-11-03']);
    const id = await world.begin({ ...choices, name: 'Two first' });
    await world.drive('2026-11-02T20:00:00Z');
    expect(Object.values(await world.states(id)).sort()).toEqual(['done', 'done', ...Array<string>(4).fill('waiting')]);
    await world.drive('2026-11-03T20:00:00Z');
    expect(Object.values(await world.states(id))).toEqual(Array(6).fill('done'));
  });

  it('comes first, and the others when a person lets them go', async () => {
    const id = await world.begin({
      ...{ listId: await world.people(silentPeople(6)), mailboxIds: [mailbox], firstGroup: 2, groupByHand: true },
      steps: [await world.step({ name: 'First', body: 'One' })],
    });
    await world.drive('2026-11-04T20:00:00Z');
    expect(Object.values(await world.states(id)).sort()).toEqual(['done', 'done', ...Array<string>(4).fill('waiting')]);
    const b = await world.brief(id);
    expect(b.state).toBe('running');
    const { changes, effects } = await preview(b, { firstGroup: null });
    expect(changes).toEqual(['All may begin at once.']);
    expect(effects).toContain('4 messages more are to come.');
    await apply(b, { firstGroup: null });
    await world.drive('2026-11-06T20:00:00Z');
    expect(Object.values(await world.states(id))).toEqual(Array(6).fill('done'));
  });
});

describe('a draft', () => {
  it('is not overwritten by somebody who has not seen what was chosen meanwhile', async () => {
    const draft = await world.draft({ listId: await world.people(silentPeople(2)), mailboxIds: [mailbox] });
    const mine = await world.api.put<BriefView>(`/campaigns/${draft.id}`, { ...draft, dailyLimit: 5 });
    await expect(world.api.put(`/campaigns/${draft.id}`, { ...draft, dailyLimit: 9 })).rejects.toThrow('409');
    expect((await world.brief(draft.id)).dailyLimit).toBe(5);
    await world.api.put(`/campaigns/${draft.id}`, { ...mine, dailyLimit: 9 });
    const now = await world.brief(draft.id);
    const [step] = now.steps;
    for (const gone of [{ mailboxIds: [999] }, { listId: 999 }, { steps: [{ ...step, messageId: 999 }] }])
      await expect(world.api.put(`/campaigns/${draft.id}`, { ...now, ...gone })).rejects.toThrow('409');
    expect(await world.brief(draft.id)).toEqual(now);
  });
});
