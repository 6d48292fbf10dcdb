import { NOTES_KEY, WHOLE_LIST, type ColumnFilter, type ListQuery } from '@baton/core';
import fc from 'fast-check';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ListHead } from '@baton/contract';
import { TestWorld } from '../../testing/test-world';
import { systemClock } from '../../time/system-clock';
import { workspaceClock } from '../../time/workspace-clock';
import { askSimulator, askWantedDomains } from './ask-domains';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

const REGIONS = ['North', 'north', 'Süd', 'SÜD', 'Ost, West', '100%_sure', '', 'Ärmel', 'Zoo', '\\back'];
const SIZES = ['7', '12', '1 200', '3,5', '-4', 'many', '', '007'];
const DATES = ['2026-11-02', '2026-12-24', '2027-01-05', 'soon', ''];

interface Row {
  address: string;
  region: string;
  size: string;
  since: string;
}

const people: Row[] = Array.from({ length: 90 }, (_, i) => ({
  address: `p${String(i).padStart(3, '0')}@${i % 3 === 0 ? 'vines' : 'orchard'}.example`,
  region: REGIONS[(i * 7) % REGIONS.length] as string,
  size: SIZES[(i * 5) % SIZES.length] as string,
  since: DATES[(i * 3) % DATES.length] as string,
}));
const quoted = (cell: string) => `"${cell}"`;
const csv = [
  'email,region,size,since',
  ...people.map((p) => [p.address, p.region, p.size, p.since].map(quoted).join(',')),
].join('\n');

/** What a filter means, said a second time and without a database. */
function holds(row: Row, filter: ColumnFilter): boolean {
  const value = row[filter.key as keyof Row];
  const low = value.toLowerCase();
  switch (filter.kind) {
    case 'text': {
      const wanted = filter.value.toLowerCase();
      const is = {
        contains: low.includes(wanted),
        is: low === wanted && value !== '',
        begins: low.startsWith(wanted),
        ends: low.endsWith(wanted),
      };
      const blank = value === '';
      switch (filter.test) {
        case 'lacks':
          return blank || !is.contains;
        case 'is_not':
          return !is.is;
        default:
          return !blank && is[filter.test];
      }
    }
    case 'among':
      return filter.values.some((v) => v.toLowerCase() === low) !== filter.not;
    case 'blank':
      return (value === '') === filter.blank;
    case 'number': {
      const n = numberIn(value);
      return n !== null && (filter.from === null || n >= filter.from) && (filter.to === null || n <= filter.to);
    }
    case 'date':
      return (
        value.startsWith('20') &&
        (filter.from === null || value >= filter.from) &&
        (filter.to === null || value <= filter.to)
      );
  }
}

const numberIn = (value: string): number | null =>
  value === '' || value === 'many' ? null : Number(value.replace(' ', '').replace(',', '.'));

const anyFilter: fc.Arbitrary<ColumnFilter> = fc.oneof(
  fc.record({
    key: fc.constantFrom('region', 'size', 'address'),
    kind: fc.constant('text' as const),
    test: fc.constantFrom('contains', 'lacks', 'is', 'is_not', 'begins', 'ends'),
    value: fc.constantFrom('nor', 'ü', 'o', '%', '_', '\\', '12', 'p00', 'North', 'example', '0'),
  }),
  fc.record({
    key: fc.constant('region'),
    kind: fc.constant('among' as const),
    values: fc.subarray(REGIONS, { minLength: 1, maxLength: 4 }),
    not: fc.boolean(),
  }),
  fc.record({ key: fc.constantFrom('region', 'size'), kind: fc.constant('blank' as const), blank: fc.boolean() }),
  fc.record({
    key: fc.constant('size'),
    kind: fc.constant('number' as const),
    from: fc.constantFrom(null, -5, 0, 7, 12),
    to: fc.constantFrom(null, 7, 12, 2000),
  }),
  fc.record({
    key: fc.constant('since'),
    kind: fc.constant('date' as const),
    from: fc.constantFrom(null, '2026-11-02', '2026-12-01'),
    to: fc.constantFrom(null, '2026-12-24', '2027-06-01'),
  }),
);

/** On the wire the address has a key of its own. */
const asked = (filter: ColumnFilter): ColumnFilter =>
  filter.key === 'address' ? { ...filter, key: '@address' } : filter;

