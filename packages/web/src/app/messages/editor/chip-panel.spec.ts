import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { EitherNode, FieldNode } from '@baton/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { LiveServer, settle, textOf } from '../../testing/live-server';
import { ChipPanel } from './chip-panel';
import { isKnown, matching, nearest } from './field-choice';

const choices = ['given name', 'company', 'acres'].map((name) => ({ name, sample: '' }));
let changed: unknown[];
let removed: number;

async function open(node: FieldNode | EitherNode): Promise<ComponentFixture<ChipPanel>> {
  const fixture = TestBed.createComponent(ChipPanel);
  fixture.componentRef.setInput('node', node);
  fixture.componentRef.setInput('choices', choices);
  fixture.componentInstance.changed.subscribe((attrs) => changed.push(attrs));
  fixture.componentInstance.removed.subscribe(() => removed++);
  await settle(fixture);
  return fixture;
}
const all = <E extends HTMLElement>(fixture: ComponentFixture<unknown>, selector: string): E[] => [
  ...(fixture.nativeElement as HTMLElement).querySelectorAll<E>(selector),
];
const button = (fixture: ComponentFixture<unknown>, words: string) =>
  all<HTMLButtonElement>(fixture, 'button').find((b) => b.textContent?.includes(words)) as HTMLButtonElement;
async function put(
  fixture: ComponentFixture<unknown>,
  element: HTMLInputElement | HTMLSelectElement | undefined,
  value: string,
) {
  if (!element) throw new Error('there is nothing to write into');
  element.value = value;
  element.dispatchEvent(new Event(element.tagName === 'SELECT' ? 'change' : 'input'));
  await settle(fixture);
}
const field = (over: Partial<FieldNode['attrs']> = {}): FieldNode => ({
  type: 'field',
  attrs: { name: 'company', fallback: null, filters: '', ...over },
});

beforeEach(() => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  [changed, removed] = [[], 0];
});

describe('a field’s panel', () => {
  it('gives a fallback, a way of writing, and another field', async () => {
    const fixture = await open(field());
    expect(all<HTMLInputElement>(fixture, 'input')[0]?.placeholder).toBe('none: the person is left out');
    await put(fixture, all<HTMLInputElement>(fixture, 'input')[0], 'your vines');
    const [name, way] = all<HTMLSelectElement>(fixture, 'select');
    await put(fixture, way, 'upcase');
    await put(fixture, name, 'acres');
    button(fixture, 'Save').click();
    expect(changed).toEqual([{ name: 'acres', fallback: 'your vines', filters: 'upcase' }]);
  });

  it('takes a fallback away again, which is other than an empty one', async () => {
    const fixture = await open(field({ fallback: '' }));
    expect(all<HTMLInputElement>(fixture, 'input')[0]?.placeholder).toBe('nothing');
    all<HTMLInputElement>(fixture, '.check input')[0]?.click();
    await settle(fixture);
    button(fixture, 'Save').click();
    expect(changed).toEqual([{ name: 'company', fallback: null, filters: '' }]);
  });

  it('offers the field that was meant, and keeps a filter it has no words for', async () => {
    const fixture = await open(field({ name: 'compnay', filters: 'truncate: 5' }));
    expect(textOf(fixture)).toContain('truncate: 5');
    button(fixture, 'Use “company” instead').click();
    await settle(fixture);
    button(fixture, 'Save').click();
    expect(changed).toEqual([{ name: 'company', fallback: null, filters: 'truncate: 5' }]);
    button(fixture, 'Delete').click();
    expect(removed).toBe(1);
  });

  it('changes both texts of a choice', async () => {
    const fixture = await open({
      type: 'either',
      attrs: { field: 'given name', filled: 'Hello {{ given name }},', blank: 'Hello,' },
    });
    await put(fixture, all<HTMLInputElement>(fixture, 'input')[1], 'Good day,');
    button(fixture, 'Save').click();
    expect(changed).toEqual([{ field: 'given name', filled: 'Hello {{ given name }},', blank: 'Good day,' }]);
  });
});

describe('choices of fields', () => {
  it('are found in any spelling, those that begin so first', () => {
    const more = [...choices, { name: 'name of estate', sample: '' }];
    expect(matching(more, 'NAME').map((c) => c.name)).toEqual(['name of estate', 'given name']);
    expect(matching(more, 'given_n').map((c) => c.name)).toEqual(['given name']);
    // What the list has not offers what is nearest to it.
    expect(matching(more, 'givne name')).toEqual([]);
    expect(nearest(more, 'givne name', 3).map((c) => c.name)).toEqual(['given name']);
    expect(nearest(more, 'zzzzzz', 3)).toEqual([]);
    expect(isKnown(choices, 'First Name')).toBe(true);
    expect(isKnown(choices, 'frist name')).toBe(false);
    expect(isKnown([], 'anything')).toBe(true);
  });
});
