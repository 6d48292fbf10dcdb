import { OUTCOME_COLUMNS, type ColumnFilter } from '@baton/core';
import type { ListHead } from '@baton/contract';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { TestWorld } from '../../testing/test-world';

let world: TestWorld;
let listId: number;
let mailbox: number;
beforeEach(async () => {
  world = await TestWorld.start();
  mailbox = await world.connect('ines');
  const personas = { ana: 'keen', bo: 'silent', cy: 'unknown', dee: 'silent' };
  listId = await world.people(
    Object.fromEntries(Object.entries(personas).map(([name, persona]) => [`${name}@vines.example`, persona])),
  );
});
afterEach(() => world.close());

const head = () => world.api.get<ListHead>(`/lists/${listId}`);
const found = async (filter: ColumnFilter) =>
  (await world.rows(listId, { filters: [filter] })).map((r) => r.address.split('@')[0]);

/** A campaign to three of the four that has run for two days. */
async function running(name = 'Vines'): Promise<number> {
  const [dee] = await world.rows(listId, { search: 'dee' });
  await world.api.post(`/lists/${listId}/remove-rows`, { choice: { rows: [dee?.rowId] } });
  const id = await world.begin({ listId, mailboxIds: [mailbox], name });
  await world.api.post(`/lists/${listId}/undo`, {});
  await world.drive('2026-11-03T20:00:00Z');
  return id;
}

describe('what became of people, in their list', () => {
  it('is in no column before a campaign has been started, and then in columns that can be hidden', async () => {
    expect((await head()).outcomes).toEqual([]);
    await running();
    expect((await head()).outcomes.map((o) => o.key)).toEqual(OUTCOME_COLUMNS.map((c) => c.key));
    await world.api.put(`/lists/${listId}/outcomes`, { hidden: ['@outcome', '@next'] });
    expect((await head()).outcomes.filter((o) => o.hidden).map((o) => o.key)).toEqual(['@next', '@outcome']);
    await expect(world.api.put(`/lists/${listId}/outcomes`, { hidden: ['email'] })).rejects.toThrow('400');
  });

  it('tells campaign, state, when the last left, when the next leaves, when somebody replied and with what outcome', async () => {
    await running();
    const cells = Object.fromEntries(
      (await world.rows(listId)).map((r) => [
        r.address.split('@')[0],
        Object.fromEntries(Object.entries(r.fields).filter(([key]) => key.startsWith('@'))),
      ]),
    );
    const moment = expect.stringMatching(/^2026-11-0\d \d\d:\d\d$/) as string;
    expect(cells['ana']).toMatchObject({
      '@campaign': 'Vines',
      '@state': 'replied',
      '@sent': moment,
      '@replied': moment,
    });
    expect(cells['ana']).not.toHaveProperty('@next');
    expect(cells['bo']).toEqual({ '@campaign': 'Vines', '@state': 'in progress', '@sent': moment, '@next': moment });
    expect(cells['cy']).toMatchObject({ '@state': 'bounced' });
    expect(cells['dee']).toEqual({});
  });

  it('is found, sorted and counted like any column, and a segment on it is live', async () => {
    await running();
    expect(await found({ key: '@state', kind: 'among', values: ['replied', 'bounced'], not: false })).toEqual([
      'ana',
      'cy',
    ]);
    expect(await found({ key: '@campaign', kind: 'blank', blank: true })).toEqual(['dee']);
    expect(await found({ key: '@sent', kind: 'date', from: '2026-11-02', to: '2026-11-02' })).toEqual(['ana', 'bo']);
    expect(await found({ key: '@sent', kind: 'date', from: '2026-11-05', to: null })).toEqual([]);
    const sorted = await world.rows(listId, { sort: [{ key: '@state', descending: false }] });
    expect(sorted.map((r) => r.address.split('@')[0])).toEqual(['cy', 'bo', 'ana', 'dee']);
    const body = { query: { search: '', filters: [], sort: [] }, removed: false, key: '@state' };
    const values = await world.api.post<{ value: string; n: number }[]>(`/lists/${listId}/values`, body);
    expect(Object.fromEntries(values.map((v) => [v.value, v.n]))).toEqual({
      replied: 1,
      'in progress': 1,
      bounced: 1,
      '': 1,
    });
    const silent = {
      search: '',
      filters: [{ key: '@state', kind: 'among', values: ['in progress', 'done'], not: false }],
      sort: [],
    };
    const { id: segmentId } = await world.api.post<{ id: number }>(`/lists/${listId}/segments`, {
      name: 'Silent',
      query: silent,
    });
    const draft = await world.draft({ listId, mailboxIds: [mailbox], segmentId, name: 'Again' });
    expect(draft.forecast.people).toBe(1);
  });

  it('is of the newest campaign', async () => {
    await running();
    await world.begin({ listId, mailboxIds: [mailbox], name: 'Second', startDate: '2026-11-04' });
    expect(await found({ key: '@campaign', kind: 'among', values: ['Second'], not: false })).toEqual([
      'ana',
      'bo',
      'cy',
      'dee',
    ]);
  });

  it('does not know other columns of that kind', async () => {
    await expect(found({ key: '@nothing', kind: 'blank', blank: true })).rejects.toThrow(/no longer in the list/);
  });
});
