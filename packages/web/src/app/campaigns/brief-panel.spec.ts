import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { BriefChoices, BriefView } from '@baton/contract';
import { usualTerms } from '@baton/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { aBrief, aStep } from '../testing/a-brief';
import { LiveServer, SHELL, settle, textOf } from '../testing/live-server';
import { BriefPanel } from './brief-panel';

const step = (messageId: number | null, delay: number, others: (number | null)[] = []) =>
  aStep({
    ...{ number: messageId, messageId, messageName: `m${messageId}`, delay, tolerance: delay === 0 ? 0 : 2 },
    ...{ others, otherNames: others.map((o) => `m${o}`) },
  });
const brief = (over: Partial<BriefView> = {}): BriefView =>
  aBrief({
    listName: 'Vines',
    steps: [step(1, 0), step(2, 3)],
    forecast: {
      ...{ people: 1312, messages: 624, firstDay: '2026-11-30', lastStartDay: '2026-12-03', lastDay: '2026-12-15' },
      ...{ late: 0, notPlaced: [], obstacles: [], loads: [], cut: 0, ownTimes: { people: 0, later: 0, who: [] } },
      leftOut: [
        {
          ...{ code: 'suppressed', reason: 'on the suppression list', settledBy: 'delete them there' },
          ...{ people: 14, who: ['a@x.example', 'b@x.example'] },
        },
      ],
    },
    ...over,
  });

let server: LiveServer;
let fixture: ComponentFixture<BriefPanel>;
let emitted: Partial<BriefChoices>[];
const host = () => fixture.nativeElement as HTMLElement;
const boxes = (selector: string) => [...host().querySelectorAll<HTMLInputElement>(selector)];
const button = (words: string) => [...host().querySelectorAll('button')].find((b) => b.textContent?.trim() === words)!;

async function show(panel: string, over: Partial<BriefView> = {}): Promise<void> {
  fixture.componentRef.setInput('brief', brief(over));
  fixture.componentRef.setInput('panel', panel);
  await settle(fixture);
  // A part of the panel asks once it is there.
  for (let i = 0; i < 2; i++) {
    server.answer('/api/shell', SHELL);
    server.answer('/api/lists', [{ id: 1, name: 'Vines', people: 1326 }, { id: 2, name: 'Orchards', people: 95 }]); // prettier-ignore
    server.answer('/api/segments', [{ id: 9, listId: 1, name: 'North', people: 40 }]);
    server.answer('/api/messages', [{ id: 1, name: 'Kelp' }, { id: 2, name: 'Reminder' }]); // prettier-ignore
    server.answer('/api/mailboxes', []);
    await settle(fixture);
  }
}
async function put(box: HTMLInputElement | HTMLSelectElement, value: string): Promise<void> {
  box.value = value;
  box.dispatchEvent(new Event('input'));
  box.dispatchEvent(new Event('change'));
  await settle(fixture);
}
const problem = () => host().querySelector('[role=alert]')?.textContent?.trim();

beforeEach(() => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(BriefPanel);
  emitted = [];
  fixture.componentInstance.changes.subscribe((c) => emitted.push(c));
});

