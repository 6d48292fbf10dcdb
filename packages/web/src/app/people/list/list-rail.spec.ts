import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { Router } from '@angular/router';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveServer, settle, textOf } from '../../testing/live-server';
import { ListRail } from './list-rail';

let server: LiveServer;
let fixture: ComponentFixture<ListRail>;
const list = (id: number, name: string, people: number) => ({ id, name, source: 'x', createdAt: 0, people, aside: 0 });
const links = () =>
  [...(fixture.nativeElement as HTMLElement).querySelectorAll('a.item')].map((a) => a.textContent?.trim());

beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(ListRail);
  await settle(fixture);
  server.answer('/api/lists', [list(1, 'Vineyards', 312), list(2, 'Orchards', 1200)]);
  server.answer('/api/segments', [{ id: 5, listId: 2, name: 'Up north', people: 40, query: null }]);
  server.answer('/api/lists/removed', [{ ...list(3, 'Old fair', 9), removedAt: 1 }]);
  server.answer('/api/suppressions', { total: 2, found: 2, entries: [] });
  server.answer('/api/large-imports', [
    { id: 8, name: 'large.csv', state: 'taking', progress: { step: 'reading', rows: 10, share: 0.428 } },
  ]);
  await settle(fixture);
});

describe('the lists beside the sheet', () => {
  it('names each list with its people, its segments under it, and what is being brought in', () => {
    expect(links()).toEqual(['large.csv 42 %', 'Vineyards 312', 'Orchards 1,200', 'Up north 40', 'Suppression list 2']);
    expect(textOf(fixture)).toContain('Deleted (1)');
  });

  it('follows an import without being asked', async () => {
    server.tell('imports');
    await settle(fixture);
    server.answer('/api/large-imports', [{ id: 8, name: 'large.csv', state: 'failed', progress: null }]);
    await settle(fixture);
    expect(links()[0]).toBe('large.csv failed');
  });

  it('brings a deleted list back and goes there', async () => {
    const navigate = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    (fixture.nativeElement as HTMLElement).querySelector<HTMLButtonElement>('.choice')?.click();
    server.answer('/api/lists/3/restore', {});
    await settle(fixture);
    expect(navigate).toHaveBeenCalledWith(['/people', 3]);
  });
});
