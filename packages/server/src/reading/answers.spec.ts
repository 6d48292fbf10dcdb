import nodemailer from 'nodemailer';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { IncomingView, MailboxView, ReplyPage, SnippetView, ThreadView, TodayView } from '@baton/contract';
import { TestWorld } from '../testing/test-world';

const INES = 'ines@tidewaterkelp.example';
const ANA = 'ana@vines.example';
let world: TestWorld;
let campaign: number;
let mailboxId: number;
let now: number;
beforeEach(async () => {
  world = await TestWorld.start();
  mailboxId = await world.connect('ines');
  const listId = await world.people({ [ANA]: 'silent', 'bo@hills.example': 'silent' });
  campaign = await world.begin({ listId, mailboxIds: [mailboxId] });
  now = Date.parse('2026-11-02T22:00:00Z');
  await world.drive(now);
});
afterEach(() => world.close());

const HOURS = 3_600_000;
const later = (hours: number) => world.drive((now += hours * HOURS));
let mails = 0;
/** A message comes in and is read. */
async function comes(text: string, head: readonly string[] = [], from = ANA): Promise<IncomingView> {
  const subject = from.endsWith('nowhere.example') ? 'Crates' : 'Re: Kelp for Ana';
  const lines = [`From: ${from}`, `To: ${INES}`, `Message-ID: <${++mails}@x>`, `Subject: ${subject}`, ...head];
  world.provider.store.addMail(INES, 'INBOX', Buffer.from([...lines, '', text].join('\r\n')), now + HOURS);
  await later(3);
  return (await world.api.get<ReplyPage>('/replies')).replies[0] as IncomingView;
}
const thread = (id: number) => world.api.get<ThreadView>(`/replies/${id}/thread`);
const draft = (text: string) => ({ subject: 'Re: Kelp for Ana', text, quotes: true });
const send = (id: number, text: string) =>
  world.api.post<{ letterId: number }>(`/replies/${id}/answer`, draft(text)).then((a) => a.letterId);
/** The time to take letters back is over. */
const untilItLeaves = async () => {
  await world.store.pool.query(`update letters set leaves_at = 0 where state = 'waiting'`);
  await later(1);
};
const atAnas = async () => (await world.inbox(ANA)).filter((m) => !m.subject.includes('Trial')).slice(1);
const mailbox = async () => (await world.api.get<MailboxView[]>('/mailboxes'))[0] as MailboxView;

