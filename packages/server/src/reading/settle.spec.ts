import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type {
  IncomingView,
  MailboxView,
  PersonView,
  RecipientPage,
  ReplyPage,
  SuppressionList,
  TodayView,
} from '@baton/contract';
import { TestWorld } from '../testing/test-world';

const INES = 'ines@tidewaterkelp.example';
const ANA = 'ana@vines.example';
let world: TestWorld;
let campaign: number;
beforeEach(async () => {
  world = await TestWorld.start();
  const mailbox = await world.connect('ines');
  const listId = await world.people({ [ANA]: 'silent', 'bo@hills.example': 'silent' });
  campaign = await world.begin({ listId, mailboxIds: [mailbox] });
  now = Date.parse('2026-11-02T22:00:00Z');
  await world.drive(now);
});
afterEach(() => world.close());

const page = (show: string) => world.api.get<ReplyPage>(`/replies?show=${show}`);
const suppressed = async () => (await world.api.get<SuppressionList>('/suppressions')).entries.map((s) => s.key);
const states = () => world.states(campaign);
const inboxes = async () => [(await world.inbox(ANA)).length, (await world.inbox('bo@hills.example')).length];
const reasons = async () =>
  Object.fromEntries(
    (await world.api.get<RecipientPage>(`/campaigns/${campaign}/recipients`)).people.map((p) => [p.address, p.reason]),
  );

let mails = 0;
let now: number;
const HOURS = 3_600_000;
/** A message comes in and is read. */
async function comes(from: string, subject: string, text: string, head: readonly string[] = []): Promise<IncomingView> {
  const lines = [
    `From: ${from}`,
    `To: ${INES}`,
    `Message-ID: <${++mails}@x>`,
    `Subject: ${subject}`,
    ...head,
    '',
    text,
  ];
  now += 3 * HOURS;
  world.provider.store.addMail(INES, 'INBOX', Buffer.from(lines.join('\r\n')), now - HOURS);
  await world.drive(now);
  const newest = (await page('all')).replies.find((r) => r.subject === subject);
  return newest as IncomingView;
}

describe('what Baton decided by itself', () => {
  it.each([
    ['a wish to be left alone', ['Please remove me from your list.'], 'unsubscribed', [ANA]],
    ['a reply', ['Yes please.'], 'replied', []],
    ['a departure', ['I have left the company.', 'Auto-Submitted: auto-replied'], 'stopped', []],
  ] as const)('because of %s is undone, and what was to follow follows', async (_, [text, ...head], state, list) => {
    const came = await comes(ANA, 'Re: Kelp for Ana', text, head);
    expect(came).toMatchObject({ canUndo: true, match: 'sure' });
    expect((await states())[ANA]).toBe(state);
    expect(await suppressed()).toEqual(list);
    await world.api.post(`/replies/${came.id}/undo`, {});
    expect((await states())[ANA]).toBe('in_progress');
    expect((await reasons())[ANA]).toBe('');
    expect(await suppressed()).toEqual([]);
    const [undone] = (await page('all')).replies;
    expect(undone).toMatchObject({ canUndo: false, did: 'Undone: what was to follow is sent again.' });
    await expect(world.api.post(`/replies/${came.id}/undo`, {})).rejects.toThrow(/nothing to undo/);
    await world.drive('2026-11-12T20:00:00Z');
    expect(await inboxes()).toEqual([2, 2]);
    expect(await states()).toEqual({ [ANA]: 'done', 'bo@hills.example': 'done' });
  });

  it('about a message that came back is undone, also in a campaign that it finished', async () => {
    await comes('bo@hills.example', 'Re: Kelp for Bo', 'No thanks.');
    const report = [
      'MIME-Version: 1.0',
      'Content-Type: multipart/report; report-type=delivery-status; boundary=b',
      ...['', '--b', 'Content-Type: message/delivery-status', '', 'Reporting-MTA: dns; mx.vines.example', ''],
      ...[`Final-Recipient: rfc822; ${ANA}`, 'Action: failed', 'Status: 5.1.1', '', '--b--'],
    ];
    const came = await comes('mailer-daemon@vines.example', 'Undelivered', '', report);
    expect(came).toMatchObject({ kind: 'bounce', person: ANA, details: { bounce: 'hard', code: '5.1.1' } });
    expect(await states()).toEqual({ [ANA]: 'bounced', 'bo@hills.example': 'replied' });
    await world.api.post(`/replies/${came.id}/undo`, {});
    expect((await states())[ANA]).toBe('in_progress');
    await world.drive('2026-11-12T20:00:00Z');
    expect(await inboxes()).toEqual([2, 1]);
  });

  it('leaves what has happened since', async () => {
    const came = await comes(ANA, 'Re: Kelp for Ana', 'Yes please.');
    await comes(ANA, 'Re: Kelp for Ana', 'Please remove me from your list.');
    await world.api.post(`/replies/${came.id}/undo`, {});
    expect((await states())[ANA]).toBe('unsubscribed');
    expect(await suppressed()).toEqual([ANA]);
  });
});

