import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { letterDoc, PLAIN_THEME, type Layout, type LayoutBlock } from '@baton/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { LiveServer, settle, textOf } from '../../testing/live-server';
import { LayoutEditor } from './layout-editor';

let layout: Layout;
let fixture: ComponentFixture<LayoutEditor>;
const host = () => fixture.nativeElement as HTMLElement;
const kinds = () => layout.blocks.map((b) => b.kind);
const bars = () => [...host().querySelectorAll<HTMLElement>('.block')];
const named = (words: string, within: ParentNode = document) =>
  [...within.querySelectorAll<HTMLElement>('button')].find(
    (b) => b.textContent?.trim() === words || b.ariaLabel === words,
  );

async function press(element: HTMLElement | undefined): Promise<void> {
  if (!element) throw new Error('there is nothing to press');
  element.click();
  await settle(fixture);
}

beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  new LiveServer();
  const blocks: LayoutBlock[] = [
    { id: 'h', kind: 'heading', text: 'For {{ company }}', size: 'large' },
    { id: 'l', kind: 'letter' },
    { id: 'b', kind: 'button', text: 'Go', href: '' },
    { id: 'c', kind: 'columns', left: [{ id: 'cl', kind: 'text', doc: letterDoc('left') }], right: [] },
  ];
  layout = { theme: PLAIN_THEME, blocks };
  fixture = TestBed.createComponent(LayoutEditor);
  const set = () => fixture.componentRef.setInput('layout', layout);
  set();
  fixture.componentRef.setInput('letter', letterDoc('Hello'));
  fixture.componentRef.setInput('choices', []);
  fixture.componentRef.setInput('samples', () => []);
  fixture.componentInstance.layoutChange.subscribe((to) => {
    layout = to;
    set();
  });
  await settle(fixture);
});

describe('the blocks of a message', () => {
  it('say what is in them, in words', () => {
    expect(bars().map((b) => b.querySelector('.name')?.textContent?.replace(/\s+/g, ' ').trim())).toEqual([
      'Heading For company',
      'Message text',
      'Button Go (leads nowhere yet)',
      'Two columns',
    ]);
  });

  it('are ordered, doubled and taken out; the text itself stays', async () => {
    await press(named('Down', bars()[0]));
    expect(kinds()).toEqual(['letter', 'heading', 'button', 'columns']);
    bars()[2]
      ?.querySelector('.name')
      ?.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', altKey: true }));
    await settle(fixture);
    expect(kinds()).toEqual(['letter', 'button', 'heading', 'columns']);
    await press(named('Duplicate', bars()[3]));
    expect(kinds()).toEqual(['letter', 'button', 'heading', 'columns', 'columns']);
    expect(new Set(layout.blocks.map((b) => b.id)).size).toBe(5);
    await press(named('Delete', bars()[1]));
    expect(kinds()).not.toContain('button');
    expect(named('Delete', bars()[0])).toBeUndefined();
  });

  it('are added behind the open one, and opened', async () => {
    await press(bars()[0]?.querySelector<HTMLElement>('.name') ?? undefined);
    await press(named('Add a block ▾'));
    await press(named('Space'));
    expect(kinds()).toEqual(['heading', 'space', 'letter', 'button', 'columns']);
    const height = host().querySelector<HTMLInputElement>('.open input[type=number]') as HTMLInputElement;
    height.value = '40';
    height.dispatchEvent(new Event('change'));
    await settle(fixture);
    expect(layout.blocks[1]).toMatchObject({ kind: 'space', height: 40 });
  });

  it('hold blocks side by side, which come and go', async () => {
    await press(bars()[3]?.querySelector<HTMLElement>('.name') ?? undefined);
    await press(named('+ Button', [...host().querySelectorAll('.side')][1]));
    expect(layout.blocks[3]).toMatchObject({ right: [{ kind: 'button', text: 'Tell me more' }] });
    expect(textOf(fixture)).toContain('Link');
    await press(named('Delete', [...host().querySelectorAll('.part')][0]));
    expect(layout.blocks[3]).toMatchObject({ left: [], right: [{ kind: 'button' }] });
  });

  it('have one look together', async () => {
    const colour = host().querySelector<HTMLInputElement>('input[type=color]') as HTMLInputElement;
    colour.value = '#112233';
    colour.dispatchEvent(new Event('change'));
    const font = host().querySelector('.looks select') as HTMLSelectElement;
    font.value = 'serif';
    font.dispatchEvent(new Event('change'));
    await settle(fixture);
    expect(layout.theme).toMatchObject({ ground: '#112233', font: 'serif' });
  });
});
