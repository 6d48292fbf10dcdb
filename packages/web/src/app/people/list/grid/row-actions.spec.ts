import { Router } from '@angular/router';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { WHOLE_LIST, type ListColumn } from '@baton/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Notices } from '../../../live/notices';
import { LiveServer, settle, PATIENTLY } from '../../../testing/live-server';
import type { Meant } from './picked-rows';
import { RowActions } from './row-actions';

const column = (key: string, over: Partial<ListColumn> = {}): ListColumn => ({
  ...{ name: key, key, role: 'field', kind: 'text', hidden: false, formula: null, verdicts: null },
  ...over,
});
const columns = [
  column('@address', { name: 'address', role: 'address' }),
  column('region'),
  column('greeting', { formula: 'Dear {{ given_name }}' }),
  column('old', { hidden: true }),
];
const three: Meant = { choice: { rows: [1, 2, 3] }, count: 3, words: '3' };

let server: LiveServer;
let fixture: ComponentFixture<RowActions>;
let changed: number;
const notices = { say: vi.fn(), failure: vi.fn() };
const button = (words: RegExp) =>
  [...document.querySelectorAll('button')].find((b) => words.test((b.textContent ?? '').trim()))!;
const panel = () => document.querySelector<HTMLElement>('[role=dialog]');
async function press(words: RegExp): Promise<void> {
  button(words).click();
  await settle(fixture);
}
async function type(text: string): Promise<void> {
  const box = panel()!.querySelector('input')!;
  box.value = text;
  box.dispatchEvent(new Event('input'));
  await settle(fixture);
}
async function show(over: Record<string, unknown> = {}): Promise<void> {
  const inputs = { listId: 7, name: 'Groves', columns, query: WHOLE_LIST, meant: three, removed: false, ...over };
  for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
  await settle(fixture);
}
const body = (path: string) => {
  const request = server.http.expectOne(`/api/lists/7/${path}`);
  return { sent: request.request.body as unknown, answer: (a: unknown) => request.flush(a as object) };
};

beforeEach(async () => {
  document.body.innerHTML = '';
  notices.say.mockReset();
  notices.failure.mockReset();
  changed = 0;
  TestBed.configureTestingModule({
    providers: [...LiveServer.providers(), { provide: Notices, useValue: notices }],
  });
  server = new LiveServer();
  fixture = TestBed.createComponent(RowActions);
  document.body.append(fixture.nativeElement as HTMLElement);
  fixture.componentInstance.changed.subscribe(() => changed++);
  await show();
});

describe('what can be done with rows', () => {
  it('says on every button how many are meant, and offers nothing for none', async () => {
    const words = () => [...document.querySelectorAll('button')].map((b) => b.textContent?.trim());
    expect(words()).toEqual(['Write to 3', 'Tag 3', 'Fill in 3', 'Export 3', 'Remove 3']);
    await show({ meant: { choice: { rows: [] }, count: 0, words: '0' } });
    expect([...document.querySelectorAll('button')].every((b) => b.disabled)).toBe(true);
  });

  it('begins a campaign for them, under a name that is asked for', async () => {
    const opened = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    await press(/^Write to 3$/);
    const box = document.querySelector<HTMLInputElement>('mat-dialog-container input')!;
    expect(box.value).toBe('Groves');
    await press(/^Create$/);
    const request = await vi.waitFor(() => server.http.expectOne('/api/campaigns'), PATIENTLY);
    expect(request.request.body).toEqual({
      ...{ name: 'Groves', from: { kind: 'rows', listId: 7, choice: { rows: [1, 2, 3] } } },
    });
    request.flush({ id: 5 });
    await settle(fixture);
    expect(opened).toHaveBeenCalledWith(['/campaigns', 5]);
  });

  it('makes the column of tags where the list has none, then tags', async () => {
    await press(/^Tag 3$/);
    expect(panel()?.getAttribute('aria-label')).toBe('Tag 3');
    expect(button(/^Add to 3$/).disabled).toBe(true);
    await type(' trial ');
    await press(/^Add to 3$/);
    const added = body('columns');
    expect(added.sent).toMatchObject({ name: 'tags', kind: 'tags' });
    added.answer({});
    const filled = body('fill');
    expect(filled.sent).toEqual({ choice: { rows: [1, 2, 3] }, key: 'tags', fill: { kind: 'tag', value: 'trial' } });
    filled.answer({ changed: 3, refused: [] });
    expect(notices.say).toHaveBeenCalledWith('Added “trial” to 3.');
    expect(changed).toBe(1);
  });

  it('takes a tag off by the column that is there', async () => {
    await show({ columns: [...columns, column('labels', { kind: 'tags' })] });
    await press(/^Tag 3$/);
    await type('trial');
    await press(/^Remove$/);
    expect(body('fill').sent).toMatchObject({ key: 'labels', fill: { kind: 'untag', value: 'trial' } });
  });

  it('fills in a column that may be written, with nothing as well', async () => {
    await press(/^Fill in 3$/);
    expect([...panel()!.querySelectorAll('option')].map((o) => o.value)).toEqual(['region']);
    await press(/^Clear it in 3$/);
    const filled = body('fill');
    expect(filled.sent).toMatchObject({ key: 'region', fill: { kind: 'set', value: '' } });
    filled.answer({ changed: 3, refused: [] });
    expect(notices.say).toHaveBeenCalledWith('Filled in region for 3.');
  });

  it.each([
    [1, 0, 'Removed from the list: 1 person. Ctrl+Z restores them.'],
    [3, 0, 'Removed from the list: 3 people. Ctrl+Z restores them.'],
    [
      3,
      2,
      'Removed from the list: 3 people. Ctrl+Z restores them. A campaign still writes to 2 of them; hold it or stop them there.',
    ],
  ])('removes %i, of whom a campaign still writes to %i, and says so', async (count, stillWrittenTo, words) => {
    await show({ meant: { choice: { rows: [1] }, count, words: String(count) } });
    await press(/^Remove \d/);
    body('remove-rows').answer({ changed: count, refused: [], stillWrittenTo });
    expect(notices.say).toHaveBeenCalledWith(words);
    expect(changed).toBe(1);
  });

  it('restores, and says what could not be restored', async () => {
    await show({ removed: true });
    await press(/^Restore 3$/);
    const refused = [
      { rowId: 1, reason: 'ana@grove.example is on the list again' },
      { rowId: 2, reason: 'bo@grove.example is on the list again' },
    ];
    body('restore-rows').answer({ changed: 1, refused });
    expect(notices.say).toHaveBeenCalledWith('1 restored; ana@grove.example is on the list again and 1 more.');
  });

  it('says what went wrong, and changes nothing', async () => {
    await press(/^Remove 3$/);
    server.refuse('/api/lists/7/remove-rows', 409, 'The list has changed.');
    expect(notices.failure).toHaveBeenCalledOnce();
    expect(changed).toBe(0);
  });

  it('closes its panel on Escape, with nothing done', async () => {
    await press(/^Tag 3$/);
    panel()!.dispatchEvent(new KeyboardEvent('keydown', { key: 'Escape' }));
    await settle(fixture);
    expect(panel()).toBeNull();
    server.http.expectNone('/api/lists/7/fill');
  });
});
