import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { AudiencePart } from '@baton/contract';
import { WHOLE_LIST } from '@baton/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { settle } from '../testing/live-server';
import { AudienceParts } from './audience-parts';

const list = (id: number, name: string, people: number) => ({ id, name, people, source: '', createdAt: 0, aside: 0 });

let fixture: ComponentFixture<AudienceParts>;
let emitted: AudiencePart[][];
const host = () => fixture.nativeElement as HTMLElement;
const select = () => host().querySelector('select') as HTMLSelectElement;
const show = async (parts: AudiencePart[], taken: AudiencePart[] = []) => {
  const inputs = { label: 'Also people of', parts, taken, lists: [list(1, 'Vines', 1326), list(2, 'Orchards', 95)] };
  for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
  fixture.componentRef.setInput('segments', [{ id: 9, listId: 2, name: 'North', query: WHOLE_LIST, people: 40 }]);
  await settle(fixture);
};

beforeEach(() => {
  fixture = TestBed.createComponent(AudienceParts);
  emitted = [];
  fixture.componentInstance.changed.subscribe((parts) => emitted.push(parts));
});

describe('further lists of an audience', () => {
  it('offers lists and their segments, without what is chosen elsewhere', async () => {
    await show([], [{ listId: 1, segmentId: null }]);
    expect([...select().options].map((o) => o.text)).toEqual([
      'no other list',
      'Orchards (95)',
      'Orchards: North (40)',
    ]);
    select().value = '2/9';
    select().dispatchEvent(new Event('change'));
    expect(emitted).toEqual([[{ listId: 2, segmentId: 9 }]]);
  });

  it('names what is chosen, a list that is gone too, and takes each out again', async () => {
    const [orchards, gone] = [
      { listId: 2, segmentId: null },
      { listId: 7, segmentId: null },
    ];
    await show([orchards, gone]);
    expect([...host().querySelectorAll('.part > span')].map((s) => s.textContent)).toEqual([
      'Orchards (95)',
      'a list that has been deleted',
    ]);
    const buttons = [...host().querySelectorAll('button')];
    expect(buttons.map((b) => b.getAttribute('aria-label'))).toEqual([
      'Remove Orchards (95)',
      'Remove a list that has been deleted',
    ]);
    buttons[0]!.click();
    expect(emitted).toEqual([[gone]]);
  });

  it('has no more of them than a campaign takes', async () => {
    await show(Array.from({ length: 20 }, (_, i) => ({ listId: i + 10, segmentId: null })));
    expect(select().disabled).toBe(true);
  });
});
