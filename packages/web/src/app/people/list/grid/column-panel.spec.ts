import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { NOTES_KEY, WHOLE_LIST, type ColumnFilter, type ListColumn, type SortBy } from '@baton/core';
import type { ListHead, PersonRow, RowsAsked } from '@baton/contract';
import { beforeEach, describe, expect, it } from 'vitest';
import { LiveServer, settle, textOf } from '../../../testing/live-server';
import { AddColumn } from './add-column';
import { ColumnPanel } from './column-panel';

const column = (key: string, over: Partial<ListColumn> = {}): ListColumn => ({
  name: key,
  key,
  role: 'field',
  kind: 'text',
  hidden: false,
  formula: null,
  verdicts: null,
  ...over,
});
const columns = [
  column('email', { role: 'address' }),
  column('region'),
  column('checked', { role: 'verification', verdicts: { risky: 'ask' } }),
  column('acres', { kind: 'number' }),
  column('greeting', { formula: 'Dear {{ given_name }}' }),
  column('old', { hidden: true }),
];
const outcomes: ListHead['outcomes'] = [
  { key: '@state', hidden: false },
  { key: '@next', hidden: true },
];
const asked: RowsAsked = { query: WHOLE_LIST, removed: false };

let server: LiveServer;
let filters: (ColumnFilter | null)[];
let sorts: SortBy[][];
let closed: number;

async function openPanel(key: string, over: Partial<RowsAsked> = {}): Promise<ComponentFixture<ColumnPanel>> {
  const fixture = TestBed.createComponent(ColumnPanel);
  for (const [name, value] of Object.entries({ listId: 7, key, columns, outcomes, asked: { ...asked, ...over } }))
    fixture.componentRef.setInput(name, value);
  fixture.componentInstance.filtered.subscribe((f) => filters.push(f));
  fixture.componentInstance.sorted.subscribe((s) => sorts.push(s));
  fixture.componentInstance.closed.subscribe(() => closed++);
  await settle(fixture);
  return fixture;
}

const find = <E extends HTMLElement>(fixture: ComponentFixture<unknown>, selector: string, at = 0): E =>
  (fixture.nativeElement as HTMLElement).querySelectorAll<E>(selector)[at] as E;
const button = (fixture: ComponentFixture<unknown>, words: string) =>
  [...(fixture.nativeElement as HTMLElement).querySelectorAll('button')].find((b) =>
    (b.textContent ?? '').includes(words),
  ) as HTMLButtonElement;

async function put(fixture: ComponentFixture<unknown>, element: HTMLInputElement | HTMLSelectElement, value: string) {
  element.value = value;
  element.dispatchEvent(new Event(element.tagName === 'SELECT' ? 'change' : 'input'));
  await settle(fixture);
}

beforeEach(() => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  [filters, sorts, closed] = [[], [], 0];
});

describe('a column’s panel', () => {
  it('filters by values found under the other filters', async () => {
    const others = { key: 'acres', kind: 'number', from: 1, to: null } as const;
    const own = { key: 'region', kind: 'blank', blank: true } as const;
    const fixture = await openPanel('region', { query: { ...WHOLE_LIST, filters: [own, others] } });
    await put(fixture, find<HTMLSelectElement>(fixture, 'select'), 'among');
    const request = server.http.expectOne('/api/lists/7/values');
    expect((request.request.body as RowsAsked).query.filters).toEqual([others]);
    request.flush([
      { value: 'North', n: 12 },
      { value: '', n: 3 },
      { value: 'South', n: 2 },
    ]);
    await settle(fixture);
    expect(textOf(fixture)).toContain('blank');
    await put(fixture, find<HTMLInputElement>(fixture, 'input[type=search]'), 'nor');
    find<HTMLInputElement>(fixture, '.values input').click();
    find<HTMLInputElement>(fixture, '.check input').click();
    await settle(fixture);
    button(fixture, 'Filter').click();
    expect(filters).toEqual([{ key: 'region', kind: 'among', values: ['North'], not: true }]);
    expect(closed).toBe(1);
  });

  it('filters a number by its ends, read as written, and takes an empty one off', async () => {
    const fixture = await openPanel('acres');
    await put(fixture, find<HTMLSelectElement>(fixture, 'select'), 'number');
    await put(fixture, find<HTMLInputElement>(fixture, '[aria-label=From]'), '2,5');
    button(fixture, 'Filter').click();
    await put(fixture, find<HTMLInputElement>(fixture, '[aria-label=From]'), '');
    button(fixture, 'Filter').click();
    expect(filters).toEqual([{ key: 'acres', kind: 'number', from: 2.5, to: null }, null]);
  });

  it('orders by it, alone or after the orders there are', async () => {
    const sort = [{ key: 'region', descending: true }];
    const fixture = await openPanel('acres', { query: { ...WHOLE_LIST, sort } });
    button(fixture, 'Sort descending').click();
    button(fixture, 'Sort by this as well').click();
    expect(sorts).toEqual([[{ key: 'acres', descending: true }], [...sort, { key: 'acres', descending: false }]]);
  });

  it('asks how long ago is lately, where people written to lately are sought', async () => {
    const fixture = await openPanel(NOTES_KEY);
    await put(fixture, find<HTMLSelectElement>(fixture, 'select'), 'among');
    const label = [...(fixture.nativeElement as HTMLElement).querySelectorAll('.values label')].find((l) =>
      l.textContent?.includes('written to lately'),
    ) as HTMLLabelElement;
    label.querySelector('input')?.click();
    await settle(fixture);
    const days = find<HTMLInputElement>(fixture, 'input[type=number]');
    expect(days.value).toBe('30');
    days.value = '90';
    days.dispatchEvent(new Event('change'));
    button(fixture, 'Filter').click();
    expect(filters).toEqual([{ key: NOTES_KEY, kind: 'among', values: ['written'], not: false, days: 90 }]);
  });

  it('renames, moves, splits and hides the list’s own columns, and only those', async () => {
    const fixture = await openPanel('acres');
    await put(fixture, find<HTMLInputElement>(fixture, 'label.line input'), 'hectares');
    button(fixture, 'Rename here and in messages').click();
    const renamed = server.http.expectOne('/api/lists/7/columns/acres');
    expect(renamed.request.body).toEqual({ name: 'hectares' });
    renamed.flush({});
    expect(closed).toBe(1);
    button(fixture, '← Left').click();
    const order = (server.http.expectOne('/api/lists/7/columns').request.body as { columns: { key: string }[] })
      .columns;
    expect(order.map((c) => c.key)).toEqual(['email', 'region', 'acres', 'checked', 'greeting', 'old']);
    button(fixture, 'Split name').click();
    expect(server.http.expectOne('/api/lists/7/columns/acres/split').request.body).toEqual({ by: { kind: 'name' } });
    expect(textOf(await openPanel(NOTES_KEY))).not.toContain('Delete');
  });

  it('asks what a verifier’s words mean, keeping what was said of others', async () => {
    const fixture = await openPanel('checked');
    server.answer('/api/lists/7/values', [
      { value: 'Catch-all', n: 9 },
      { value: '', n: 1 },
    ]);
    await settle(fixture);
    const judged = find<HTMLSelectElement>(fixture, '.values select');
    await put(fixture, judged, 'leave_out');
    expect(server.http.expectOne('/api/lists/7/columns/checked').request.body).toEqual({
      verdicts: { risky: 'ask', 'catch-all': 'leave_out' },
    });
  });

  it('computes a column by another formula', async () => {
    const fixture = await openPanel('greeting');
    const formula = find<HTMLTextAreaElement>(fixture, 'textarea');
    await put(fixture, formula as unknown as HTMLInputElement, 'Hi {{ given_name }}');
    button(fixture, 'Apply the formula').click();
    expect(server.http.expectOne('/api/lists/7/columns/greeting').request.body).toEqual({
      formula: 'Hi {{ given_name }}',
    });
  });
});