describe('a message that was misread', () => {
  it('is set right everywhere, and what it was taken for is kept', async () => {
    const came = await comes(ANA, 'Re: Kelp for Ana', 'Please remove me from your list.');
    await world.api.put(`/replies/${came.id}/kind`, { kind: 'reply' });
    expect(await suppressed()).toEqual([]);
    expect((await states())[ANA]).toBe('replied');
    expect((await page('reply')).replies).toMatchObject([
      { kind: 'reply', readAs: 'unsubscribe', because: 'you said so' },
    ]);
    await world.api.put(`/replies/${came.id}/kind`, { kind: 'auto_reply' });
    expect((await states())[ANA]).toBe('in_progress');
    await world.api.put(`/replies/${came.id}/kind`, { kind: 'unsubscribe' });
    expect(await suppressed()).toEqual([ANA]);
    expect((await page('unsubscribe')).replies).toMatchObject([{ readAs: 'unsubscribe' }]);
  });

  it('is told of in a request that names a kind', async () => {
    const came = await comes(ANA, 'Re: Kelp for Ana', 'Yes.');
    await expect(world.api.put(`/replies/${came.id}/kind`, { kind: 'receipt' })).rejects.toThrow();
    await expect(world.api.put('/replies/999/kind', { kind: 'reply' })).rejects.toThrow(/no such message/);
  });
});

