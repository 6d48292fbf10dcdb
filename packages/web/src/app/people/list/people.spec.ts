import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter, Router } from '@angular/router';
import type { ListHead, PersonRow } from '@baton/contract';
import { WHOLE_LIST, type ListColumn } from '@baton/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveServer, settle, textOf } from '../../testing/live-server';
import { People } from './people';

const column = (name: string, key: string, over: Partial<ListColumn> = {}): ListColumn => ({
  name,
  key,
  role: 'field',
  kind: 'text',
  hidden: false,
  formula: null,
  verdicts: null,
  ...over,
});
const head = (over: Partial<ListHead> = {}): ListHead => ({
  list: { id: 7, name: 'Growers', source: 'growers.csv', createdAt: 0, people: 3, aside: 0 },
  columns: [
    column('email', 'email', { role: 'address' }),
    column('region', 'region'),
    column('call', 'call', { kind: 'tick' }),
  ],
  segments: [],
  feed: null,
  domainsToAsk: 0,
  outcomes: [],
  removed: 0,
  undo: null,
  redo: null,
  revision: 1,
  ...over,
});
const person = (rowId: number, region: string): PersonRow => ({
  rowId,
  contactId: rowId + 100,
  address: `p${rowId}@x.example`,
  zone: null,
  fields: { region },
  notes: rowId === 3 ? ['suppressed'] : [],
});
const people = [person(1, 'North'), person(2, 'South'), person(3, 'North')];

let server: LiveServer;
let fixture: ComponentFixture<People>;
const host = () => fixture.nativeElement as HTMLElement;
const grid = () => host().querySelector('[role=grid]') as HTMLElement;
const cells = () => [...host().querySelectorAll('.body [role=gridcell].cell')].map((c) => c.textContent?.trim());
const button = (words: string | RegExp) =>
  [...host().querySelectorAll('button')].find((b) => (b.textContent ?? '').trim().match(words)) as HTMLButtonElement;

function answerRows(rows: PersonRow[]): void {
  server.answer('/api/lists/7/rows', rows);
  server.answer('/api/lists/7/row-ids', Int32Array.from(rows.map((r) => r.rowId)).buffer);
}

async function press(key: string, over: KeyboardEventInit = {}): Promise<void> {
  grid().dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...over }));
  await settle(fixture);
}

beforeEach(async () => {
  localStorage.clear();
  TestBed.configureTestingModule({ providers: [...LiveServer.providers(), provideRouter([])] });
  server = new LiveServer();
  fixture = TestBed.createComponent(People);
  fixture.componentRef.setInput('listId', '7');
  await settle(fixture);
  server.answer('/api/lists/7', head());
  await settle(fixture);
  answerRows(people);
  await settle(fixture);
  answerRows(people);
  await settle(fixture);
});