const found = async (listId: number, query: Partial<ListQuery>) =>
  (await world.rows(listId, query)).map((p) => p.address);

describe('a query of a list', () => {
  it('finds what its filters say, whichever they are', async () => {
    const listId = await world.importCsv(csv, 'Filtered');
    await fc.assert(
      fc.asyncProperty(fc.array(anyFilter, { maxLength: 3 }), async (filters) => {
        const expected = people.filter((p) => filters.every((f) => holds(p, f))).map((p) => p.address);
        expect(await found(listId, { filters: filters.map(asked) })).toEqual(expected);
      }),
      { numRuns: 120 },
    );
  });

  it('sorts numbers as numbers, letters as people do, and blanks last both ways', async () => {
    const listId = await world.importCsv(csv, 'Sorted');
    await world.api.patch(`/lists/${listId}/columns/size`, { kind: 'number' });
    const values = async (key: string, descending: boolean) =>
      (await world.rows(listId, { sort: [{ key, descending }] })).map((p) => p.fields[key] ?? '');
    const sizes = ['-4', '3,5', '7', '007', '12', '1 200'];
    const distinct = (all: string[]) => [...new Set(all)];
    const up = distinct(await values('size', false));
    expect(up.slice(0, 6).map(numberIn)).toEqual(sizes.map(numberIn));
    expect(up.slice(6).sort()).toEqual(['', 'many']);
    expect(
      distinct(await values('size', true))
        .slice(0, 6)
        .map(numberIn),
    ).toEqual(sizes.map(numberIn).reverse());
    const regions = distinct(await values('region', false));
    expect(regions.indexOf('Ärmel')).toBeLessThan(regions.indexOf('north'));
    expect(regions.indexOf('Süd')).toBeLessThan(regions.indexOf('Zoo'));
    expect(regions.at(-1)).toBe('');
    expect(distinct(await values('region', true)).at(-1)).toBe('');
  });

  it('sorts by several columns, the first weighing most, then in the order of the list', async () => {
    const listId = await world.importCsv(
      'email,a,b\n1@x.example,x,2\n2@x.example,y,1\n3@x.example,x,1\n4@x.example,x,2',
      'Two',
    );
    const sort = [
      { key: 'a', descending: true },
      { key: 'b', descending: false },
    ];
    expect((await found(listId, { sort })).map((a) => a[0])).toEqual(['2', '3', '1', '4']);
  });

  it('searches in addresses and values, not in the names of columns, and takes wildcards literally', async () => {
    const listId = await world.importCsv(csv, 'Searched');
    expect(await found(listId, { search: 'p01' })).toHaveLength(10);
    expect(await found(listId, { search: '%_s' })).toHaveLength(9);
    expect(await found(listId, { search: 'SÜD' })).toHaveLength(18);
    expect(await found(listId, { search: 'region' })).toEqual([]);
    expect(await found(listId, { search: '\\back' })).toHaveLength(9);
  });

  it('gives the rows whole as numbers, and pages of them', async () => {
    const listId = await world.importCsv(csv, 'Paged');
    const response = await fetch(`${world.url}/api/lists/${listId}/row-ids`, {
      method: 'POST',
      headers: { 'x-baton': '1', 'content-type': 'application/json' },
      body: JSON.stringify({ query: { ...WHOLE_LIST, sort: [{ key: '@address', descending: true }] } }),
    });
    const ids = [...new Int32Array(await response.arrayBuffer())];
    expect(ids).toHaveLength(90);
    const rows = ids.slice(10, 13);
    const byId = await world.api.post<{ address: string }[]>(`/lists/${listId}/rows-by-id`, {
      rows: [...rows, 999_999],
    });
    expect(byId.map((p) => p.address.slice(0, 4))).toEqual(['p079', 'p078', 'p077']);
    const page = { query: WHOLE_LIST, offset: 80, limit: 50 };
    expect(await world.api.post(`/lists/${listId}/rows`, page)).toHaveLength(10);
    await expect(world.api.get('/lists/9999')).rejects.toThrow('404');
    const gone = { query: { ...WHOLE_LIST, sort: [{ key: 'nothing', descending: false }] } };
    await expect(world.api.post(`/lists/${listId}/rows`, gone)).rejects.toThrow('no longer in the list');
  });

  it('says which values a column has, tags one by one', async () => {
    const listId = await world.importCsv(
      'email,tags\na@x.example,"wine, big"\nb@x.example,wine\nc@x.example,',
      'Tagged',
    );
    const values = await world.api.post(`/lists/${listId}/values`, { query: WHOLE_LIST, key: 'tags' });
    expect(values).toEqual([
      { value: 'wine', n: 2 },
      { value: '', n: 1 },
      { value: 'big', n: 1 },
    ]);
    const among: ColumnFilter = { key: 'tags', kind: 'among', values: ['BIG'], not: false };
    expect(await found(listId, { filters: [among] })).toEqual(['a@x.example']);
  });

  it('finds rows by what is known of the person', async () => {
    const listId = await world.importCsv('email\ninfo@a.example\nana@b.example\nbo@c.example', 'Noted');
    await world.api.post('/suppressions', { what: 'b.example', reason: 'asked' });
    const noted = (values: string[], not = false) =>
      found(listId, { filters: [{ key: NOTES_KEY, kind: 'among', values, not }] });
    expect(await noted(['shared'])).toEqual(['info@a.example']);
    expect(await noted(['suppressed', 'bounced'])).toEqual(['ana@b.example']);
    expect(await noted(['shared', 'suppressed'], true)).toEqual(['bo@c.example']);
    expect(await found(listId, { filters: [{ key: NOTES_KEY, kind: 'blank', blank: true }] })).toEqual([
      'bo@c.example',
    ]);
    expect((await world.rows(listId)).map((p) => p.notes)).toEqual([['shared'], ['suppressed'], []]);
  });

  it('finds the domains for which no server takes mail, once somebody wants to know', async () => {
    const listId = await world.importCsv('email\na@fine.example\nb@gone.example\nc@gone.example', 'Servers');
    await world.desk.call('PUT', '/domains/gone.example', { takesMail: false });
    const dead = () =>
      found(listId, { filters: [{ key: NOTES_KEY, kind: 'among', values: ['no_server'], not: false }] });
    const head = () => world.api.get<ListHead>(`/lists/${listId}`);
    expect(await dead()).toEqual([]);
    expect(await world.api.post(`/lists/${listId}/ask-domains`)).toEqual({ domains: 2 });
    expect((await head()).domainsToAsk).toBe(2);
    const clock = workspaceClock(world.store.db, systemClock);
    expect(await askWantedDomains(world.store, clock, askSimulator(world.desk))).toBe(2);
    expect(await dead()).toEqual(['b@gone.example', 'c@gone.example']);
    expect((await head()).domainsToAsk).toBe(0);
    expect((await world.rows(listId)).map((p) => p.notes)).toEqual([[], ['no_server'], ['no_server']]);
    // What was asked lately is not asked again; what gives no answer counts as fine.
    expect(await world.api.post(`/lists/${listId}/ask-domains`)).toEqual({ domains: 0 });
    await world.store.pool.query(`update mail_domains set takes_mail = null where domain = 'gone.example'`);
    await askWantedDomains(world.store, clock, () => Promise.reject(new Error('no answer')));
    expect(await dead()).toEqual([]);
  });

  it('takes no “no” of a file for a tick, and finds days with a time behind them', async () => {
    const rows = ['a,yes,2026-12-01 09:30', 'b,No,2026-12-02', 'c,,2026-12-02 23:59', 'd,yes,soon'];
    const csv = ['email,ready,send on', ...rows.map((r) => r.replace(/^./, '$&@ticks.example'))].join('\n');
    const listId = await world.importCsv(csv.replace('soon', ''), 'Ticks');
    const names = async (filter: ColumnFilter) =>
      (await found(listId, { filters: [filter] })).map((a) => a.charAt(0)).join('');
    expect(await names({ key: 'ready', kind: 'blank', blank: false })).toBe('ad');
    expect(await names({ key: 'ready', kind: 'blank', blank: true })).toBe('bc');
    expect(await names({ key: 'sendon', kind: 'date', from: '2026-12-01', to: '2026-12-01' })).toBe('a');
    expect(await names({ key: 'sendon', kind: 'date', from: '2026-12-02', to: '2026-12-02' })).toBe('bc');
  });
});