describe('a message without reference', () => {
  it('of a colleague stops the follow-up until a person has said whose it is, and suppresses nobody', async () => {
    const came = await comes('Cy <cy@vines.example>', 'Your kelp', 'Please take us off your list.');
    expect(came).toMatchObject({ kind: 'unsubscribe', match: 'unsure', person: ANA });
    expect(came.because).toContain('a colleague of ana@vines.example');
    expect(came.did).toContain('please say');
    expect(await suppressed()).toEqual([]);
    expect((await states())[ANA]).toBe('replied');
    const { needs } = await world.api.get<TodayView>('/today');
    expect(needs).toMatchObject([{ kind: 'answer', action: 'Say whose it is' }]);
    expect((await page('without_outcome')).total).toBe(1);

    await world.api.put(`/replies/${came.id}/person`, { address: null });
    expect((await states())[ANA]).toBe('in_progress');
    expect((await page('unmatched')).replies).toMatchObject([{ id: came.id, match: null, person: null }]);

    await world.api.put(`/replies/${came.id}/person`, { address: ANA });
    expect(await suppressed()).toEqual([ANA]);
    expect((await page('unsubscribe')).replies).toMatchObject([{ id: came.id, match: 'sure', person: ANA }]);
    await expect(world.api.put(`/replies/${came.id}/person`, { address: 'x@y.example' })).rejects.toThrow(
      /Nothing has been sent/,
    );
  });

  it('from another address of the person is known by its subject, or by a link of ours that it quotes', async () => {
    const bySubject = await comes('ana.reyes@post.example', 'AW: Kelp for Ana', 'Yes please.');
    expect(bySubject).toMatchObject({ person: ANA, match: 'unsure' });
    const [sent] = await world.inbox('bo@hills.example');
    const byLink = await comes(
      'b.lind@post.example',
      'kelp',
      `Please stop.\r\n\r\n> Leave: ${sent?.unsubscribeLink ?? ''}`,
    );
    expect(byLink).toMatchObject({ person: 'bo@hills.example', match: 'sure', kind: 'unsubscribe' });
    expect(await suppressed()).toEqual(['bo@hills.example']);
  });

  it('that claims to come from a mailbox of ours is not believed', async () => {
    const came = await comes(INES, 'Kelp for Ana', 'Remove me from your list.');
    expect(came).toMatchObject({ match: null, person: null });
    expect(await states()).toEqual({ [ANA]: 'in_progress', 'bo@hills.example': 'in_progress' });
  });

  it('from somebody at a provider of many is no colleague’s', async () => {
    const came = await comes('someone@example.com', 'Offer', 'Buy this.');
    expect(came).toMatchObject({ match: null });
    expect((await world.api.get<TodayView>('/today')).needs).toMatchObject([{ kind: 'unmatched', count: 1 }]);
    await world.api.put(`/replies/${came.id}/kind`, { kind: 'noise' });
    expect((await page('unmatched')).replies).toEqual([]);
    expect((await world.api.get<TodayView>('/today')).needs).toEqual([]);
  });
});

it('takes whom a message names onto the list of the person who was written to, once', async () => {
  const came = await comes(ANA, 'Re: Kelp', 'Ana has left the company. Please contact Cy Holm, cy@vines.example.');
  expect(came).toMatchObject({ kind: 'left', details: { contact: { name: 'Cy Holm', address: 'cy@vines.example' } } });
  const add = () =>
    world.api.post<{ list: string }>(`/replies/${came.id}/contact`, { address: 'cy@vines.example', name: 'Cy Holm' });
  const { list } = await add();
  const rows = await world.store.pool.query(
    `select c.address, r.fields from list_rows r join contacts c on c.id = r.contact_id join lists l on l.id = r.list_id
     where l.name = $1 and r.removed_at is null order by c.address`,
    [list],
  );
  expect(rows.rows.map((r) => r.address)).toEqual([ANA, 'bo@hills.example', 'cy@vines.example']);
  expect(rows.rows[2].fields).toMatchObject({ givenname: 'Cy' });
  await expect(add()).rejects.toThrow(/already on this list/);
  const { rows: noted } = await world.store.pool.query(
    'select c.address, n.text from notes n join contacts c on c.id = n.contact_id',
  );
  expect(noted).toEqual([
    {
      address: 'cy@vines.example',
      text: `Named by ${ANA} <${ANA}> on Mon 2 Nov 2026:\nAna has left the company. Please contact Cy Holm, cy@vines.example.`,
    },
  ]);
});

it('changes an address in the row that the person was written to from', async () => {
  const came = await comes(
    ANA,
    'Re: Kelp',
    'My address has changed. Please write to ana@orchards.example from now on.',
  );
  expect(came).toMatchObject({ kind: 'address_changed', details: { contact: { address: 'ana@orchards.example' } } });
  const mend = (address: string) => world.api.post<{ list: string }>(`/replies/${came.id}/address`, { address });
  expect(await mend('ana@orchards.example')).toEqual({ list: 'People' });
  const { rows } = await world.store.pool.query(
    'select c.address from list_rows r join contacts c on c.id = r.contact_id where r.removed_at is null order by r.id',
  );
  expect(rows.map((r) => r.address as string)).toEqual(['ana@orchards.example', 'bo@hills.example']);
  await expect(mend('bo@hills.example')).rejects.toThrow(/bo@hills\.example/);
  await expect(mend('nonsense')).rejects.toThrow(/nonsense/);
});