describe('a list’s page', () => {
  it('shows its people, and says on each button whom it means', () => {
    expect(textOf(fixture)).toContain('3 people · from growers.csv');
    expect(cells().slice(0, 3)).toEqual(['p1@x.example›', '', 'North']);
    expect(textOf(fixture)).toContain('suppressed');
    expect(button(/^Remove all 3/)).toBeTruthy();
  });

  it('writes what is typed, shows it at once, and tells what was not taken', async () => {
    await press('ArrowRight');
    await press('ArrowRight');
    await press('W');
    const editor = host().querySelector('.editor') as HTMLInputElement;
    expect(document.activeElement === editor || editor.value === 'W').toBe(true);
    editor.value = 'West';
    editor.dispatchEvent(new Event('input'));
    editor.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
    await settle(fixture);
    const request = server.http.expectOne('/api/lists/7/cells');
    expect(request.request.body).toEqual({ cells: [{ rowId: 1, key: 'region', value: 'West' }] });
    expect(cells()[2]).toBe('West');
    request.flush({ changed: 0, revision: 1, refused: [{ rowId: 1, key: 'region', reason: 'It cannot be' }] });
    await settle(fixture);
    server.answer('/api/lists/7/rows-by-id', [people[0]]);
    await settle(fixture);
    expect(cells()[2]).toBe('North');
    expect(document.body.textContent).toContain('It cannot be.');
  });

  it('picks rows by keyboard, and acts on those alone', async () => {
    await press(' ', { shiftKey: true });
    await press('ArrowDown');
    await press(' ', { ctrlKey: true });
    button(/^Remove 2/).click();
    await settle(fixture);
    const request = server.http.expectOne('/api/lists/7/remove-rows');
    expect(request.request.body).toEqual({ choice: { rows: [1, 2] } });
  });

  it('sends the query and the number shown when all that are found are meant', async () => {
    const find = host().querySelector('input[type=search]') as HTMLInputElement;
    find.value = 'nor';
    find.dispatchEvent(new Event('input'));
    await new Promise((resolve) => setTimeout(resolve, 250));
    await settle(fixture);
    answerRows([people[0] as PersonRow, people[2] as PersonRow]);
    await settle(fixture);
    answerRows([people[0] as PersonRow, people[2] as PersonRow]);
    await settle(fixture);
    expect(textOf(fixture)).toContain('2 of 3');
    button(/^Remove all 2 found/).click();
    await settle(fixture);
    const { body } = server.http.expectOne('/api/lists/7/remove-rows').request;
    expect(body).toEqual({ choice: { query: { ...WHOLE_LIST, search: 'nor' }, count: 2 } });
  });

  it('orders by a column at a press, the other way at the second, and not at the third', async () => {
    const name = [...host().querySelectorAll('.head .name')][2] as HTMLButtonElement;
    const sorts: unknown[] = [];
    for (let i = 0; i < 3; i++) {
      name.click();
      await settle(fixture);
      const asked = server.http.match('/api/lists/7/rows').at(-1);
      sorts.push((asked?.request.body as { query: { sort: unknown } }).query.sort);
      asked?.flush(people);
      server.answer('/api/lists/7/row-ids', Int32Array.from([1, 2, 3]).buffer);
      await settle(fixture);
    }
    expect(sorts).toEqual([[{ key: 'region', descending: false }], [{ key: 'region', descending: true }], []]);
  });

  it('ticks with the space bar, and fills down', async () => {
    for (let i = 0; i < 3; i++) await press('ArrowRight');
    await press(' ');
    expect(server.http.expectOne('/api/lists/7/cells').request.body).toEqual({
      cells: [{ rowId: 1, key: 'call', value: 'yes' }],
    });
    await press('ArrowLeft');
    await press('ArrowDown', { shiftKey: true });
    await press('d', { ctrlKey: true });
    expect(server.http.expectOne('/api/lists/7/cells').request.body).toEqual({
      cells: [{ rowId: 2, key: 'region', value: 'North' }],
    });
  });

  it('undoes what there is, though its name has not been heard yet, and says where there is nothing', async () => {
    await press('z', { ctrlKey: true });
    server.refuse('/api/lists/7/undo', 409, 'There is nothing to undo.');
    await settle(fixture);
    await press('z', { ctrlKey: true });
    expect(server.answer('/api/lists/7/undo', { label: '2 changes of region' })).toBe(1);
  });

  it('copies what is marked as a spreadsheet has it, and leaves a filter of another list behind', async () => {
    await press('ArrowDown', { shiftKey: true });
    await press('ArrowRight', { shiftKey: true });
    const data = new Map<string, string>();
    const event = new Event('copy', { bubbles: true, cancelable: true });
    Object.assign(event, { clipboardData: { setData: (type: string, text: string) => data.set(type, text) } });
    grid().dispatchEvent(event);
    expect(data.get('text/plain')).toBe('p1@x.example\t\r\np2@x.example\t');
    const navigate = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    fixture.componentRef.setInput('listId', undefined);
    await settle(fixture);
    server.answer('/api/lists', [head().list]);
    await settle(fixture);
    expect(navigate).toHaveBeenCalledWith(['/people', 7], { replaceUrl: true });
  });

  it('shows what became of people behind the list’s own columns, and lets nobody write there', async () => {
    server.tell('people');
    await settle(fixture);
    server.answer('/api/lists/7', head({ outcomes: [{ key: '@state', hidden: false }, { key: '@next', hidden: true }] })); // prettier-ignore
    await settle(fixture);
    const names = [...host().querySelectorAll('.head .name')].map((n) => n.textContent?.trim());
    expect(names.at(-2)).toBe('state');
    for (let i = 0; i < 4; i++) await press('ArrowRight');
    await press('x');
    expect(document.body.textContent).toContain('What became of people is written by Baton and cannot be edited.');
  });
});
