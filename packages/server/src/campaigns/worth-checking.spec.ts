import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { BriefView } from '@baton/contract';
import { dnsBy, type AskDns } from '../mailboxes/ask-dns';
import { lookAtDomains } from '../mailboxes/check-domain';
import { askSimulator, askWantedDomains } from '../people/list/ask-domains';
import { DOMAIN, silentPeople, stepOf, TestWorld } from '../testing/test-world';
import { systemClock } from '../time/system-clock';
import { workspaceClock } from '../time/workspace-clock';

let world: TestWorld;
beforeEach(async () => {
  world = await TestWorld.start();
});
afterEach(() => world.close());

const PLAIN = 'Hello [Leave]({{ unsubscribe_link }})';

const texts = ({ forecast }: BriefView) => forecast.obstacles.filter((o) => o.kind === 'look').map((o) => o.text);
const people = (n: number, at: string): Record<string, string> =>
  Object.fromEntries(Object.entries(silentPeople(n)).map(([address, p]) => [address.replace('vines', at), p]));

describe('what is worth a look before a campaign starts', () => {
  it('is nothing with a new list and a mailbox that begins slowly', async () => {
    const mailbox = await world.connect('ines', { dailyQuota: 20 });
    const draft = await world.draft({ listId: await world.people(silentPeople(3)), mailboxIds: [mailbox] });
    expect(draft.forecast.obstacles).toEqual([]);
  });

  it('is a list of half a year ago', async () => {
    const mailbox = await world.connect('ines', { dailyQuota: 20 });
    const listId = await world.people(silentPeople(3));
    const ago = 200 * 24 * 3_600_000;
    await world.store.pool.query('update lists set created_at = created_at - $1', [ago]);
    const draft = await world.draft({ listId, mailboxIds: [mailbox] });
    expect(texts(draft)).toEqual([
      'The list People is 6 months old: more of its addresses will bounce than of a new one',
    ]);
    expect(draft.forecast.obstacles[0]?.remedy).toMatchObject({ act: 'open_list', listId });
  });

  it('is a list of which nobody knows whether its addresses exist', async () => {
    const { store, desk, api } = world;
    const clock = workspaceClock(store.db, systemClock);
    const mailbox = await world.connect('ines', { dailyQuota: 20 });
    const steps = [stepOf(await world.message({ subject: 'Kelp', body: PLAIN }))];
    const many = Object.keys({ ...silentPeople(30), ...people(30, 'gone') });
    const listId = await world.importCsv(['email', ...many].join('\n'), 'New');
    const draft = await world.draft({ listId, mailboxIds: [mailbox], steps });
    const never = '60 addresses of the list New have never been checked: some of them will bounce';
    expect(draft.forecast.obstacles).toEqual([
      { kind: 'look', text: never, remedy: { label: 'Check their domains', act: 'ask_domains', listId } },
    ]);
    // Of forty of them it is not worth a word.
    const rows = (await world.rows(listId)).slice(0, 40).map((r) => r.rowId);
    const from = { kind: 'rows', listId, choice: { rows } };
    const few = await world.brief((await api.post<{ id: number }>('/campaigns', { name: 'Few', from })).id);
    expect(few.forecast.people).toBe(40);
    expect(few.forecast.obstacles.filter((o) => o.remedy.act === 'ask_domains')).toEqual([]);

    await desk.call('PUT', '/domains/gone.example', { takesMail: false });
    await api.post(`/lists/${listId}/ask-domains`, {});
    expect(texts(await world.brief(draft.id))).toEqual([]);
    await askWantedDomains(store, clock, askSimulator(desk));
    expect((await world.brief(draft.id)).forecast.obstacles).toEqual([
      {
        kind: 'look',
        text: '30 addresses of the list New are at domains that accept no mail, gone.example, and will bounce',
        remedy: { label: 'Look at the list', act: 'open_list', listId },
      },
    ]);
  });

  it('is no list that a verifier has seen, or that was written to before', async () => {
    const mailbox = await world.connect('ines', { dailyQuota: 60 });
    const addresses = Object.keys(silentPeople(55));
    const seen = ['email,email status', ...addresses.map((a) => `${a},valid`)].join('\n');
    const about = (listId: number) =>
      world
        .draft({ listId, mailboxIds: [mailbox], steps: [] })
        .then(({ forecast }) => forecast.obstacles.filter((o) => o.remedy.act === 'ask_domains'));
    expect(await about(await world.importCsv(seen, 'Seen'))).toEqual([]);
    const listId = await world.people(silentPeople(55));
    expect(await about(listId)).toHaveLength(1);
    await world.begin({ listId, mailboxIds: [mailbox], steps: [await world.step({ name: 'Only' })] });
    await world.drive('2026-11-06T18:00:00Z');
    expect(await about(listId)).toEqual([]);
  });

  it('is a field that no list has, and one that some of them lack', async () => {
    const mailboxIds = [await world.connect('ines', { dailyQuota: 20 })];
    const listId = await world.importCsv('email,acres\na@salt.example,Salt', 'Salt marshes');
    const other = await world.importCsv('email,given name\nb@holm.example,Bo', 'Holm');
    const written = (body: string) =>
      world.message({ subject: 'Kelp', body: `${body} [Leave]({{ unsubscribe_link }})` });
    const about = async (body: string, alsoParts: BriefView['alsoParts'] = []) => {
      const steps = [stepOf(await written(body))];
      const { forecast } = await world.draft({ listId, mailboxIds, alsoParts, steps });
      return forecast.obstacles.map(({ kind, text, remedy }) => [kind, text, remedy.act]);
    };
    expect(await about('{{ acre | default: "there" }}')).toEqual([
      [
        'look',
        '“First” uses “acre”, which is not a column of Salt marshes (“acres” is): people there get the message without it',
        'open_message',
      ],
    ]);
    expect(await about('{{ acre }}')).toEqual([
      [
        'fix',
        '“First” uses “acre”, which is not a column of Salt marshes (“acres” is): nobody can be written to',
        'open_message',
      ],
    ]);
    const both = [{ listId: other, segmentId: null }];
    expect(await about('{{ acres | default: "there" }}', both)).toEqual([
      [
        'look',
        '“First” uses “acres”, which is not a column of Holm: people there get the message without it',
        'open_message',
      ],
    ]);
    // Whoever lacks it without a fallback is said by number, and can be left out.
    expect(await about('{{ acres }}', both)).toEqual([
      ['fix', '1 person has no acres, and there is no fallback', 'leave_out_blank'],
    ]);
  });

  it('is a mailbox that has never sent and would begin with many, and one that rests', async () => {
    const young = await world.connect('ines', { dailyQuota: 80 });
    const ramps = await world.connect('tomas', { dailyQuota: 80, ramp: { first: 5, add: 5, every: 1 } });
    const rests = await world.connect('hello', { dailyQuota: 20 });
    await world.store.pool.query(`update mailboxes set rest_until = '2026-11-05' where id = $1`, [rests]);
    const listId = await world.people(silentPeople(3));
    expect(texts(await world.draft({ listId, mailboxIds: [young, ramps, rests] }))).toEqual([
      'Baton has never sent from ines@tidewaterkelp.example and would begin with 80 a day; for a new mailbox a ramp is safer',
      'hello@tidewaterkelp.example rests until Thu 5 Nov',
    ]);
  });

  it('is a record of the domain that is missing, as it was last found', async () => {
    const { store, desk } = world;
    const clock = workspaceClock(store.db, systemClock);
    const answering = dnsBy(desk);
    const nobody: AskDns = { ...answering, texts: async () => null };
    const mailboxIds = [await world.connect('ines', { dailyQuota: 20 }), await world.connect('tomas')];
    const draft = await world.draft({ listId: await world.people(silentPeople(3)), mailboxIds });
    const look = async (dns: AskDns) => [
      await lookAtDomains({ store, clock, dns }),
      ...(await world.brief(draft.id)).forecast.obstacles.filter((o) => o.remedy.act === 'open_mailbox'),
    ];
    // Nothing is held against a domain of which nobody could say anything.
    expect(await look(nobody)).toEqual([1]);
    expect(await look(answering)).toEqual([0]);
    await world.drive('2026-11-02T12:00:00Z');
    await desk.call('PUT', `/records/${encodeURIComponent(`TXT ${DOMAIN}`)}`, { records: ['v=spf1 mx -all'] });
    const missing = {
      kind: 'look',
      text: `DMARC of ${DOMAIN}: there is no DMARC record; large receivers require one from bulk senders`,
      remedy: { label: 'Show its records', act: 'open_mailbox', mailboxId: mailboxIds[0] },
    };
    expect(await look(answering)).toEqual([1, missing]);
    expect(await look(answering)).toEqual([0, missing]);
    await world.drive('2026-11-04T12:00:00Z');
    expect(await look(nobody)).toEqual([1, missing]);
    await desk.call('PUT', `/records/${encodeURIComponent(`TXT _dmarc.${DOMAIN}`)}`, { records: ['v=DMARC1; p=none'] });
    // A person who looks at the mailbox's page need not wait for the next day.
    await world.api.get(`/mailboxes/${mailboxIds[1]}/records`);
    expect(await look(answering)).toEqual([0]);
  });

  it('is a message that nobody has read as it is now', async () => {
    const [mailbox, listId] = [await world.connect('ines', { dailyQuota: 20 }), await world.people(silentPeople(3))];
    const content = (body: string) => ({ subject: 'Kelp', body: `${body} [Leave]({{ unsubscribe_link }})` });
    const { id } = await world.api.post<{ id: number }>('/messages', { name: 'First', content: content('One') });
    const { id: campaign } = await world.draft({ listId, mailboxIds: [mailbox], steps: [stepOf(id)] });
    const said = async () => texts(await world.brief(campaign));
    const save = (body: string) => world.api.put(`/messages/${id}`, { name: 'First', content: content(body) });
    const read = (body: string) => world.api.post(`/messages/${id}/read`, { content: content(body) });
    expect(await said()).toEqual(['Nobody has read “First” as its recipients will get it']);
    await read('One');
    expect(await said()).toEqual([]);
    // Saved again without a change, and then with one.
    await save('One');
    expect(await said()).toEqual([]);
    await save('Two');
    expect(await said()).toEqual([
      '“First” has been changed since somebody last read it as its recipients will get it',
    ]);
    // Whoever read the text of before has not read this one.
    await read('One');
    expect(await said()).toHaveLength(1);
    await read('Two');
    expect(await said()).toEqual([]);
    await expect(world.api.post('/messages/999/read', { content: content('One') })).rejects.toThrow('no such message');
  });

  it('is another campaign that would end plainly later', async () => {
    const mailbox = await world.connect('ines', { dailyQuota: 5 });
    await world.begin({ listId: await world.people(people(20, 'salt')), mailboxIds: [mailbox], name: 'Salt marshes' });
    const big = await world.people(people(60, 'holm'));
    const draft = await world.draft({ listId: big, mailboxIds: [mailbox], name: 'Holm', share: 9 });
    const said = draft.forecast.obstacles.filter((o) => o.remedy.act === 'mailboxes').map((o) => o.text);
    expect(said).toEqual([expect.stringMatching(/^Salt marshes would end on \w+ \d+ \w+ instead of \w+ \d+ Nov$/)]);
    const small = await world.people(people(1, 'lark'));
    expect(texts(await world.draft({ listId: small, mailboxIds: [mailbox], name: 'Lark' }))).toEqual([]);
  });
});