it('ends the rest of a mailbox to which a message led that was misread', async () => {
  await world.store.pool.query(`update workspace set rest_bounds = rest_bounds || '{"bounces": 1, "among": 10}'`);
  const rests = async () => (await world.api.get<MailboxView[]>('/mailboxes'))[0]?.restUntil ?? null;
  const came = await comes('mailer-daemon@vines.example', 'Undelivered', '', [
    'MIME-Version: 1.0',
    'Content-Type: multipart/report; report-type=delivery-status; boundary=b',
    ...['', '--b', 'Content-Type: message/delivery-status', '', 'Reporting-MTA: dns; mx.vines.example', ''],
    ...[`Final-Recipient: rfc822; ${ANA}`, 'Action: failed', 'Status: 5.1.1', '', '--b--'],
  ]);
  expect(await rests()).not.toBeNull();
  await world.api.put(`/replies/${came.id}/kind`, { kind: 'noise' });
  expect(await rests()).toBeNull();
  expect(await suppressed()).toEqual([]);
});

describe('a message that came back softly', () => {
  const full = (to = ANA) =>
    comes('mailer-daemon@vines.example', `Undelivered ${mails}`, '', [
      'MIME-Version: 1.0',
      'Content-Type: multipart/report; report-type=delivery-status; boundary=b',
      ...['', '--b', 'Content-Type: message/delivery-status', '', 'Reporting-MTA: dns; mx.vines.example', ''],
      ...[`Final-Recipient: rfc822; ${to}`, 'Action: failed', 'Status: 4.2.2', '', '--b--'],
    ]);
  const subjects = async () => (await world.inbox(ANA)).map((m) => m.subject);

  it('is sent again after two working days, then after five, and a third time ends it', async () => {
    const first = await full();
    expect(first).toMatchObject({ kind: 'bounce', details: { bounce: 'full' }, canUndo: true });
    expect(first.did).toBe('It is sent again, on Wed 4 Nov at the earliest.');
    expect((await states())[ANA]).toBe('in_progress');
    await world.drive((now = Date.parse('2026-11-03T22:00:00Z')));
    expect(await inboxes()).toEqual([1, 1]);
    await world.drive((now = Date.parse('2026-11-04T22:00:00Z')));
    // Bo has had the reminder meanwhile, which is two working days after the first.
    expect(await subjects()).toEqual(['Kelp for Ana', 'Kelp for Ana']);
    const [one, two] = await world.inbox(ANA);
    expect(two?.references).toEqual([]);
    expect(two?.messageId).not.toBe(one?.messageId);
    expect((await full()).did).toBe('It is sent again, on Wed 11 Nov at the earliest.');
    await world.drive((now = Date.parse('2026-11-11T22:00:00Z')));
    expect(await inboxes()).toEqual([3, 2]);
    expect((await full()).did).toBe(`Nothing more is sent to ${ANA} in this campaign: soft bounce.`);
    await world.drive((now = Date.parse('2026-11-20T22:00:00Z')));
    expect(await inboxes()).toEqual([3, 2]);
    expect(await states()).toEqual({ [ANA]: 'bounced', 'bo@hills.example': 'done' });
    expect(await suppressed()).toEqual([]);
  });

  it('goes on with its reminder once it has got through', async () => {
    await full();
    await world.drive((now = Date.parse('2026-11-12T22:00:00Z')));
    expect(await subjects()).toEqual(['Kelp for Ana', 'Kelp for Ana', 'Re: Kelp for Ana']);
    expect((await states())[ANA]).toBe('done');
    // The report of the first try may come late, and a reply refer to it.
    const [one] = await world.inbox(ANA);
    const came = await comes('somebody@post.example', 'Crates', 'Yes please.', [`In-Reply-To: ${one?.messageId}`]);
    expect(came).toMatchObject({ person: ANA, match: 'sure' });
  });

  it('is sent again also where it was the last of a finished campaign', async () => {
    await world.drive((now = Date.parse('2026-11-12T22:00:00Z')));
    expect(await states()).toEqual({ [ANA]: 'done', 'bo@hills.example': 'done' });
    const came = await full();
    expect((await states())[ANA]).toBe('in_progress');
    await world.api.post(`/replies/${came.id}/undo`, {});
    expect((await states())[ANA]).toBe('done');
    await world.drive((now = Date.parse('2026-11-18T22:00:00Z')));
    expect(await inboxes()).toEqual([2, 2]);
    await full();
    await world.drive((now = Date.parse('2026-11-25T22:00:00Z')));
    expect(await subjects()).toEqual(['Kelp for Ana', 'Re: Kelp for Ana', 'Re: Kelp for Ana']);
    expect((await states())[ANA]).toBe('done');
  });

  it('is not sent again to somebody who replied or left meanwhile, nor after it was undone', async () => {
    const came = await full();
    await world.api.post(`/replies/${came.id}/undo`, {});
    expect((await states())[ANA]).toBe('in_progress');
    await full();
    await comes(ANA, 'Re: Kelp for Ana', 'Please remove me from your list.');
    expect((await states())[ANA]).toBe('unsubscribed');
    await world.drive((now = Date.parse('2026-11-20T22:00:00Z')));
    expect(await inboxes()).toEqual([1, 2]);
    const { rows } = await world.store.pool.query(`select count(*)::int as n from attempts where verdict = 'accepted'`);
    expect(rows).toEqual([{ n: 3 }]);
  });

  it('is noted where a later message has left since', async () => {
    await world.drive((now = Date.parse('2026-11-05T22:00:00Z')));
    const [first] = await world.inbox(ANA);
    const came = await comes('mailer-daemon@vines.example', 'Late', '', [
      'MIME-Version: 1.0',
      'Content-Type: multipart/report; report-type=delivery-status; boundary=b',
      ...['', '--b', 'Content-Type: message/delivery-status', '', 'Reporting-MTA: dns; mx.vines.example', ''],
      ...[`Final-Recipient: rfc822; ${ANA}`, 'Action: failed', 'Status: 4.2.2', ''],
      ...['--b', 'Content-Type: text/rfc822-headers', '', `Message-ID: ${first?.messageId}`, '', '--b--'],
    ]);
    expect(came).toMatchObject({ kind: 'bounce', did: 'Noted; later messages have left since.' });
    expect((await states())[ANA]).toBe('done');
  });
});

it('is undone from the history of the person too', async () => {
  await comes(ANA, 'Re: Kelp for Ana', 'Please remove me from your list.');
  const { rows } = await world.store.pool.query<{ id: number }>('select id from contacts where key = $1', [ANA]);
  const person = () => world.api.get<PersonView>(`/people/${rows[0]?.id}`);
  const event = (await person()).history.find((h) => h.kind === 'unsubscribe');
  expect(event).toMatchObject({ canUndo: true });
  await world.api.post(`/replies/${event?.incomingId}/undo`, {});
  expect((await person()).history.find((h) => h.kind === 'unsubscribe')).toMatchObject({ canUndo: false });
});

it('finds what came in by name, address, subject and text', async () => {
  await comes('Ana Reyes <ana@vines.example>', 'Re: Kelp for Ana', 'Two sacks, please.');
  for (const [search, n] of [
    ['reyes', 1],
    ['VINES.example', 1],
    ['two sacks', 1],
    ['100%', 0],
  ] as const) {
    const { total, counts } = await world.api.get<ReplyPage>(`/replies?show=all&search=${encodeURIComponent(search)}`);
    expect([search, total, counts.all ?? 0]).toEqual([search, n, n]);
  }
});
