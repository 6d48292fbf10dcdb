import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { Type } from '@angular/core';
import type { ListHead, ListView } from '@baton/contract';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveServer, settle, textOf } from '../../testing/live-server';
import { AskName } from '../../look/ask-name';
import { CombineLists } from './combine-lists';
import { FeedList } from './feed-list';

const list = (id: number, name: string): ListView => ({
  id,
  name,
  source: 'x.csv',
  createdAt: 0,
  people: 10,
  aside: 0,
});
const close = vi.fn();
let server: LiveServer;

async function open<T>(dialog: Type<T>, data: unknown): Promise<ComponentFixture<T>> {
  TestBed.configureTestingModule({
    providers: [
      ...LiveServer.providers(),
      { provide: MAT_DIALOG_DATA, useValue: data },
      { provide: MatDialogRef, useValue: { close } },
    ],
  });
  server = new LiveServer();
  const fixture = TestBed.createComponent(dialog);
  await settle(fixture);
  return fixture;
}

const all = <E extends HTMLElement>(fixture: ComponentFixture<unknown>, selector: string) => [
  ...(fixture.nativeElement as HTMLElement).querySelectorAll<E>(selector),
];
const button = (fixture: ComponentFixture<unknown>, words: RegExp) =>
  all<HTMLButtonElement>(fixture, 'button').find((b) => words.test(b.textContent ?? '')) as HTMLButtonElement;

async function write(fixture: ComponentFixture<unknown>, input: HTMLInputElement | undefined, value: string) {
  (input as HTMLInputElement).value = value;
  input?.dispatchEvent(new Event('input'));
  await settle(fixture);
}

beforeEach(() => close.mockReset());

describe('asking for a name', () => {
  it('closes with the name, trimmed, and takes no blank one', async () => {
    const fixture = await open(AskName, { title: 'Name of the list', value: 'Growers', label: 'Rename' });
    const input = all<HTMLInputElement>(fixture, 'input')[0];
    // What is typed takes the place of the name that is there.
    input?.dispatchEvent(new Event('focus'));
    expect([input?.selectionStart, input?.selectionEnd]).toEqual([0, 'Growers'.length]);
    await write(fixture, input, '   ');
    expect(button(fixture, /Rename/).disabled).toBe(true);
    input?.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter' }));
    expect(close).not.toHaveBeenCalled();
    await write(fixture, input, ' Coast growers ');
    button(fixture, /Rename/).click();
    expect(close).toHaveBeenCalledWith('Coast growers');
  });
});

describe('combining lists', () => {
  it('names the new list by what is chosen, in its order, and asks for it', async () => {
    const fixture = await open(CombineLists, [list(1, 'Vineyards'), list(2, 'Orchards'), list(3, 'Gardens')]);
    const [, orchards, gardens] = all<HTMLInputElement>(fixture, 'input[type=checkbox]');
    gardens?.click();
    await settle(fixture);
    expect(button(fixture, /Create the list/).disabled).toBe(true);
    orchards?.click();
    all<HTMLInputElement>(fixture, 'input[type=radio]')[2]?.click();
    await settle(fixture);
    expect(all<HTMLInputElement>(fixture, '.name input')[0]?.value).toBe('Gardens without Orchards');
    expect(all(fixture, 'b').map((b) => b.textContent)).toEqual(['', '2', '1']);
    button(fixture, /Create the list/).click();
    const asked = server.http.expectOne('/api/lists/combine');
    expect(asked.request.body).toEqual({ name: 'Gardens without Orchards', how: 'difference', listIds: [3, 2] });
    asked.flush({ listId: 9 });
    expect(close).toHaveBeenCalledWith(9);
  });
});

describe('feeding a list', () => {
  const head = { list: list(7, 'Growers'), feed: null } as unknown as ListHead;

  it('asks for what was chosen; a private address only for an address', async () => {
    const fixture = await open(FeedList, head);
    const [from, look] = all<HTMLSelectElement>(fixture, 'select');
    (from as HTMLSelectElement).value = 'url';
    from?.dispatchEvent(new Event('change'));
    (look as HTMLSelectElement).value = '1440';
    look?.dispatchEvent(new Event('change'));
    await settle(fixture);
    all<HTMLInputElement>(fixture, '.check input')[0]?.click();
    await write(fixture, all<HTMLInputElement>(fixture, 'input')[0], ' https://files.tidewaterkelp.example/g.csv ');
    button(fixture, /Check now, and every day/).click();
    const asked = server.http.expectOne('/api/lists/7/feed');
    expect(asked.request.body).toEqual({
      kind: 'url',
      place: 'https://files.tidewaterkelp.example/g.csv',
      how: 'update',
      everyMinutes: 1440,
      allowPrivate: true,
    });
    asked.flush({});
    await settle(fixture);
    expect(close).toHaveBeenCalled();
  });

  it('says what the look found wrong, and stays open', async () => {
    const fixture = await open(FeedList, head);
    await write(fixture, all<HTMLInputElement>(fixture, 'input')[0], '/nowhere');
    button(fixture, /Check now/).click();
    server.refuse('/api/lists/7/feed', 422, 'There is no folder /nowhere on this machine.');
    await settle(fixture);
    expect(textOf(fixture)).toContain('There is no folder /nowhere on this machine.');
    expect(close).not.toHaveBeenCalled();
  });

  it('stops a feed that is there', async () => {
    const feed = { kind: 'folder', place: '/lists', how: 'add', everyMinutes: 15, allowPrivate: false, found: '3 new' };
    const fixture = await open(FeedList, { ...head, feed });
    expect(textOf(fixture)).toContain('Last check: 3 new');
    button(fixture, /Stop automatic import/).click();
    expect(server.http.expectOne('/api/lists/7/feed').request.method).toBe('DELETE');
  });
});
