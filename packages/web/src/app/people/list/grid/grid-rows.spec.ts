import { TestBed } from '@angular/core/testing';
import type { PersonRow } from '@baton/contract';
import { WHOLE_LIST } from '@baton/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Notices } from '../../../live/notices';
import { LiveServer } from '../../../testing/live-server';
import { GridRows } from './grid-rows';

const person = (rowId: number, region = 'North'): PersonRow => ({
  ...{ rowId, contactId: rowId, address: `p${rowId}@grove.example`, zone: null, notes: [] },
  fields: { region },
});
const people = (from: number, to: number) => Array.from({ length: to - from }, (_, i) => person(from + i));
const bytes = (ids: readonly number[]) => Int32Array.from(ids).buffer;
const asked = { query: WHOLE_LIST, removed: false };
const turn = () => new Promise((resolve) => setTimeout(resolve));

let server: LiveServer;
let rows: GridRows;
const failure = vi.fn();

/** Answers the two questions that begin a list: its first rows, and the order of all. */
async function answerOpening(list: number, first: PersonRow[], ids: readonly number[]): Promise<void> {
  server.answer(`/api/lists/${list}/rows`, first);
  await turn();
  for (const r of server.http.match(`/api/lists/${list}/row-ids`)) if (!r.cancelled) r.flush(bytes(ids));
  await turn();
}

beforeEach(() => {
  failure.mockReset();
  TestBed.configureTestingModule({
    providers: [...LiveServer.providers(), GridRows, { provide: Notices, useValue: { failure } }],
  });
  server = new LiveServer();
  rows = TestBed.inject(GridRows);
});

describe('the rows of a list', () => {
  it('show first ones before the order of all is known', async () => {
    void rows.open(7, asked);
    server.answer('/api/lists/7/rows', people(1, 101));
    await turn();
    expect(rows.ids()).toHaveLength(100);
    expect(rows.isWhole()).toBe(false);
    expect(rows.row(0)?.address).toBe('p1@grove.example');
    for (const r of server.http.match('/api/lists/7/row-ids')) r.flush(bytes(people(1, 301).map((p) => p.rowId)));
    await turn();
    expect(rows.ids()).toHaveLength(300);
    expect(rows.isWhole()).toBe(true);
  });

  it('are asked for once, as they come into view', async () => {
    void rows.open(7, asked);
    await answerOpening(7, people(1, 101), people(1, 301).map((p) => p.rowId)); // prettier-ignore
    rows.want(90, 140);
    rows.want(95, 145);
    const requests = server.http.match('/api/lists/7/rows-by-id').map((r) => r.request.body as { rows: number[] });
    expect(requests.map((r) => r.rows.length)).toEqual([40, 5]);
    rows.want(0, 140);
    server.http.expectNone('/api/lists/7/rows-by-id');
  });

  it('are all fetched where something needs them, in pieces', async () => {
    void rows.open(7, asked);
    await answerOpening(7, people(1, 101), people(1, 451).map((p) => p.rowId)); // prettier-ignore
    const all = rows.load(0, 450);
    for (const [from, to] of [
      [101, 301],
      [301, 451],
    ] as const) {
      expect(server.answer('/api/lists/7/rows-by-id', people(from, to))).toBe(1);
      await turn();
    }
    expect(await all).toHaveLength(450);
  });

  it('forget those of another list, and an answer that comes too late', async () => {
    void rows.open(7, asked);
    const late = server.http.expectOne('/api/lists/7/rows');
    const lateIds = server.http.expectOne('/api/lists/7/row-ids');
    void rows.open(8, asked);
    await answerOpening(8, people(500, 502), [500, 501]);
    late.flush(people(1, 101));
    await turn();
    if (!lateIds.cancelled) lateIds.flush(bytes([1, 2, 3]));
    await turn();
    expect([...rows.ids()]).toEqual([500, 501]);
    expect(rows.row(0)?.rowId).toBe(500);
  });

  it('show what was typed before the server has answered', async () => {
    void rows.open(7, asked);
    await answerOpening(7, people(1, 3), [1, 2]);
    rows.show(1, 'region', 'South');
    rows.show(2, '@address', 'bo@grove.example');
    rows.show(99, 'region', 'West');
    expect(rows.row(0)?.fields).toEqual({ region: 'South' });
    expect(rows.row(1)?.address).toBe('bo@grove.example');
  });

  it('say what went wrong, and are asked for again', async () => {
    void rows.open(7, asked);
    await answerOpening(7, people(1, 101), people(1, 121).map((p) => p.rowId)); // prettier-ignore
    rows.want(100, 120);
    server.refuse('/api/lists/7/rows-by-id', 503, 'The database does not answer.');
    await turn();
    expect(failure).toHaveBeenCalledOnce();
    rows.want(100, 120);
    expect(server.answer('/api/lists/7/rows-by-id', people(101, 121))).toBe(1);
    await turn();
    expect(rows.row(119)?.rowId).toBe(120);
  });
});
