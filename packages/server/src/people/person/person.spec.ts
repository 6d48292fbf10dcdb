import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { NOTES_KEY, WHOLE_LIST } from '@baton/core';
import type { ListHead, PersonProof, PersonRow, PersonView, SuppressionList } from '@baton/contract';
import { TestWorld } from '../../testing/test-world';

let world: TestWorld;
let listId: number;
beforeAll(async () => {
  world = await TestWorld.start();
  const mailbox = await world.connect('ines');
  listId = await world.people({ 'keen@x.example': 'keen', 'silent@x.example': 'silent', 'gone@x.example': 'unknown' });
  await world.begin({ listId, mailboxIds: [mailbox], name: 'Vines' });
  await world.drive('2026-11-04T08:00:00Z');
});
afterAll(() => world.close());

async function person(address: string): Promise<PersonView> {
  const row = (await world.rows(listId)).find((p) => p.address === address);
  return world.api.get<PersonView>(`/people/${row?.contactId}`);
}

describe('a person', () => {
  it('has each message with its proof', async () => {
    const keen = await person('keen@x.example');
    const [campaign] = keen.campaigns;
    const at = `/people/${keen.id}/campaigns/${campaign?.id}/messages`;
    expect(await world.api.get<PersonProof>(`${at}/0`)).toMatchObject({
      from: 'ines <ines@tidewaterkelp.example>',
      to: 'keen@x.example',
      subject: 'Kelp for Keen',
      sentSubject: 'Kelp for Keen',
      html: expect.stringContaining('Hello Keen,'),
    });
    await expect(world.api.get(`${at}/7`)).rejects.toThrow('no such message');
  });

  it('has a follow-up under the subject of its thread, sent or not', async () => {
    const silent = await person('silent@x.example');
    const [campaign] = silent.campaigns;
    const proof = await world.api.get<PersonProof>(`/people/${silent.id}/campaigns/${campaign?.id}/messages/1`);
    expect(proof.subject).toBe('Re: Kelp for Silent');
    expect(proof.sentSubject ?? proof.subject).toBe(proof.subject);
  });

  it('has one history across lists, campaigns, messages and what came back', async () => {
    const keen = await person('keen@x.example');
    expect(keen).toMatchObject({
      name: 'Keen',
      standing: 'They replied to Vines, so they get no more messages.',
      suppression: null,
    });
    expect(keen.lists.map((l) => [l.name, l.fields])).toEqual([['People', [{ name: 'given name', value: 'Keen' }]]]);
    expect(keen.campaigns).toMatchObject([
      {
        name: 'Vines',
        state: 'replied',
        mailbox: 'ines@tidewaterkelp.example',
        messages: [{ step: 0, state: 'sent', subject: 'Kelp for Keen' }],
      },
    ]);
    expect(keen.history.map((h) => h.kind)).toEqual(['reply', 'sent']);
    expect(keen.history[0]?.incomingId).not.toBeNull();
    expect(keen.historyTotal).toBe(2);
  });

  it('shows the newest of a long history and how many there are; the export has all', async () => {
    const { id, historyTotal } = await person('silent@x.example');
    await world.store.pool.query(
      `insert into events (at, kind, contact_id, detail) select g, 'note', $1, 'n' || g from generate_series(1, 600) g`,
      [id],
    );
    const long = await person('silent@x.example');
    expect(long.history).toHaveLength(500);
    expect(long.historyTotal).toBe(historyTotal + 600);
    const file = await fetch(`${world.url}/api/people/${id}/export.json`);
    expect(((await file.json()) as PersonView).history).toHaveLength(historyTotal + 600);
    await world.store.pool.query(`delete from events where contact_id = $1 and detail like 'n%'`, [id]);
  });

  it('counts as written to lately for as many days back as a filter says', async () => {
    const keen = await person('keen@x.example');
    const sentAt = keen.history.find((h) => h.kind === 'sent')?.at as number;
    const age = Math.floor((Date.parse('2026-11-04T08:00:00Z') - sentAt) / 86_400_000);
    expect(age).toBeGreaterThan(0);
    const written = async (days?: number) => {
      const filter = { key: NOTES_KEY, kind: 'among', values: ['written'], not: false, ...(days && { days }) };
      const body = { query: { ...WHOLE_LIST, filters: [filter] } };
      return (await world.api.post<PersonRow[]>(`/lists/${listId}/rows`, body)).map((p) => p.address);
    };
    expect(await written()).toContain('keen@x.example');
    expect(await written(age + 1)).toContain('keen@x.example');
    expect(await written(age)).not.toContain('keen@x.example');
    await expect(written(5000)).rejects.toThrow('400');
  });

  it('says why they are not written to, or when they will be', async () => {
    expect((await person('silent@x.example')).standing).toMatch(
      /^The next message of Vines leaves on \w{3} \d Nov at \d\d:\d\d from ines@tidewaterkelp\.example\.$/,
    );
    const gone = await person('gone@x.example');
    expect(gone.standing).toContain('they are on the suppression list: hard bounce: ');
    expect(gone.suppression?.source).toBe('Vines');
  });

  it('can be taken away whole, and erased; only the suppression list remembers them', async () => {
    const gone = await person('gone@x.example');
    const file = await fetch(`${world.url}/api/people/${gone.id}/export.json`);
    expect(file.headers.get('content-disposition')).toContain('attachment');
    expect(await file.json()).toMatchObject({
      address: 'gone@x.example',
      campaigns: [{ name: 'Vines' }],
      received: [],
    });
    await world.api.remove(`/people/${gone.id}`);
    await expect(world.api.get(`/people/${gone.id}`)).rejects.toThrow('erased');
    const left = await world.store.pool.query(
      `select count(*)::int as n from contacts where address = 'gone@x.example'`,
    );
    expect(left.rows[0].n).toBe(0);
    expect((await world.api.get<SuppressionList>('/suppressions')).entries.map((s) => s.key)).toContain(
      'gone@x.example',
    );
    // Nobody else lost anything, and the campaign goes on.
    await world.drive('2026-11-06T20:00:00Z');
    expect(await world.inbox('silent@x.example')).toHaveLength(2);
  });

  it('takes along what was meant for somebody else, whose row had become theirs', async () => {
    const mailbox = await world.connect('otis');
    const id = await world.people({ 'later@x.example': 'silent' });
    await world.begin({ listId: id, mailboxIds: [mailbox], name: 'Later', startDate: '2026-11-12' });
    const [row] = await world.rows(id);
    const { columns } = await world.api.get<ListHead>(`/lists/${id}`);
    const key = columns.find((c) => c.role === 'address')?.key as string;
    await world.api.post(`/lists/${id}/cells`, { cells: [{ rowId: row?.rowId, key, value: 'other@x.example' }] });
    const [changed] = await world.rows(id);
    expect(changed?.contactId).not.toBe(row?.contactId);
    await world.api.remove(`/people/${changed?.contactId}`);
    const later = await world.api.get<PersonView>(`/people/${row?.contactId}`);
    expect(later.campaigns).toMatchObject([{ name: 'Later', state: 'stopped' }]);
    await world.drive('2026-11-20T20:00:00Z');
    expect([await world.inbox('later@x.example'), await world.inbox('other@x.example')]).toEqual([[], []]);
  });
});
