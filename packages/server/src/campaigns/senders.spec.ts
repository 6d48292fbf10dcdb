import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { BriefView, ChangeView } from '@baton/contract';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
let ines: number;
let tomas: number;
let listId: number;
beforeEach(async () => {
  world = await TestWorld.start();
  ines = await world.connect('ines');
  tomas = await world.connect('tomas');
  const rows = ['ana@x.example,Ana,tomas', 'ben@x.example,Ben,', 'cy@y.example,Cy,INES@tidewaterkelp.example', 'dee@z.example,Dee,wren']; // prettier-ignore
  listId = await world.importCsv(['email,given name,Owner', ...rows].join('\n'));
});
afterEach(() => world.close());

const senders = async (id: number) =>
  Object.fromEntries(
    (await world.recipients(id)).map((r) => [r.address.split('@')[0], r.mailbox?.split('@')[0] ?? null]),
  );
const draft = async (over: Partial<BriefView> = {}) =>
  world.draft({ listId, mailboxIds: [ines, tomas], steps: [await world.step({})], senderKey: 'owner', ...over });
const start = async (b: BriefView) => {
  await world.api.post(`/campaigns/${b.id}/start`, { people: b.forecast.people, lastDay: b.forecast.lastDay });
  return b.id;
};

describe('a column that names the mailbox', () => {
  it('is followed for each person; whose mailbox the campaign does not have is left out', async () => {
    const b = await draft();
    expect([b.senderColumn, b.forecast.people]).toEqual(['Owner', 3]);
    expect(b.forecast.leftOut).toMatchObject([
      { code: 'sender', reason: 'to be written to from a mailbox that the campaign does not have', people: 1 },
    ]);
    const id = await start(b);
    await world.drive('2026-11-02T20:00:00Z');
    expect(await senders(id)).toMatchObject({ ana: 'tomas', cy: 'ines', dee: null });
    expect((await world.recipients(id)).find((r) => r.address === 'dee@z.example')?.reason).toBe(
      'to be written to from wren, which is none of the campaign’s mailboxes',
    );
    expect((await world.inbox('ana@x.example')).map((m) => m.from)[0]).toContain('tomas@');
  });

  it('is followed when a row names another mailbox before the first message, and when that is undone', async () => {
    const id = await start(await draft({ startDate: '2026-11-05' }));
    const rows = await world.rows(listId);
    const put = (name: string, value: string) => {
      const row = rows.find((r) => r.address.startsWith(`${name}@`));
      return world.api.post(`/lists/${listId}/cells`, { cells: [{ rowId: row?.rowId, key: 'owner', value }] });
    };
    await put('ana', 'ines');
    await put('dee', 'Tomas');
    await put('cy', 'nobody here');
    expect(await senders(id)).toMatchObject({ ana: 'ines', dee: 'tomas' });
    expect(await world.states(id)).toMatchObject({ 'dee@z.example': 'waiting', 'cy@y.example': 'left_out' });
    await world.api.post(`/lists/${listId}/undo`, {});
    expect((await world.states(id))['cy@y.example']).toBe('waiting');
    expect(await senders(id)).toMatchObject({ cy: 'ines' });
    // Whoever was moved by hand, or has been written to, stays where they are.
    const [ana] = (await world.recipients(id)).filter((r) => r.address === 'ana@x.example');
    await world.api.post(`/campaigns/${id}/people`, {
      act: 'move',
      enrolmentIds: [ana?.enrolmentId],
      mailboxId: tomas,
    });
    await put('ana', 'INES@tidewaterkelp.example');
    expect(await senders(id)).toMatchObject({ ana: 'tomas' });
    await world.drive('2026-11-05T20:00:00Z');
    await put('dee', 'ines');
    expect(await senders(id)).toMatchObject({ ana: 'tomas', cy: 'ines', dee: 'tomas' });
    expect((await world.inbox('dee@z.example')).map((m) => m.from)[0]).toContain('tomas@');
  });

  it('is followed when it is renamed, and asked for anew when it is gone', async () => {
    const b = await draft();
    await world.api.patch(`/lists/${listId}/columns/owner`, { name: 'Contact person' });
    expect((await world.brief(b.id)).senderColumn).toBe('Contact person');
    const { senderKey } = await world.brief(b.id);
    await world.api.remove(`/lists/${listId}/columns/${encodeURIComponent(senderKey ?? '')}`);
    expect((await world.brief(b.id)).forecast.obstacles[0]).toMatchObject({
      ...{ kind: 'fix', text: 'The column that says who is written to from which mailbox is gone' },
      remedy: { act: 'mailboxes' },
    });
  });

  it('can be chosen while a campaign runs: whoever waits follows it, and goes back when that is undone', async () => {
    const id = await start(await draft({ senderKey: null, startDate: '2026-11-05' }));
    const b = await world.brief(id);
    const view = await world.api.post<ChangeView>(`/campaigns/${id}/changes/preview`, { ...b, senderKey: 'owner' });
    expect(view.changes).toEqual(['Each person hears from the mailbox named in Owner.']);
    expect(view.effects).toContain('1 person who waits for the first message gets none.');
    await world.api.post(`/campaigns/${id}/changes`, { ...b, senderKey: 'owner' });
    expect(await senders(id)).toMatchObject({ ana: 'tomas', cy: 'ines' });
    expect((await world.states(id))['dee@z.example']).toBe('left_out');
    await world.undo(id);
    expect((await world.states(id))['dee@z.example']).toBe('waiting');
    const gone = await world.api.post<ChangeView>(`/campaigns/${id}/changes/preview`, {
      ...(await world.brief(id)),
      senderKey: 'no_such',
    });
    expect(gone.changes).toEqual(['Each person hears from the mailbox named in a column that is gone.']);
    expect(gone.faults).toEqual(['The column that says who is written to from which mailbox is gone.']);
  });
});

it('whoever one of the mailboxes has written to before hears from it again, where the campaign says so', async () => {
  await start(await draft({ mailboxIds: [tomas], senderKey: null, allowsOthers: true }));
  await world.drive('2026-11-02T20:00:00Z');
  const again = { senderKey: null, keepsSender: true, startDate: '2026-11-03' };
  const id = await start(await draft(again));
  await world.drive('2026-11-03T20:00:00Z');
  expect(new Set(Object.values(await senders(id)))).toEqual(new Set(['tomas']));
  const other = await start(await draft({ ...again, mailboxIds: [ines], startDate: '2026-11-04' }));
  await world.drive('2026-11-04T20:00:00Z');
  expect(new Set(Object.values(await senders(other)))).toEqual(new Set(['ines']));
});
