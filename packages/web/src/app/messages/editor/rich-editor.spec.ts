import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { letterDoc, richText, type RichDoc } from '@baton/core';
import type { Editor } from '@tiptap/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { addressOf } from '../../live/addresses';
import { LiveServer, settle } from '../../testing/live-server';
import { lineContent } from './field-nodes';
import { lineText, RichEditor } from './rich-editor';

const CHOICES = [
  { name: 'given name', sample: 'Ana' },
  { name: 'company', sample: 'Holm Vines' },
  { name: 'compost', sample: '' },
  { name: 'acres', sample: '34' },
];

let changes: RichDoc[];

async function open(text: string, over: Record<string, unknown> = {}): Promise<ComponentFixture<RichEditor>> {
  const fixture = TestBed.createComponent(RichEditor);
  const inputs = { label: 'Message', doc: letterDoc(text), choices: CHOICES, ...over };
  for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
  fixture.componentInstance.docChange.subscribe((doc) => changes.push(doc));
  await settle(fixture);
  return fixture;
}
const openLine = (text: string) => open('', { doc: lineContent(text), singleLine: true });
const editorOf = (fixture: ComponentFixture<RichEditor>): Editor => {
  const editor = fixture.componentInstance.commands;
  if (!editor) throw new Error('the editor has not started');
  return editor;
};
const box = (fixture: ComponentFixture<unknown>): HTMLElement =>
  (fixture.nativeElement as HTMLElement).querySelector('[role=textbox]') as HTMLElement;
const chips = (fixture: ComponentFixture<unknown>): (string | null)[] =>
  [...box(fixture).querySelectorAll('.chip b')].map((chip) => chip.textContent);
const offered = (): (string | null)[] =>
  [...document.querySelectorAll('.picker [role=option] b')].map((name) => name.textContent);

/** Types at the caret, one letter after another, as the browser hands letters to the editor. */
async function type(fixture: ComponentFixture<RichEditor>, text: string): Promise<void> {
  const { view } = editorOf(fixture);
  for (const letter of text) {
    const { from, to } = view.state.selection;
    const insert = () => view.state.tr.insertText(letter, from, to);
    if (!view.someProp('handleTextInput', (take) => take(view, from, to, letter, insert))) view.dispatch(insert());
  }
  await settle(fixture);
}

/** @returns whether the editor took the key for itself */
async function press(fixture: ComponentFixture<RichEditor>, key: string): Promise<boolean> {
  const { view } = editorOf(fixture);
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true });
  const taken = view.someProp('handleKeyDown', (take) => take(view, event)) === true;
  await settle(fixture);
  return taken;
}
const toEnd = (fixture: ComponentFixture<RichEditor>) => editorOf(fixture).commands.setTextSelection(100_000);
const last = (): RichDoc => changes.at(-1) as RichDoc;

beforeEach(() => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  changes = [];
  // jsdom has no events of the clipboard, and lays nothing out: the place of the caret is asked of ranges, which have no rectangles there.
  const nowhere = () => [new DOMRect(0, 0, 0, 0)] as unknown as DOMRectList;
  Object.assign(globalThis, { ClipboardEvent: Event });
  Object.assign(Range.prototype, { getClientRects: nowhere, getBoundingClientRect: () => new DOMRect(0, 0, 0, 0) });
});

describe('a text being written', () => {
  it('is told as it is typed, and is not reset by hearing of itself', async () => {
    const fixture = await open('Hello');
    toEnd(fixture);
    await type(fixture, ' you');
    expect(changes.map((doc) => richText(doc))).toEqual(['Hello ', 'Hello y', 'Hello yo', 'Hello you']);
    const caret = editorOf(fixture).state.selection.from;
    fixture.componentRef.setInput('doc', last());
    await settle(fixture);
    expect(editorOf(fixture).state.selection.from).toBe(caret);
    expect(changes).toHaveLength(4);
  });

  it('shows what came from elsewhere, and does not tell it as a change', async () => {
    const fixture = await open('Hello');
    fixture.componentRef.setInput('doc', letterDoc('Good morning {{ company }}'));
    await settle(fixture);
    expect(box(fixture).textContent).toBe('Good morning company');
    expect(changes).toEqual([]);
  });

  it('is named for those who cannot see it, and has a hint while it is empty', async () => {
    const fixture = await open('', { placeholder: 'Write your message' });
    expect(box(fixture).getAttribute('aria-label')).toBe('Message');
    expect(box(fixture).getAttribute('aria-multiline')).toBe('true');
    expect(box(fixture).querySelector('.hint')?.getAttribute('data-hint')).toBe('Write your message');
    await type(fixture, 'H');
    expect(box(fixture).querySelector('.hint')).toBeNull();
  });

  it('finds a piece of itself and selects it, to be seen and changed', async () => {
    const fixture = await open('Hello {{ company }},\n\nwith your old vines');
    const { componentInstance } = fixture;
    // jsdom cannot scroll.
    Element.prototype.scrollIntoView = () => undefined;
    expect(componentInstance.find('old vines')).toBe(true);
    const { from, to } = editorOf(fixture).state.selection;
    expect(editorOf(fixture).state.doc.textBetween(from, to)).toBe('old vines');
    expect(componentInstance.find('new vines')).toBe(false);
    expect(componentInstance.find('')).toBe(false);
  });
});