describe('an answer', () => {
  it('is kept while it is written, leaves in the thread with signature and quotation, once, and is counted', async () => {
    const came = await comes('Yes please.\r\nAna', ['References: <older@x> <old@x>']);
    const { answer } = await thread(came.id);
    expect(answer).toMatchObject({ obstacle: null, to: ANA, from: INES, subject: 'Re: Kelp for Ana', text: '' });
    expect(answer.quotation).toMatch(
      /^On Mon 2 Nov 2026 at \d+:\d\d, ana@vines\.example wrote:\n> Yes please\.\n> Ana$/,
    );
    await world.api.put(`/replies/${came.id}/answer`, draft('Dear Ana,\n\nhow'));
    expect((await thread(came.id)).answer.text).toBe('Dear Ana,\n\nhow');
    const before = (await mailbox()).sentToday;
    await send(came.id, 'Dear Ana,\n\nhow many <crates>?');
    expect((await thread(came.id)).answer).toMatchObject({
      text: '',
      leaving: { secondsLeft: expect.any(Number) as number },
    });
    expect(await atAnas()).toEqual([]);
    await untilItLeaves();
    await later(1);
    const [got, ...more] = await atAnas();
    expect(more).toEqual([]);
    expect(got).toMatchObject({
      from: INES,
      subject: 'Re: Kelp for Ana',
      references: ['<older@x>', '<old@x>', `<${mails}@x>`],
    });
    expect(got?.text).toMatch(
      /^Dear Ana,\n\nhow many <crates>\?\n\n-- \nines\nTidewater Kelp Works\n\nOn Mon .*wrote:\n> Yes please\.\n> Ana\s*$/,
    );
    expect(got?.html).toContain('how many &#60;crates&#62;?');
    expect(got?.unsubscribeLink).toBeNull();
    expect((await mailbox()).sentToday).toBe(before + 1);
    const { messages } = await thread(came.id);
    expect(messages.map((m) => [m.from, m.state])).toEqual([
      ['campaign', 'sent'],
      ['them', 'sent'],
      ['hand', 'sent'],
    ]);
    expect((await world.api.get<ReplyPage>('/replies')).replies[0]?.isAnswered).toBe(true);
  });

  it('can be taken back until it leaves, and is a draft again with what was written meanwhile', async () => {
    const came = await comes('Yes please.');
    const letter = await send(came.id, 'One.');
    await world.api.put(`/replies/${came.id}/answer`, draft('Two.'));
    await world.api.post(`/letters/${letter}/take-back`, {});
    expect((await thread(came.id)).answer).toMatchObject({ text: 'One.\n\nTwo.', leaving: null });
    await later(2);
    expect(await atAnas()).toEqual([]);
    const again = await send(came.id, 'Three.');
    await untilItLeaves();
    await expect(world.api.post(`/letters/${again}/take-back`, {})).rejects.toThrow(/left already/);
    expect((await atAnas()).map((m) => m.text.split('\n')[0])).toEqual(['Three.']);
  });

  it('is sent once, however often Send is pressed', async () => {
    const came = await comes('Yes please.');
    const pressed = await Promise.allSettled([send(came.id, 'Thanks.'), send(came.id, 'Thanks.')]);
    expect(pressed.map((p) => p.status).sort()).toEqual(['fulfilled', 'rejected']);
    await untilItLeaves();
    await expect(send(came.id, 'Thanks.')).rejects.toThrow(/has been sent/);
    await send(came.id, 'And one thing more.');
    await untilItLeaves();
    expect((await atAnas()).map((m) => m.text.split('\n')[0])).toEqual(['Thanks.', 'And one thing more.']);
  });

  it('goes where the person wants answers', async () => {
    const came = await comes('Yes please.', ['Reply-To: Orders <orders@vines.example>']);
    await send(came.id, 'Thanks.');
    await untilItLeaves();
    expect((await world.inbox('orders@vines.example')).map((m) => m.text.split('\n')[0])).toEqual(['Thanks.']);
  });

  it('goes to nobody on the suppression list, waits while all is held, and is none to a machine', async () => {
    const came = await comes('Please remove me from your list.');
    expect((await thread(came.id)).answer.obstacle).toBe(`${ANA} is on the suppression list; nothing is sent there.`);
    await expect(send(came.id, 'Sorry.')).rejects.toThrow(/suppression list/);
    await world.api.post(`/replies/${came.id}/undo`, {});
    await send(came.id, 'Sorry.');
    await world.api.post('/hold-all', {});
    await untilItLeaves();
    expect(await atAnas()).toEqual([]);
    await world.api.post('/suppressions', { what: ANA, reason: 'by phone' });
    await world.api.post('/release-all', {});
    await later(1);
    expect(await atAnas()).toEqual([]);
    const last = (await thread(came.id)).messages.at(-1);
    expect(last).toMatchObject({ state: 'failed', reason: `${ANA} is on the suppression list` });
    expect((await world.api.get<TodayView>('/today')).needs.filter((n) => n.kind === 'answer_failed')).toMatchObject([
      { title: `The answer to ${ANA} could not be sent`, link: `/replies/${came.id}` },
    ]);
    await expect(world.api.post(`/replies/${came.id}/answer`, draft(' '))).rejects.toThrow(/nothing in it/);
  });

  it('is tried again where the server puts it off, and costs no quota until it is taken', async () => {
    const came = await comes('Yes please.');
    const before = (await mailbox()).sentToday;
    await world.desk.call('PUT', `/people/${ANA}`, { persona: 'greylisted' });
    await send(came.id, 'Soon.');
    await untilItLeaves();
    const waiting = (await thread(came.id)).messages.at(-1);
    expect(waiting).toMatchObject({ state: 'waiting', reason: expect.stringMatching(/^4\d\d/) as string });
    expect((await mailbox()).sentToday).toBe(before);
    await later(2);
    await untilItLeaves();
    expect(await atAnas()).toHaveLength(1);
    expect((await mailbox()).sentToday).toBe(before + 1);
  });

  it('is matched by what answers it, and no answer of ours is taken for one by hand too', async () => {
    const came = await comes('Yes please.');
    await send(came.id, 'How many?');
    await untilItLeaves();
    const [got] = await atAnas();
    const next = await comes('Five.', [`In-Reply-To: <${got?.messageId}>`], 'orders@vines.example');
    expect(next).toMatchObject({ kind: 'reply', match: 'sure', person: ANA });
    expect((await thread(next.id)).messages.map((m) => m.from)).toEqual(['campaign', 'them', 'hand', 'them']);
  });

  it('that broke off is found in the Sent folder, and is never sent twice', async () => {
    const came = await comes('Yes please.');
    await send(came.id, 'How many?');
    await untilItLeaves();
    await world.store.pool.query(`update letters set state = 'sending', sent_at = null, started_at = 0`);
    await later(1);
    expect((await thread(came.id)).messages.at(-1)).toMatchObject({ from: 'hand', state: 'sent' });
    expect(await atAnas()).toHaveLength(1);
  });

  it('that left after the backup from which the database is, is not sent again', async () => {
    const came = await comes('Yes please.');
    await send(came.id, 'How many?');
    await untilItLeaves();
    await later(1);
    await world.store.pool.query(`update letters set state = 'waiting', sent_at = null, tries = 0, leaves_at = 0`);
    await later(2);
    expect((await thread(came.id)).messages.at(-1)).toMatchObject({ from: 'hand', state: 'sent' });
    expect(await atAnas()).toHaveLength(1);
  });

  it('that broke off and is nowhere is sent after two looks', async () => {
    const came = await comes('Yes please.');
    await send(came.id, 'How many?');
    await world.store.pool.query(`update letters set state = 'sending', started_at = 0, tries = 1`);
    await later(1);
    expect(await atAnas()).toEqual([]);
    await world.store.pool.query('update letters set looked_at = 0');
    await later(1);
    await later(1);
    expect(await atAnas()).toHaveLength(1);
  });

  it('of which nobody knows is settled by a person', async () => {
    const came = await comes('Yes please.');
    const letter = await send(came.id, 'How many?');
    await world.store.pool.query(`update letters set state = 'unconfirmed', started_at = ${now}`);
    expect((await world.api.get<TodayView>('/today')).needs.some((n) => n.title.includes('may or may not'))).toBe(true);
    const used = (await mailbox()).sentToday;
    await world.store.pool.query(
      `insert into other_sends select ${mailboxId}, message_id, ${now}, 1, true from letters where id = ${letter}`,
    );
    await world.store.pool.query(
      `insert into mailbox_days values (${mailboxId}, ${Math.floor(now / 86_400_000)}, 1, 0)`,
    );
    await world.api.post(`/letters/${letter}/settle`, { left: false });
    expect((await mailbox()).sentToday).toBe(used);
    expect((await thread(came.id)).answer.text).toBe('How many?');
    const again = await send(came.id, 'How many?');
    await world.store.pool.query(`update letters set state = 'unconfirmed', started_at = ${now}`);
    await world.api.post(`/letters/${again}/settle`, { left: true });
    await later(2);
    expect(await atAnas()).toEqual([]);
    expect((await thread(came.id)).messages.at(-1)).toMatchObject({ from: 'hand', state: 'sent' });
    await expect(world.api.post(`/letters/${again}/settle`, { left: true })).rejects.toThrow(/no longer/);
  });
});

