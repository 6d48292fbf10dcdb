import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { settle } from '../testing/live-server';
import { FieldEditor } from './field-editor';

let fixture: ComponentFixture<FieldEditor>;
let area: HTMLTextAreaElement;
beforeEach(async () => {
  TestBed.configureTestingModule({ providers: [provideZonelessChangeDetection()] });
  // jsdom has no editing commands; the editor then writes into the field itself.
  document.execCommand = () => false;
  fixture = TestBed.createComponent(FieldEditor);
  fixture.componentRef.setInput('text', '');
  fixture.componentRef.setInput('label', 'Message');
  fixture.componentRef.setInput('fields', [
    { name: 'given name', sample: 'Odile' },
    { name: 'company', sample: 'Cedar' },
  ]);
  await settle(fixture);
  area = (fixture.nativeElement as HTMLElement).querySelector('textarea') as HTMLTextAreaElement;
});

async function type(text: string): Promise<void> {
  area.value = text;
  area.setSelectionRange(text.length, text.length);
  area.dispatchEvent(new Event('input'));
  await settle(fixture);
}
async function press(key: string): Promise<KeyboardEvent> {
  const event = new KeyboardEvent('keydown', { key, cancelable: true });
  area.dispatchEvent(event);
  await settle(fixture);
  return event;
}
const picker = () =>
  [...(fixture.nativeElement as HTMLElement).querySelectorAll('[role=option]')].map((o) => o.textContent?.trim());
const kinds = () =>
  [...(fixture.nativeElement as HTMLElement).querySelectorAll('.behind span')].map((s) => [s.className, s.textContent]);

describe('FieldEditor', () => {
  it('opens the picker at {{, narrows it as one types, and puts the field in by key', async () => {
    await type('Hello {{');
    expect(picker()).toHaveLength(2);
    await press('ArrowDown');
    await press('ArrowUp');
    await type('Hello {{ giv');
    expect(picker()).toEqual([expect.stringContaining('Odile')]);
    await press('Enter');
    expect(area.value).toBe('Hello {{ given_name }}');
    expect(fixture.componentInstance.text()).toBe(area.value);
    expect(picker()).toEqual([]);
  });

  it('leaves the picker with Escape, and keys to the text when it is closed', async () => {
    await type('{{');
    expect((await press('Escape')).defaultPrevented).toBe(true);
    expect(picker()).toEqual([]);
    expect((await press('Enter')).defaultPrevented).toBe(false);
  });

  it('marks fields, unknown ones and the place of a fault', async () => {
    await type('{{ Given Name }} {{ colour }} {{ oops');
    fixture.componentRef.setInput('faultAt', 30);
    await settle(fixture);
    expect(kinds()).toEqual(
      expect.arrayContaining([
        ['field', '{{ Given Name }}'],
        ['unknown', '{{ colour }}'],
        ['fault', '{{ oops\n'],
      ]),
    );
  });

  it('knows a field by any usual name for it', async () => {
    await type('{{ Vorname }}');
    expect(kinds()[1]).toEqual(['field', '{{ Vorname }}']);
  });

  it('takes no line break where there is one line', async () => {
    fixture.componentRef.setInput('singleLine', true);
    await settle(fixture);
    expect((await press('Enter')).defaultPrevented).toBe(true);
    await type('pasted\r\nlines');
    expect(fixture.componentInstance.text()).toBe('pasted lines');
  });
});