describe('fields in a text', () => {
  it('are chips, marked where the list has no such field, whichever way they are spelt', async () => {
    const fixture = await open('{{ given_name }} of {{ Company }} in {{ county }}');
    const marked = [...box(fixture).querySelectorAll('.chip')].map((chip) => chip.classList.contains('unknown'));
    expect(chips(fixture)).toEqual(['given name', 'Company', 'county']);
    expect(marked).toEqual([false, false, true]);
    fixture.componentRef.setInput('choices', [...CHOICES, { name: 'County', sample: '' }]);
    await settle(fixture);
    expect(box(fixture).querySelectorAll('.unknown')).toHaveLength(0);
  });

  it('become chips when their last brace is typed, with the fallback typed with them', async () => {
    const fixture = await open('', { choices: [] });
    await type(fixture, 'For {{ company | default: "you" }}');
    expect(chips(fixture)).toEqual(['company']);
    expect(richText(last())).toBe('For {{ company | default: "you" }}');
  });

  it('are offered while they are typed, those that begin so first, and taken with Enter', async () => {
    const fixture = await open('');
    await type(fixture, 'For {{com');
    expect(offered()).toEqual(['company', 'compost']);
    await press(fixture, 'ArrowDown');
    expect(document.querySelector('.picker [aria-selected=true] b')?.textContent).toBe('compost');
    await press(fixture, 'ArrowDown');
    expect(await press(fixture, 'Enter')).toBe(true);
    expect(chips(fixture)).toEqual(['company']);
    expect(richText(last())).toBe('For {{ company }}');
    expect(offered()).toEqual([]);
  });

  it('are taken with the braces that close them, where these are there already', async () => {
    const fixture = await open('For {{ ac }} of kelp', { choices: [] });
    // Without fields to choose from nothing is offered; with them, from the next letter on.
    fixture.componentRef.setInput('choices', CHOICES);
    editorOf(fixture).commands.setContent({
      type: 'doc',
      content: [{ type: 'paragraph', content: [{ type: 'text', text: 'For {{ a }} of kelp' }] }],
    });
    editorOf(fixture).commands.setTextSelection(9);
    await type(fixture, 'c');
    expect(offered()).toEqual(['acres']);
    await press(fixture, 'Tab');
    expect(richText(last())).toBe('For {{ acres }} of kelp');
  });

  it('that the list has not are answered with the nearest names', async () => {
    const fixture = await open('');
    await type(fixture, '{{ compnay');
    expect(document.querySelector('.picker p')?.textContent).toContain('compnay');
    expect(offered()[0]).toBe('company');
    await press(fixture, 'Escape');
    expect(offered()).toEqual([]);
  });

  it('are put in by the tools: a greeting that falls back whole, a picture', async () => {
    const fixture = await open('');
    fixture.componentInstance.insertGreeting();
    expect(richText(last())).toBe('{% if given_name %}Hello {{ given name }},{% else %}Hello,{% endif %}');
    fixture.componentInstance.insertImage({ src: 'asset:7', alt: 'A kelp farm', width: 300 });
    expect(last().content).toContainEqual({
      type: 'image',
      attrs: { src: 'asset:7', alt: 'A kelp farm', width: 300 },
    });
    expect(box(fixture).querySelector('img[data-src]')?.getAttribute('src')).toBe(addressOf.asset(7));
  });

  it('open their panel from the keyboard, and closing it leaves the text as it was', async () => {
    const fixture = await open('{{ company }} grows');
    editorOf(fixture).commands.setNodeSelection(1);
    expect(await press(fixture, 'Enter')).toBe(true);
    expect(document.querySelector('bt-chip-panel')).not.toBeNull();
    (document.querySelector('.cdk-overlay-backdrop') as HTMLElement).click();
    await settle(fixture);
    expect(document.querySelector('bt-chip-panel')).toBeNull();
    expect(changes).toEqual([]);
  });
});

describe('links and conditions in a text', () => {
  it('never lead to a script', async () => {
    const fixture = await open('Look here');
    editorOf(fixture).commands.selectAll();
    editorOf(fixture).commands.setLink({ href: 'javascript:alert(1)' });
    expect(box(fixture).querySelector('a')).toBeNull();
    editorOf(fixture).commands.setLink({ href: 'https://tidewaterkelp.example/{{ company }}' });
    await settle(fixture);
    expect(richText(last())).toBe('Look here: https://tidewaterkelp.example/{{ company }}');
  });

  it('are said in words beside the condition', async () => {
    const fixture = await open('{% if acres %}With your acres{% endif %}');
    const does = [...box(fixture).querySelectorAll('.condition')].map((c) => c.getAttribute('data-does'));
    expect(does).toHaveLength(2);
    expect(does[0]).toContain('acres');
  });
});

describe('a single line', () => {
  it('stays one line, whatever is pressed or pasted', async () => {
    const fixture = await openLine('Kelp for {{ company }}');
    toEnd(fixture);
    expect(await press(fixture, 'Enter')).toBe(true);
    editorOf(fixture).view.pasteText('?\r\nAnd for\n\nyou');
    await settle(fixture);
    expect(lineText(last())).toBe('Kelp for {{ company }}? And for you');
    expect(box(fixture).querySelectorAll('p')).toHaveLength(1);
    expect(box(fixture).getAttribute('aria-multiline')).toBe('false');
  });

  it('takes no form, only words and fields', async () => {
    const fixture = await openLine('');
    editorOf(fixture).view.pasteHTML(
      '<h1>Kelp <b>for</b> <a href="https://x.example">you</a></h1><ul><li>one</li></ul>',
    );
    await settle(fixture);
    expect(box(fixture).querySelector('h1, b, a, ul')).toBeNull();
    expect(lineText(last())).toContain('Kelp for you');
  });

  it('is read as it was written, with fields, their fallbacks and ways of writing', () => {
    for (const line of [
      '',
      'Kelp',
      '{{ company | upcase | default: "you" }}: hello',
      'a {{ given name }} b {{ acres }}',
    ])
      expect(lineText(lineContent(line))).toBe(line);
  });
});