describe('a thread', () => {
  it('has what the owner wrote by hand, to nobody else, and is erased with the person', async () => {
    const came = await comes('Yes please.');
    const { smtp, password } = world.mailboxChoices('ines');
    const transport = nodemailer.createTransport({ ...smtp, secure: false, auth: { user: INES, pass: password } });
    const own = { from: INES, subject: 'Re: Kelp for Ana' };
    const files = [{ filename: 'prices.csv', content: 'a,b' }];
    await transport.sendMail({ ...own, to: ANA, text: 'On Friday, then.\n\n> Yes please.', attachments: files });
    await transport.sendMail({ ...own, to: 'orders@vines.example', inReplyTo: `<${mails}@x>`, text: 'Two crates.' });
    await transport.sendMail({ ...own, to: 'mum@home.example', text: 'Hello Mum.' });
    transport.close();
    await later(2);
    const { messages, contactId } = await thread(came.id);
    expect(messages.filter((m) => m.from === 'hand').map((m) => [m.text, m.parts.files.map((f) => f.name)])).toEqual([
      ['On Friday, then.', ['prices.csv']],
      ['Two crates.', []],
    ]);
    const { rows } = await world.store.pool.query('select body from letters');
    expect(JSON.stringify(rows)).not.toContain('Mum');
    expect((await world.api.get<ReplyPage>('/replies')).replies[0]?.isAnswered).toBe(true);
    await world.api.post(`/replies/${came.id}/notes`, { text: 'Knows Bo.' });
    await world.api.remove(`/people/${contactId}`);
    for (const table of ['letters', 'notes', 'incoming'])
      expect((await world.store.pool.query(`select 1 from ${table}`)).rowCount).toBe(0);
  });

  it('has notes, which can be taken away', async () => {
    const came = await comes('Yes please.');
    const { id } = await world.api.post<{ id: number }>(`/replies/${came.id}/notes`, { text: 'Met at the fair.' });
    expect((await thread(came.id)).notes).toMatchObject([{ id, text: 'Met at the fair.' }]);
    await world.api.remove(`/notes/${id}`);
    expect((await thread(came.id)).notes).toEqual([]);
    await expect(world.api.remove(`/notes/${id}`)).rejects.toThrow(/no such note/);
    const stranger = await comes('Hello?', [], 'zed@nowhere.example');
    await expect(world.api.post(`/replies/${stranger.id}/notes`, { text: 'x' })).rejects.toThrow(
      /whose the message is/,
    );
    expect((await thread(stranger.id)).messages).toMatchObject([{ from: 'them', text: 'Hello?' }]);
    await send(stranger.id, 'Who are you?');
    await untilItLeaves();
    expect((await thread(stranger.id)).messages.map((m) => m.from)).toEqual(['them', 'hand']);
    // Once it is known whose it is, the answer is theirs too.
    await world.api.put(`/replies/${stranger.id}/person`, { address: ANA });
    expect((await thread(came.id)).messages.map((m) => m.text)).toContain('Who are you?');
  });
});