describe('the panel of a brief', () => {
  it('says who is written to, who is left out, why, and what settles it', async () => {
    await show('audience');
    expect(textOf(fixture)).toContain('1,312 people will be written to.');
    expect(textOf(fixture)).toContain('on the suppression list');
    expect(textOf(fixture)).toContain('a@x.example, b@x.example and 12 more');
    expect(textOf(fixture)).toContain('To include them: delete them there.');
    await put(host().querySelectorAll('select')[0]!, '2');
    await put(host().querySelectorAll('select')[1]!, '9');
    expect(emitted).toEqual([{ listId: 2, segmentId: null }, { segmentId: 9 }]);
  });

  it('adds and removes follow-ups; the first message has no wait', async () => {
    await show('messages');
    button('Add a follow-up').click();
    expect(emitted.at(-1)?.steps).toHaveLength(3);
    const fresh = { number: null, renews: false, messageId: null, others: [], ifClicked: null };
    expect(emitted.at(-1)?.steps?.[2]).toEqual({ ...fresh, ...usualTerms(2), delay: 3, tolerance: 2 });
    button('Delete').click();
    expect(emitted.at(-1)?.steps).toEqual([{ ...fresh, ...usualTerms(0), number: 2, messageId: 2 }]);
  });

  it('gives whoever has followed a link another message, where both sorts of people get the follow-up', async () => {
    const instead = () => host().querySelector<HTMLSelectElement>('select[aria-label$="followed a link, instead"]');
    await show('messages');
    await put(instead()!, '2');
    expect(emitted.at(-1)?.steps?.map((s) => s.ifClicked)).toEqual([null, 2]);
    await show('messages', { steps: [step(1, 0), { ...step(2, 3), condition: 'clicked' }] });
    expect(instead()).toBeNull();
  });

  it('gives a variant of a follow-up its own message', async () => {
    await show('messages', { variants: [50, 50] });
    const select = host().querySelector<HTMLSelectElement>('select[aria-label="Variant B of follow-up 1"]')!;
    await put(select, '1');
    expect(emitted.at(-1)?.steps?.map((s) => s.others)).toEqual([[], [1]]);
  });

  it('lets a follow-up have hours and a last day of its own, within those of the campaign', async () => {
    const box = (label: string) => host().querySelector<HTMLInputElement>(`input[aria-label="${label}"]`)!;
    await show('messages');
    await put(box('Follow-up 1, from'), '14:00');
    expect(emitted.at(-1)?.steps?.[1]?.hours).toEqual({ from: 840, to: 990 });
    await put(box('Follow-up 1, to'), '8:00');
    expect(problem()).toContain('must end after it begins');
    await put(box('Follow-up 1, from'), 'noon-ish');
    expect(problem()).toContain('is not a time');
    await put(box('Last day of follow-up 1'), '11 Dec 2026');
    expect(emitted.at(-1)?.steps?.[1]?.lastDay).toBe('2026-12-11');
    const own = { ...step(2, 3), hours: { from: 840, to: 900 } };
    await show('messages', { steps: [step(1, 0), own] });
    await put(box('Follow-up 1, from'), '9:00');
    await put(box('Follow-up 1, to'), '');
    expect(emitted.at(-1)?.steps?.[1]?.hours).toEqual({ from: 840, to: 990 });
  });

  it('quotes the message before a follow-up, or answers with the first what was there before', async () => {
    await show('messages');
    const box = (words: string) =>
      [...host().querySelectorAll('mat-checkbox')].find((b) => b.textContent?.includes(words))!.querySelector('input')!;
    box('Quote the message before it').click();
    expect(emitted.at(-1)?.steps?.map((s) => s.quotes)).toEqual([false, true]);
    box('last conversation').click();
    expect(emitted.at(-1)?.steps?.map((s) => s.answersLast)).toEqual([true, false]);
  });

  it('puts a message before another, but nothing before the first once that has left', async () => {
    const has = (sent: number) => [step(1, 0), step(2, 3), step(3, 4)].map((s) => ({ ...s, sent }));
    await show('messages', { steps: has(0) });
    button('Move up').click();
    expect(emitted.at(-1)?.steps?.map((s) => [s.number, s.delay])).toEqual([
      [2, 0],
      [1, 3],
      [3, 4],
    ]);
    fixture.componentRef.setInput('brief', { ...brief(), state: 'running', steps: has(4) });
    await settle(fixture);
    const ups = [...host().querySelectorAll('button')].filter((b) => b.textContent?.trim() === 'Move up');
    expect(ups).toHaveLength(1);
    ups[0]!.click();
    expect(emitted.at(-1)?.steps?.map((s) => s.number)).toEqual([1, 3, 2]);
    expect(textOf(fixture)).toContain('It has left to 4 people.');
    expect([...host().querySelectorAll('button')].filter((b) => b.textContent?.trim() === 'Delete')).toHaveLength(2);
  });

  it('puts a follow-up into a thread of its own, and releases days by hand', async () => {
    const box = (words: string) =>
      [...host().querySelectorAll('mat-checkbox')].filter((b) => b.textContent?.includes(words));
    await show('messages');
    // The first message always begins one.
    expect(box('In a new thread')).toHaveLength(1);
    box('In a new thread')[0]!.querySelector('input')!.click();
    expect(emitted.at(-1)?.steps?.map((s) => s.startsThread)).toEqual([false, true]);
    fixture.componentRef.setInput('panel', 'time');
    await settle(fixture);
    box('wait until somebody lets them go')[0]!.querySelector('input')!.click();
    expect(emitted.at(-1)).toEqual({ releasedByHand: true });
  });

  it('sends to a first group, then to the others after days or when somebody says', async () => {
    await show('audience');
    const first = boxes('input[type=number]').at(-1)!;
    await put(first, '20');
    expect(emitted.at(-1)).toEqual({ firstGroup: 20 });
    await show('audience', { firstGroup: 20 });
    const others = [...host().querySelectorAll('select')].find((s) => s.textContent?.includes('when I let them go'))!;
    await put(others, 'hand');
    expect(emitted.at(-1)).toEqual({ groupByHand: true });
    await put(others, '3');
    expect(emitted.at(-1)).toEqual({ groupByHand: false, groupWait: 3 });
    await put(first, '0');
    expect(problem()).toContain('Enter a whole number from 1');
  });

  it('offers the text that a message has now, where a campaign that runs sends an older one', async () => {
    await show('messages', { state: 'running', steps: [step(1, 0), { ...step(2, 3), isOlder: true }] });
    const box = [...host().querySelectorAll('mat-checkbox')].find((b) => b.textContent?.includes('edited since'))!;
    box.querySelector('input')!.click();
    await settle(fixture);
    expect(emitted.at(-1)?.steps?.map((s) => s.renews)).toEqual([false, true]);
  });

  it('compares variants in even shares, and takes one out with its messages', async () => {
    await show('messages');
    button('Compare variants').click();
    expect(emitted.at(-1)).toEqual({ variants: [50, 50] });
    const steps = [step(1, 0, [5, 6]), step(2, 3, [null, 7])];
    await show('messages', { variants: [34, 33, 33], steps });
    host().querySelector<HTMLButtonElement>('[aria-label="Delete variant B"]')!.click();
    expect(emitted.at(-1)?.variants).toEqual([34, 33]);
    expect(emitted.at(-1)?.steps?.map((s) => s.others)).toEqual([[6], [7]]);
    host().querySelector<HTMLButtonElement>('[aria-label="Delete variant C"]')!.click();
    expect(emitted.at(-1)?.steps?.map((s) => s.others)).toEqual([[5], [null]]);
  });

  it.each([
    ['0', 'The wait must be a whole number of working days from 1 to 365.'],
    ['2.5', 'The wait must be a whole number of working days from 1 to 365.'],
    ['366', 'The wait must be a whole number of working days from 1 to 365.'],
  ])('refuses a wait of %s in a sentence, and shows again what holds', async (typed, words) => {
    await show('messages');
    const [wait] = boxes('input[type=number]');
    await put(wait!, typed);
    expect(problem()).toBe(words);
    expect(wait!.value).toBe('3');
    expect(emitted).toEqual([]);
    await put(wait!, '5');
    expect(problem()).toBeUndefined();
    expect(emitted.at(-1)?.steps?.[1]?.delay).toBe(5);
  });

  it('lifts the daily limit only where the field is blank', async () => {
    await show('mailboxes');
    const [limit] = boxes('input[type=number]');
    await put(limit!, '0');
    expect(problem()).toBe('The daily limit must be a whole number from 1 to 1,000,000; leave blank for no limit.');
    expect(limit!.value).toBe('90');
    expect(emitted).toEqual([]);
    await put(limit!, '');
    await put(limit!, '40');
    expect(emitted).toEqual([{ dailyLimit: null }, { dailyLimit: 40 }]);
  });

  it('takes a start in any form, and hours that make a window', async () => {
    await show('time');
    const [start, , , from, to] = boxes('input:not([type=checkbox])');
    expect([start!.value, from!.value, to!.value]).toEqual(['Mon 30 Nov 2026', '9:00', '16:30']);
    await put(start!, '7.12.2026');
    await put(to!, '17:15');
    expect(emitted).toEqual([
      { startDate: '2026-12-07' },
      { window: { weekdays: [1, 2, 3, 4, 5], from: 540, to: 1035 } },
    ]);
    await put(from!, 'noon');
    expect(problem()).toBe('“noon” is not a time. Enter one such as 9:00.');
    await put(from!, '16:30');
    expect(problem()).toBe('The sending window must end after it begins.');
    expect(from!.value).toBe('9:00');
    expect(emitted).toHaveLength(2);
    fixture.componentRef.setInput('panel', 'mailboxes');
    await settle(fixture);
    expect(problem()).toBeUndefined();
  });

  it('keeps one weekday at least', async () => {
    await show('time', { window: { weekdays: [3], from: 540, to: 990 } });
    const days = boxes('.days input[type=checkbox]');
    expect(days.map((d) => d.checked)).toEqual([false, false, true, false, false, false, false]);
    days[2]!.click();
    expect(emitted).toEqual([]);
    days[6]!.click();
    expect(emitted.at(-1)?.window?.weekdays).toEqual([3, 7]);
  });

  it('takes a first time and a last day with its time, and leaves either out', async () => {
    await show('time', { endDate: '2026-12-11' });
    const [from, until] = boxes('input[placeholder="any time"]');
    await put(from!, '14:00');
    await put(until!, '17:30');
    await put(until!, '');
    expect(emitted).toEqual([{ startMinute: 840 }, { endMinute: 1050 }, { endMinute: null }]);
    await put(from!, '24:00');
    expect(problem()).toContain('24:00');
    expect(emitted).toHaveLength(3);
    await show('time');
    expect(boxes('input[placeholder="any time"]')).toHaveLength(1);
  });

  it('names those who cannot be written to at their own time, and when they are', async () => {
    const who = [{ address: 'jana@vines.example', wanted: '2026-11-24 19:00', gets: '2026-11-25 09:00' }];
    const { forecast } = brief();
    await show('time', { forecast: { ...forecast, ownTimes: { people: 12, later: 3, who } } });
    expect(textOf(fixture)).toContain('12 people have a time of their own in the list');
    expect(textOf(fixture)).toContain('jana@vines.example Wed 25 Nov 09:00 instead of Tue 24 Nov 19:00');
    expect(textOf(fixture)).toContain('2 more');
  });

  it('lets a column of the list name the mailbox, and keeps whom one has written to with it', async () => {
    await show('mailboxes', { senderKey: 'owner' });
    const columns = [
      { key: 'email', name: 'Email', role: 'address' },
      { key: 'owner', name: 'Owner', role: 'text' },
    ];
    server.answer('/api/lists/1', { columns });
    await settle(fixture);
    const field = [...host().querySelectorAll('label')]
      .find((l) => l.textContent?.includes('Column that names the mailbox'))!
      .querySelector('select')!;
    expect([...field.options].map((o) => [o.text, o.selected])).toEqual([
      ['none: any of them', false],
      ['Owner', true],
    ]);
    await put(field, '');
    boxes('mat-checkbox input').at(-1)!.click();
    expect(emitted).toEqual([{ senderKey: null }, { keepsSender: true }]);
  });
});