describe('adding a column', () => {
  const sample: PersonRow[] = [
    { rowId: 1, contactId: 1, address: 'a@x.example', zone: null, fields: { givenname: 'ana' }, notes: [] },
  ];
  async function open(): Promise<ComponentFixture<AddColumn>> {
    const fixture = TestBed.createComponent(AddColumn);
    for (const [name, value] of Object.entries({ listId: 7, columns, outcomes, sample }))
      fixture.componentRef.setInput(name, value);
    fixture.componentInstance.closed.subscribe(() => closed++);
    await settle(fixture);
    return fixture;
  }

  it('shows what a formula makes of the first rows, and adds none that does not parse', async () => {
    const fixture = await open();
    await put(fixture, find<HTMLInputElement>(fixture, 'input'), 'dear');
    await put(fixture, find<HTMLSelectElement>(fixture, 'select'), 'computed');
    expect(textOf(fixture)).toContain('Ana');
    await put(fixture, find<HTMLInputElement>(fixture, 'textarea'), 'Dear {{ given_name');
    expect(find(fixture, '.trouble').textContent).toMatch(/\S/);
    expect(button(fixture, 'Add dear').disabled).toBe(true);
    await put(fixture, find<HTMLInputElement>(fixture, 'textarea'), 'Dear {{ given_name }}');
    button(fixture, 'Add dear').click();
    expect(server.http.expectOne('/api/lists/7/columns').request.body).toEqual({
      name: 'dear',
      kind: 'text',
      formula: 'Dear {{ given_name }}',
      after: null,
    });
  });

  it('shows a hidden column again, and leaves the others as they are', async () => {
    const fixture = await open();
    button(fixture, 'Show').click();
    const request = server.http.expectOne('/api/lists/7/columns');
    expect((request.request.body as { columns: { hidden: boolean }[] }).columns.every((c) => !c.hidden)).toBe(true);
    request.flush({});
    expect(closed).toBe(1);
  });

  it('hides and shows what Baton writes of people, which can be found but not renamed or deleted', async () => {
    const panel = await openPanel('@state');
    expect(textOf(panel)).toContain('Written by Baton, of the newest campaign.');
    const kinds = [...find(panel, 'select').querySelectorAll('option')].map((o) => o.value);
    expect(kinds).toEqual(['none', 'among', 'text', 'blank', 'filled']);
    expect(button(panel, 'Delete')).toBeUndefined();
    button(panel, 'Hide').click();
    expect(server.http.expectOne('/api/lists/7/outcomes').request.body).toEqual({ hidden: ['@state', '@next'] });
    const adding = (await open()).nativeElement as HTMLElement;
    const shows = [...adding.querySelectorAll('button')].filter((b) => b.textContent?.trim() === 'Show');
    shows.at(-1)?.click();
    expect(server.http.expectOne('/api/lists/7/outcomes').request.body).toEqual({ hidden: [] });
  });
});