describe('a snippet', () => {
  it('is put in with the values of the person, and says what is missing', async () => {
    const came = await comes('Yes please.');
    await world.api.put('/snippets', { name: 'Thanks', text: 'Thank you, {{ given_name }}. {{ sender_name }}' });
    await world.api.put('/snippets', { name: 'Crates', text: 'Your {{ crates }} crates' });
    await world.api.put('/snippets', { name: 'Broken', text: 'Your {{ crates' });
    const snippets = () => world.api.get<SnippetView[]>(`/replies/${came.id}/snippets`);
    expect(await snippets()).toMatchObject([
      { name: 'Broken', filled: null, problem: expect.stringContaining('Line 1') as string },
      { name: 'Crates', filled: null, problem: 'There is no crates for this person.' },
      { name: 'Thanks', filled: 'Thank you, Ana. ines', problem: '' },
    ]);
    const [broken] = await snippets();
    await world.api.put('/snippets', { name: 'Broken', text: 'Whole.' });
    expect((await snippets())[0]).toMatchObject({ id: broken?.id, filled: 'Whole.' });
    await world.api.remove(`/snippets/${broken?.id}`);
    expect(await snippets()).toHaveLength(2);
  });
});

describe('many messages at once', () => {
  it('get an outcome, a colleague, a day on which they come back', async () => {
    const first = await comes('Yes please.');
    const away = await comes('I am away.', ['Auto-Submitted: auto-replied'], 'bo@hills.example');
    const page = (query: string) => world.api.get<ReplyPage>(`/replies?${query}`);
    const ids = [first.id, away.id];
    await world.api.patch('/replies', { ids, change: { outcome: 'interested', assignedTo: 'Tom' } });
    const { replies, colleagues } = await page('assigned=Tom');
    expect(colleagues).toEqual(['Tom']);
    expect(replies.map((r) => [r.kind, r.outcome])).toEqual([
      ['auto_reply', null],
      ['reply', 'interested'],
    ]);
    expect((await page('assigned=Eva')).counts.all).toBeUndefined();
    await world.api.patch('/replies', { ids, change: { remindOn: '2026-11-05' } });
    expect((await page('show=later')).replies.map((r) => r.id)).toEqual([away.id, first.id]);
    expect((await page('show=without_outcome')).total).toBe(0);
    await world.drive('2026-11-05T08:00:00Z');
    expect((await page('show=without_outcome')).replies.map((r) => r.id)).toEqual([away.id, first.id]);
    expect((await page('show=later')).total).toBe(0);
    expect((await world.api.get<TodayView>('/today')).needs.filter((n) => n.kind === 'answer')).toHaveLength(2);
    const { needs } = await world.api.get<TodayView>('/today');
    expect(needs.map((n) => n.action)).toEqual(['Write again', 'Write again']);
    // Whoever says what it comes to, or answers, has been reminded.
    await world.api.put(`/replies/${first.id}/outcome`, { outcome: 'meeting' });
    await send(away.id, 'Welcome back.');
    expect((await page('show=without_outcome')).total).toBe(0);
    await world.api.patch('/replies', { ids, change: { remindOn: '2026-11-09' } });
    await world.api.put(`/replies/${first.id}/outcome`, { outcome: 'no' });
    expect((await page('show=later')).total).toBe(2);
    await world.api.patch('/replies', { ids, change: { remindOn: null } });
    expect((await page('show=without_outcome')).total).toBe(0);
    await expect(world.api.patch('/replies', { ids, change: { remindOn: '2026-02-30' } })).rejects.toThrow(
      /not a date/,
    );
    await expect(world.api.patch('/replies', { ids, change: {} })).rejects.toThrow();
  });
});

it('states are untouched by what is written by hand', async () => {
  const came = await comes('Yes please.');
  await send(came.id, 'Thanks.');
  await untilItLeaves();
  expect((await world.states(campaign))[ANA]).toBe('replied');
  await world.drive('2026-11-12T20:00:00Z');
  expect(await atAnas()).toHaveLength(1);
});
