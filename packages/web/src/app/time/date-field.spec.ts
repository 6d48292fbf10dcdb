import { ChangeDetectionStrategy, Component, signal, viewChild } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { LiveServer, settle, SHELL, textOf } from '../testing/live-server';
import { DateField } from './date-field';

@Component({
  imports: [DateField],
  template: `<bt-date-field label="Start" [min]="min()" [value]="day()" (changed)="take($event)" />`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
class Page {
  readonly min = signal('');
  readonly day = signal('2026-12-24');
  readonly field = viewChild.required(DateField);
  readonly taken: string[] = [];
  take(day: string): void {
    this.taken.push(day);
    this.day.set(day);
  }
}

let fixture: ComponentFixture<Page>;
let page: Page;
const box = () => (fixture.nativeElement as HTMLElement).querySelector('input')!;
async function type(text: string): Promise<void> {
  box().value = text;
  box().dispatchEvent(new Event('input'));
  box().dispatchEvent(new Event('change'));
  box().dispatchEvent(new Event('blur'));
  await settle(fixture);
}
const cells = () => [...document.querySelectorAll<HTMLElement>('.mat-calendar-body-cell')];

beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  const server = new LiveServer();
  fixture = TestBed.createComponent(Page);
  page = fixture.componentInstance;
  await settle(fixture);
  server.answer('/api/shell', SHELL);
  await settle(fixture);
});

describe('a field for a day', () => {
  it('shows the day as every day is shown, never in figures alone', () => {
    expect(box().value).toBe('Thu 24 Dec 2026');
    expect(box().type).toBe('text');
    expect(box().getAttribute('aria-label')).toBe('Start');
  });

  it.each([
    ['1 Dec 2026', '2026-12-01', 'Tue 1 Dec 2026'],
    ['2027-01-04', '2027-01-04', 'Mon 4 Jan 2027'],
    ['4.1.2027', '2027-01-04', 'Mon 4 Jan 2027'],
  ])('takes %s, and writes it out', async (typed, day, shown) => {
    await type(typed);
    expect(page.taken).toEqual([day]);
    expect(box().value).toBe(shown);
  });

  it('says what is no date, and keeps the text to be put right', async () => {
    await type('31 Feb 2027');
    expect(page.taken).toEqual([]);
    expect(textOf(fixture)).toContain('“31 Feb 2027” is not a date. Enter one such as 24 Dec 2026.');
    expect(box().value).toBe('31 Feb 2027');
    expect(box().getAttribute('aria-invalid')).toBe('true');
    await type('28 Feb 2027');
    expect(page.taken).toEqual(['2027-02-28']);
    expect(textOf(fixture)).not.toContain('is not a date');
  });

  it('refuses a day before the first that may be chosen', async () => {
    page.min.set('2026-12-10');
    await settle(fixture);
    await type('9 Dec 2026');
    expect(page.taken).toEqual([]);
    expect(textOf(fixture)).toContain('The earliest date is Thu 10 Dec 2026.');
    await type('10 Dec 2026');
    expect(page.taken).toEqual(['2026-12-10']);
  });

  it('can be cleared', async () => {
    await type('');
    expect(page.taken).toEqual(['']);
    expect(box().value).toBe('');
  });

  it('asks for the day where one is needed', async () => {
    page.field().ask();
    await settle(fixture);
    expect(textOf(fixture)).toContain('Enter a date.');
  });

  it('opens a calendar that begins on Monday, knows the workspace’s day, and gives the day that is pressed', async () => {
    page.day.set('');
    await settle(fixture);
    (fixture.nativeElement as HTMLElement).querySelector<HTMLButtonElement>('mat-datepicker-toggle button')!.click();
    await settle(fixture);
    expect([...document.querySelectorAll('.mat-calendar-table-header th span[aria-hidden]')][0]?.textContent).toBe(
      'Mon',
    );
    expect(document.querySelector('.mat-calendar-body-today')?.textContent?.trim()).toBe('24');
    expect(document.querySelector('.mat-calendar-period-button')?.textContent?.trim()).toBe('NOV 2026');
    const last = cells().find((c) => c.textContent?.trim() === '30')!;
    expect(last.getAttribute('aria-label')).toBe('Mon 30 Nov 2026');
    last.click();
    await settle(fixture);
    expect(page.taken).toEqual(['2026-11-30']);
    expect(box().value).toBe('Mon 30 Nov 2026');
  });
});
