import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { RecipientPage, ReplyPage, SuppressionList, ThreadView } from '@baton/contract';
import { createSecrets } from '../security/secrets';
import { readMailbox } from '../store/mailboxes/mailbox-rows';
import { TestWorld } from '../testing/test-world';
import { takeMails } from './take-mail';

const secrets = createSecrets(Buffer.alloc(32, 5));
const INES = 'ines@tidewaterkelp.example';
let world: TestWorld;
let mailbox: number;
beforeEach(async () => {
  world = await TestWorld.start();
  mailbox = await world.connect('ines');
});
afterEach(() => world.close());

const replies = async () => (await world.api.get<ReplyPage>('/replies')).replies.filter((r) => r.kind !== 'noise');
const suppressed = async () => (await world.api.get<SuppressionList>('/suppressions')).entries.map((s) => s.key);
const person = async (id: number) => (await world.api.get<RecipientPage>(`/campaigns/${id}/recipients`)).people[0];

describe('what comes back', () => {
  it.each([
    ['keen', 'replied', 'reply', false],
    ['decliner', 'replied', 'reply', false],
    ['asks_out', 'unsubscribed', 'unsubscribe', true],
    ['bounces_later', 'bounced', 'bounce', true],
    ['complains', 'unsubscribed', 'complaint', true],
  ])('from somebody who %s stops the follow-up: %s', async (persona, state, kind, isSuppressed) => {
    const listId = await world.people({ 'ana@vines.example': persona });
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-06T20:00:00Z');
    expect(await world.states(id)).toEqual({ 'ana@vines.example': state });
    const [first, ...more] = await replies();
    expect(more).toEqual([]);
    expect(first).toMatchObject({ kind });
    expect(first?.did).not.toBe('');
    expect(await suppressed()).toEqual(isSuppressed ? ['ana@vines.example'] : []);
    expect(await world.inbox('ana@vines.example')).toHaveLength(1);
  });

  it.each(['leaves_by_link', 'leaves_one_click'])('a press of the unsubscribe link (%s) does too', async (persona) => {
    const listId = await world.people({ 'ana@vines.example': persona });
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-06T20:00:00Z');
    expect(await world.states(id)).toEqual({ 'ana@vines.example': 'unsubscribed' });
    expect(await suppressed()).toEqual(['ana@vines.example']);
    expect(await world.inbox('ana@vines.example')).toHaveLength(1);
  });

  it('an out-of-office note with a date postpones the follow-up past that date', async () => {
    const listId = await world.people({ 'ana@vines.example': 'reader' });
    await world.desk.call('PUT', '/people/ana@vines.example', { awayUntil: '2026-11-05' });
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-03T20:00:00Z');
    expect(await person(id)).toMatchObject({ state: 'in_progress', reason: 'away, back on Thu 5 Nov' });
    await world.drive('2026-11-10T20:00:00Z');
    const second = (await world.inbox('ana@vines.example'))[1];
    expect(second?.receivedAt).toBeGreaterThan(Date.parse('2026-11-06T00:00:00Z'));
  });

  it('and to the second working day where the person is back before a weekend', async () => {
    const listId = await world.people({ 'ana@vines.example': 'reader' });
    await world.desk.call('PUT', '/people/ana@vines.example', { awayUntil: '2026-11-06' });
    await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-11T20:00:00Z');
    const second = (await world.inbox('ana@vines.example'))[1];
    expect(second?.receivedAt).toBeGreaterThan(Date.parse('2026-11-09T00:00:00Z'));
  });

  it('from one campaign stops every other one too, without changing what is done there', async () => {
    const listId = await world.people({ 'ana@vines.example': 'reader' });
    const done = await world.begin({ name: 'Done', listId, mailboxIds: [mailbox], steps: [await world.step({})] });
    await world.drive('2026-11-03T20:00:00Z');
    const one = await world.begin({ name: 'One', listId, mailboxIds: [mailbox], startDate: '2026-11-04' });
    const two = await world.begin({ name: 'Two', listId, mailboxIds: [mailbox], startDate: '2026-11-04' });
    await world.drive('2026-11-04T20:00:00Z');
    const mails = await world.inbox('ana@vines.example');
    expect(mails).toHaveLength(3);
    await world.desk.call('POST', '/people/ana@vines.example/reply', { id: mails[1]?.id, text: 'Yes please.' });
    await world.drive('2026-11-10T20:00:00Z');
    expect(await world.inbox('ana@vines.example')).toHaveLength(3);
    expect(await world.states(one)).toEqual({ 'ana@vines.example': 'replied' });
    expect(await world.states(two)).toEqual({ 'ana@vines.example': 'replied' });
    expect(await world.states(done)).toEqual({ 'ana@vines.example': 'done' });
  });

  it('is taken once, however often it is read, and by address where it names no message', async () => {
    const listId = await world.people({ 'ana@vines.example': 'silent' });
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-02T20:00:00Z');
    const raw = Buffer.from(
      'From: Ana <ANA@vines.example>\r\nTo: ines@tidewaterkelp.example\r\nSubject: Kelp\r\n\r\nYes.\r\n',
    );
    const row = (await readMailbox(world.store.db, mailbox)) as NonNullable<Awaited<ReturnType<typeof readMailbox>>>;
    for (let i = 0; i < 2; i++)
      await takeMails(
        { store: world.store, secrets },
        row,
        [{ uidValidity: '1', uid: 900, raw }],
        Date.parse('2026-11-02T21:00:00Z'),
      );
    expect(await world.states(id)).toEqual({ 'ana@vines.example': 'replied' });
    expect(await replies()).toHaveLength(1);
  });

  it('is taken whatever is in it, and stops nothing that comes after it', async () => {
    const listId = await world.people({ 'ana@vines.example': 'silent' });
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-02T20:00:00Z');
    const add = (head: string, body: string) =>
      world.provider.store.addMail(
        INES,
        'INBOX',
        Buffer.from(`From: "A\0na" <ana@vines.example>\r\n${head}\r\n\r\n${body}`),
        Date.parse('2026-11-02T21:00:00Z'),
      );
    add('Subject: one\0', 'zero\0byte');
    add('Subject: two\r\nContent-Type: multipart/mixed; boundary=b', '--b\r\n\r\nx\r\n'.repeat(2000));
    add('Subject: three', 'Yes.');
    await world.drive('2026-11-03T06:00:00Z');
    expect((await replies()).map((r) => r.subject).sort()).toEqual(['one', 'three', 'two']);
    expect(await world.states(id)).toEqual({ 'ana@vines.example': 'replied' });
  });

  it('is seen one after another, though the server tells old numbers of the folder that is selected', async () => {
    const names = ['ana', 'bo', 'cy', 'dee'];
    const listId = await world.people(Object.fromEntries(names.map((name) => [`${name}@vines.example`, 'silent'])));
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-02T20:00:00Z');
    for (const [i, name] of names.entries()) {
      const at = Date.parse('2026-11-02T20:30:00Z') + i * 2 * 3_600_000;
      const raw = Buffer.from(`From: ${name}@vines.example\r\nMessage-ID: <${name}@a>\r\nSubject: Re\r\n\r\nYes.`);
      world.provider.store.addMail(INES, 'INBOX', raw, at);
      await world.drive(at + 3_600_000);
      await world.drive(at + 7_100_000);
    }
    expect(new Set(Object.values(await world.states(id)))).toEqual(new Set(['replied']));
  });

  it('is not taken again where the server numbers its messages anew, and what is new is', async () => {
    const listId = await world.people({ 'ana@vines.example': 'silent', 'bo@vines.example': 'silent' });
    const { store } = world.provider;
    const add = (name: string, at: string) =>
      store.addMail(
        INES,
        'INBOX',
        Buffer.from(`From: ${name}@vines.example\r\nMessage-ID: <${name}@a>\r\nSubject: ${name}\r\n\r\nYes.`),
        Date.parse(at),
      );
    // Long before anybody wrote to them: it must stop nobody.
    add('bo', '2026-09-01T09:00:00Z');
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-02T20:00:00Z');
    add('ana', '2026-11-02T20:30:00Z');
    await world.drive('2026-11-02T22:30:00Z');
    store.uidValidity++;
    await world.drive('2026-11-03T02:00:00Z');
    expect((await replies()).map((r) => r.subject)).toEqual(['ana']);
    store.uidValidity++;
    add('bo', '2026-11-03T03:00:00Z');
    store.addMail(
      INES,
      'INBOX',
      Buffer.from('From: bo@vines.example\r\nMessage-ID: <bo2@a>\r\nSubject: bo2\r\n\r\nYes.'),
      Date.parse('2026-11-03T03:10:00Z'),
    );
    await world.drive('2026-11-03T08:00:00Z');
    expect(await world.states(id)).toMatchObject({ 'ana@vines.example': 'replied', 'bo@vines.example': 'replied' });
    expect((await replies()).map((r) => r.subject).sort()).toEqual(['ana', 'bo', 'bo2']);
  });

  it('is read to its end where the server breaks off while its messages are numbered anew', async () => {
    const names = Array.from({ length: 10 }, (_, i) => `p${i}`);
    const listId = await world.people(Object.fromEntries(names.map((n) => [`${n}@vines.example`, 'silent'])));
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-02T22:30:00Z');
    const add = (name: string, at: string) =>
      world.provider.store.addMail(
        INES,
        'INBOX',
        Buffer.from(`From: ${name}@vines.example\r\nMessage-ID: <${name}@a>\r\nSubject: ${name}\r\n\r\nYes.`),
        Date.parse(at),
      );
    for (const name of names.slice(0, 9)) add(name, '2026-11-03T03:00:00Z');
    // What is older has a higher number now; it must stop nobody.
    add('p9', '2026-09-01T09:00:00Z');
    world.provider.store.uidValidity++;
    await world.desk.call('POST', '/faults', { account: INES, fault: 'drop_at_body', after: 8 });
    await world.drive('2026-11-03T08:00:00Z');
    expect((await replies()).map((r) => r.subject).sort()).toEqual(names.slice(0, 9));
    expect((await world.states(id))['p9@vines.example']).toBe('in_progress');
  });

  it('is found in the spam folder, and where a rule moves it, if it answers a message of ours', async () => {
    const { store } = world.provider;
    const add = (folder: string, from: string, id: string, at: string) =>
      store.addMail(
        INES,
        folder,
        Buffer.from(`From: ${from}\r\nMessage-ID: <${id}@a>\r\nSubject: ${id}\r\n\r\nYes.`),
        Date.parse(at),
      );
    const listId = await world.people({
      'ana@vines.example': 'silent',
      'bo@vines.example': 'silent',
      'cy@hills.example': 'silent',
    });
    add('Junk', 'ana@vines.example', 'before', '2026-10-01T09:00:00Z');
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-02T22:00:00Z');
    add('Junk', 'ana@vines.example', 'lost', '2026-11-02T22:10:00Z');
    add('Junk', 'offers@pumps.example', 'pumps', '2026-11-02T22:11:00Z');
    add('Drafts', 'cy@hills.example', 'draft', '2026-11-02T22:12:00Z');
    await world.drive('2026-11-03T02:00:00Z');
    expect((await replies()).map((r) => r.subject)).toEqual(['lost']);
    // A rule makes a folder for it; what is moved to it is known already.
    add('Clients', 'bo@vines.example', 'older', '2026-10-01T02:10:00Z');
    add('Clients', 'bo@vines.example', 'ruled', '2026-11-03T04:10:00Z');
    add('Clients', 'ana@vines.example', 'lost', '2026-11-03T04:10:00Z');
    await world.drive('2026-11-03T08:00:00Z');
    expect((await replies()).map((r) => r.subject).sort()).toEqual(['lost', 'ruled']);
    expect(await world.states(id)).toMatchObject({
      'ana@vines.example': 'replied',
      'bo@vines.example': 'replied',
      'cy@hills.example': 'in_progress',
    });
    // Numbered anew, nothing is taken again.
    store.uidValidity++;
    add('Junk', 'cy@hills.example', 'late', '2026-11-03T09:00:00Z');
    await world.drive('2026-11-03T12:00:00Z');
    expect((await replies()).map((r) => r.subject).sort()).toEqual(['late', 'lost', 'ruled']);
  });

  it('is read where the server searches nothing', async () => {
    const listId = await world.people({ 'ana@vines.example': 'keen' });
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.desk.call('POST', '/faults', { account: INES, fault: 'refuse_search', times: 1000 });
    await world.drive('2026-11-06T20:00:00Z');
    expect(await world.states(id)).toEqual({ 'ana@vines.example': 'replied' });
  });

  it('from strangers stops nobody, and is listed as nobody’s', async () => {
    await world.drive('2026-11-02T09:00:00Z');
    const raw = Buffer.from('From: someone@else.example\r\nSubject: Offer\r\n\r\nBuy.\r\n');
    world.provider.store.addMail(INES, 'INBOX', raw, Date.parse('2026-11-02T09:10:00Z'));
    await world.drive('2026-11-02T12:00:00Z');
    const { replies, counts } = await world.api.get<ReplyPage>('/replies?show=unmatched');
    expect(replies).toMatchObject([{ subject: 'Offer', match: null, did: '', campaignId: null }]);
    expect(counts).toMatchObject({ unmatched: 1, without_outcome: 0, reply: 0 });
  });

  it('stops nobody where it is only a receipt, and the follow-up leaves', async () => {
    const listId = await world.people({ 'ana@vines.example': 'silent' });
    const id = await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-02T22:00:00Z');
    const [first] = await world.inbox('ana@vines.example');
    const lines = [
      'From: ana@vines.example',
      'Message-ID: <receipt@vines.example>',
      `In-Reply-To: <${first?.messageId ?? ''}>`,
      'Subject: Read: Kelp',
      'MIME-Version: 1.0',
      'Content-Type: multipart/report;',
      ' report-type=disposition-notification; boundary=x',
      ...['', '--x', 'Content-Type: text/plain', '', 'Your message was displayed.'],
      ...['--x', 'Content-Type: message/disposition-notification', '', 'Final-Recipient: rfc822; ana@vines.example'],
      ...['Disposition: manual-action/MDN-sent-manually; displayed', '', '--x--', ''],
    ];
    world.provider.store.addMail(INES, 'INBOX', Buffer.from(lines.join('\r\n')), Date.parse('2026-11-02T22:10:00Z'));
    await world.drive('2026-11-03T08:00:00Z');
    expect(await replies()).toMatchObject([{ kind: 'receipt', did: 'Noted; nothing follows from it.' }]);
    await world.drive('2026-11-10T20:00:00Z');
    expect(await world.inbox('ana@vines.example')).toHaveLength(2);
    expect(await world.states(id)).toEqual({ 'ana@vines.example': 'done' });
  });

  it('is shown in its thread with what had been sent, word for word', async () => {
    const listId = await world.people({ 'ana@vines.example': 'keen' });
    await world.begin({ listId, mailboxIds: [mailbox] });
    await world.drive('2026-11-04T20:00:00Z');
    const [reply] = await replies();
    const { messages } = await world.api.get<ThreadView>(`/replies/${reply?.id}/thread`);
    const [sent] = await world.inbox('ana@vines.example');
    expect(messages.map((m) => m.from)).toEqual(['campaign', 'them']);
    expect(messages[0]?.text.trim()).toBe(sent?.text.trim());
    await world.api.put(`/replies/${reply?.id}/outcome`, { outcome: 'interested' });
    expect((await replies())[0]?.outcome).toBe('interested');
  });
});
