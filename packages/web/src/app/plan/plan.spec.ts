import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { BatchMessage, PlanBoard, PlanLoad, PlanWork } from '@baton/contract';
import { dayNumber, isoWeekday, weekdayWindows, type PlanInput } from '@baton/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveServer, SHELL, settle, textOf } from '../testing/live-server';
import { gridOf, monthsOf, ZOOMS } from './board-grid';
import { PlanPage } from './plan';
import { chipWords, differenceWords } from './plan-words';
import { answerRange, answerWhatIf } from './what-if-answer';
import { WHAT_IF_WORKER } from './what-if-planner';
import type { WhatIfQuestion } from './what-if.worker';

const FROM = '2026-11-09';
const load = (over: Partial<PlanLoad>): PlanLoad => ({
  ...{ mailboxId: 1, day: '2026-11-25', campaignId: 7 },
  ...{ first: 0, followUps: 0, firstSent: 0, followUpsSent: 0, messages: 0, held: 0, ...over },
});
const ceilings = (quota: number) =>
  Array.from({ length: 60 }, (_, i) => (isoWeekday(dayNumber(FROM) + i) < 6 ? quota : null));
const board: PlanBoard = {
  ...{ today: '2026-11-24', from: FROM, days: 60, holidays: [], notPlaced: [], calendarPath: null },
  mailboxes: [
    {
      ...{ id: 1, address: 'ines@tidewaterkelp.example', senderName: 'Ines', dailyQuota: 20, paceSeconds: 60 },
      ...{ windows: weekdayWindows(540, 990), ramps: false, note: '', restUntil: null, ceilings: ceilings(20) },
    },
    {
      ...{ id: 2, address: 'wren@tidewaterkelp.example', senderName: 'Wren', dailyQuota: 40, paceSeconds: 60 },
      ...{ windows: weekdayWindows(540, 990), ramps: true, note: 'rests until Thu 26 Nov', restUntil: '2026-11-26' },
      ceilings: ceilings(10),
    },
  ],
  campaigns: [
    {
      ...{ id: 7, name: 'Vineyards', state: 'running', colour: 2, startDate: '2026-11-25', hasBegun: false },
      ...{
        delays: [0, 3],
        dailyLimit: null,
        share: 1,
        mailboxIds: [1],
        lastStartDay: '2026-11-27',
        lastDay: '2026-12-02',
      },
      ...{ sent: 0, replies: 0 },
    },
  ],
  loads: [
    load({ first: 18, messages: 18 }),
    load({ day: '2026-11-30', followUps: 12, messages: 12, held: 12 }),
    load({ day: '2026-11-24', first: 9, firstSent: 4, messages: 9 }),
  ],
};

const NOW = Date.UTC(2026, 10, 24, 10, 42);
const input: PlanInput = {
  ...{ seed: 1, now: NOW, horizonDays: 100, calendar: { weekdays: [1, 2, 3, 4, 5], holidays: [] }, domainCap: null },
  mailboxes: [0, 1].map(() => ({
    ...{
      zone: 'Europe/Dublin',
      windows: weekdayWindows(540, 990),
      capacity: { quota: 20 },
      daysOff: [],
      paceSeconds: 60,
    },
    ...{ providerLimit24h: null, alreadyUsed: [], restUntil: null, held: false },
  })),
  campaigns: [
    {
      steps: [
        { delay: 0, tolerance: 0 },
        { delay: 3, tolerance: 2 },
      ],
      ...{ weight: 1, dailyLimit: null, startDate: '2026-11-25', held: false, recipientWindow: null, mailboxes: [0] },
    },
  ],
  zones: ['Europe/Dublin'],
  recipients: {
    count: 60,
    ...{ campaign: Array(60).fill(0), zone: Array(60).fill(0), domain: Array.from({ length: 60 }, (_, i) => i) },
    ...{ notBefore: Array(60).fill(-1), units: Array(60).fill(1), boundMailbox: Array(60).fill(-1) },
    ...{ nextStep: Array(60).fill(0), dueDay: Array(60).fill(-1) },
  },
};
const ana: BatchMessage = {
  ...{
    deliveryId: 5,
    enrolmentId: 9,
    contactId: 4,
    campaignId: 7,
    step: 0,
    nth: 0,
    address: 'ana@x.example',
    name: 'Ana',
  },
  ...{ at: NOW + 86_400_000, state: 'planned', reason: '' },
};
const work: PlanWork = { input, ids: { mailboxes: [1, 2], campaigns: [7] } };

describe('the board as it is drawn', () => {
  const zoom = ZOOMS[1]!;
  const cells = (grid: ReturnType<typeof gridOf>, day: string) =>
    grid.rows[0]!.cells[grid.columns.findIndex((c) => c.day === day)]!;

  it('has a column a day, weekends as bands, today marked', () => {
    const { columns, totals } = gridOf(board, null, '2026-11-23', zoom);
    expect(columns).toHaveLength(21);
    expect(columns.filter((c) => c.shut).map((c) => c.day)).toEqual([
      '2026-11-28',
      '2026-11-29',
      '2026-12-05',
      '2026-12-06',
      '2026-12-12',
      '2026-12-13',
    ]);
    expect(columns.find((c) => c.isNow)?.day).toBe('2026-11-24');
    expect(totals[1]).toEqual({ load: 9, may: 30 });
  });

  it('draws what has left apart from what is to come, follow-ups over first messages', () => {
    const grid = gridOf(board, null, '2026-11-23', zoom);
    const today = cells(grid, '2026-11-24');
    expect(today.segments.map((s) => [s.sent, Math.round(s.height * 20)])).toEqual([
      [true, 4],
      [false, 5],
    ]);
    expect(cells(grid, '2026-11-30')).toMatchObject({ held: 12, load: 12, may: 20, ceiling: 1 });
    expect(cells(grid, '2026-11-30').segments[0]).toMatchObject({ followUp: true, colour: 2 });
    expect(grid.rows[1]!.cells[1]!.rests).toBe(true);
    expect(cells(grid, '2026-11-25').words).toBe(
      'ines@tidewaterkelp.example, Wed 25 Nov: 18 of 20; Vineyards: 18 first, 0 follow-ups',
    );
  });

  it('says in which months its columns are, and in which year if it is another', () => {
    const months = (from: string, zoom: number) => {
      return monthsOf(gridOf(board, null, from, ZOOMS[zoom]!).columns, board.today);
    };
    expect(months('2026-12-14', 0)).toBe('Dec');
    expect(months('2026-11-23', 1)).toBe('Nov – Dec');
    expect(months('2026-12-28', 0)).toBe('Dec – Jan 2027');
    expect(months('2026-11-23', 3)).toBe('Nov – May 2027');
  });

  it('puts weeks together from afar', () => {
    const { columns, rows } = gridOf(board, null, '2026-11-23', ZOOMS[3]!);
    expect(columns).toHaveLength(26);
    expect(rows[0]!.cells[0]).toMatchObject({ load: 27, may: 100 });
    expect(rows[0]!.cells[1]).toMatchObject({ load: 12, may: 100 });
  });
});

describe('a what-if', () => {
  it('keeps what has left, and draws the rest beside what is planned now', () => {
    const answer = answerWhatIf(work, [{ kind: 'quota', mailbox: 1, to: 5 }]);
    const grid = gridOf(board, answer, '2026-11-23', ZOOMS[1]!);
    const cell = grid.rows[0]!.cells[2]!;
    expect(cell).toMatchObject({ load: 5, may: 5 });
    expect(Math.round((cell.before ?? 0) * 20)).toBe(18);
    expect(grid.rows[0]!.cells[1]!.segments).toEqual([{ colour: 2, followUp: false, sent: true, height: 0.2 }]);
  });

  it('says in sentences who ends when and what is late', () => {
    const answer = answerWhatIf(work, [{ kind: 'quota', mailbox: 1, to: 5 }]);
    const words = differenceWords(board, answer, 0, 'day_month')
      .map((w) => w.text)
      .join('');
    expect(words).toMatch(
      /^Vineyards would finish on \w+day \d+ \w+ instead of Wednesday 2 December; no follow-up is late\.$/,
    );
    const same = {
      ...answer,
      campaigns: [{ id: 7, lastStartDay: null, lastDay: '2026-12-02', late: 2, notPlaced: [] }],
    };
    expect(
      differenceWords(board, same, 2, 'day_month')
        .map((w) => w.text)
        .join(''),
    ).toBe('Every campaign would finish on the same day as now; 2 follow-ups late, as now.');
    const stuck = {
      ...same,
      campaigns: [{ ...same.campaigns[0]!, late: 0, notPlaced: [{ reason: 'no mailbox', people: 3 }] }],
    };
    expect(differenceWords(board, stuck, 0, 'day_month').at(-1)?.text).toBe(
      ' 3 people of Vineyards would get nothing: no mailbox.',
    );
  });

  it('names each change as it is and as it would be', () => {
    expect(chipWords({ kind: 'quota', mailbox: 1, to: 80 }, board, 'day_month')).toEqual({
      what: 'ines@, daily quota',
      from: '20',
      to: '80',
    });
    expect(chipWords({ kind: 'start', campaign: 7, to: '2026-11-30' }, board, 'day_month')).toEqual({
      what: 'Vineyards, start',
      from: 'Wed 25 Nov',
      to: 'Mon 30 Nov',
    });
    expect(chipWords({ kind: 'window', mailbox: 1, to: [480, 720] }, board, 'day_month').to).toBe('8:00–12:00');
    expect(chipWords({ kind: 'pace', mailbox: 1, to: 90 }, board, 'day_month').to).toBe('90 s apart');
    expect(chipWords({ kind: 'replies', to: 0.05 }, board, 'day_month').to).toBe('5 %');
  });

  it('says between which days campaigns end if answers go on', () => {
    const [range] = answerRange(work, [{ low: 0, high: 1 }]);
    expect((range?.early ?? '') < (range?.late ?? '')).toBe(true);
  });
});

/** The worker's work on this thread. */
function workerHere(): Pick<Worker, 'postMessage' | 'terminate' | 'onmessage'> {
  let own: PlanWork | null = null;
  const worker: Pick<Worker, 'postMessage' | 'terminate' | 'onmessage'> = {
    onmessage: null,
    terminate: () => undefined,
    postMessage: (question: WhatIfQuestion) => {
      if ('work' in question) own = question.work;
      else if (own) {
        const data =
          'changes' in question
            ? { ask: question.ask, answer: answerWhatIf(own, question.changes) }
            : { ask: question.ask, range: answerRange(own, question.rates) };
        queueMicrotask(() => worker.onmessage?.call(worker as Worker, { data } as MessageEvent));
      }
    },
  };
  return worker;
}

describe('the plan page', () => {
  let server: LiveServer;
  let fixture: ComponentFixture<PlanPage>;
  const host = () => fixture.nativeElement as HTMLElement;
  const button = (words: RegExp) =>
    [...document.querySelectorAll('button')].find((b) =>
      words.test((b.getAttribute('aria-label') ?? b.textContent ?? '').trim()),
    ) as HTMLButtonElement;

  const answerAll = async () => {
    for (let i = 0; i < 3; i++) {
      server.answer('/api/shell', SHELL);
      server.answer('/api/plan', board);
      server.answer('/api/plan/work', work);
      server.answer('/api/plan/variants', [{ id: 3, name: 'Slow', changes: [{ kind: 'quota', mailbox: 1, to: 4 }] }]);
      await settle(fixture);
    }
  };

  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [...LiveServer.providers(), { provide: WHAT_IF_WORKER, useValue: workerHere }],
    });
    server = new LiveServer();
    fixture = TestBed.createComponent(PlanPage);
    await settle(fixture);
    await answerAll();
  });

  it('is a table of mailboxes by days, with a sentence over it', () => {
    expect(textOf(fixture)).toContain('Vineyards ends on Wednesday 2 December.');
    expect(host().querySelectorAll('table tbody tr')).toHaveLength(2);
    expect(host().querySelectorAll('table tbody tr:first-child button')).toHaveLength(15);
    expect(host().querySelector('tbody th')?.textContent).toContain('ines@');
    // 30 a day from Tuesday to Friday, less today’s 9 and Wednesday’s 18.
    expect(textOf(fixture)).toContain('This week93');
  });

  it('goes from cell to cell with arrow keys, over the weekend', async () => {
    const cell = (at: string) => host().querySelector<HTMLElement>(`[data-cell="${at}"]`)!;
    cell('0/4').focus();
    const press = async (key: string) => {
      document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
      await settle(fixture);
    };
    await press('ArrowRight');
    expect(document.activeElement).toBe(cell('0/7'));
    await press('ArrowDown');
    expect(document.activeElement).toBe(cell('1/7'));
    await press('Home');
    expect(document.activeElement).toBe(cell('1/0'));
    expect([...host().querySelectorAll('[data-cell]')].filter((b) => (b as HTMLElement).tabIndex === 0)).toHaveLength(
      1,
    );
  });

  it('shows the days of a week that is pressed, the keyboard in the same row', async () => {
    button(/^A quarter/).click();
    await settle(fixture);
    const week = host().querySelector<HTMLElement>('[data-cell="1/2"]')!;
    expect(week.getAttribute('aria-label')).toMatch(/week of 7 Dec.*press to see the days/);
    week.click();
    await settle(fixture);
    expect(button(/^A week$/).getAttribute('aria-pressed')).toBe('true');
    const days = [...host().querySelectorAll('thead th:not(.corner) .visually-hidden')].map((th) => th.textContent);
    expect(days.slice(0, 5)).toEqual(['Mon 7 Dec', 'Tue 8 Dec', 'Wed 9 Dec', 'Thu 10 Dec', 'Fri 11 Dec']);
    expect(document.activeElement).toBe(host().querySelector('[data-cell="1/0"]'));
  });

  it('tries a start moved by key, says what moves, and applies it', async () => {
    const flag = button(/^Vineyards starts Wed 25 Nov/);
    flag.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowRight', bubbles: true }));
    await answerAll();
    expect(textOf(fixture)).toMatch(/Vineyards would finish on \w+day/);
    button(/^Apply/).click();
    await settle(fixture);
    const apply = server.http.expectOne('/api/plan/apply');
    expect(apply.request.body).toEqual({ changes: [{ kind: 'start', campaign: 7, to: '2026-11-26' }] });
    apply.flush(null);
    await settle(fixture);
    expect(textOf(fixture)).toContain('Vineyards ends on');
  });

  it('says what is wrong with a value, and does not apply it', async () => {
    button(/Try a change/).click();
    await settle(fixture);
    button(/daily quota/).click();
    await settle(fixture);
    const box = host().querySelector<HTMLInputElement>('[aria-label="Messages a day"]')!;
    box.value = '-3';
    box.dispatchEvent(new Event('input'));
    await settle(fixture);
    expect(host().querySelector('[role=alert]')?.textContent).toContain('whole number from 0');
    expect(button(/^Apply/).disabled).toBe(true);
    button(/^Discard/).click();
    await settle(fixture);
    expect(host().querySelector('.chip')).toBeNull();
  });

  it('takes a kept variant, and compares what each would come to', async () => {
    button(/^Compare/).click();
    await settle(fixture);
    await settle(fixture);
    expect(host().querySelector('.compared')?.textContent).toMatch(/Slow.*Vineyards/s);
    button(/^Slow/).click();
    await settle(fixture);
    expect(host().querySelector('.chip')?.textContent).toContain('20 → 4');
  });

  it('opens a batch, holds it, shows a message on another day', async () => {
    const go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    host().querySelector<HTMLElement>('[data-cell="0/2"]')!.click();
    expect(go).toHaveBeenCalledWith(['/plan', '2026-11-25', 1], { queryParamsHandling: 'preserve' });
    fixture.componentRef.setInput('day', '2026-11-25');
    fixture.componentRef.setInput('mailbox', '1');
    await settle(fixture);
    const held: BatchMessage = { ...ana, deliveryId: 6, name: 'Bo', state: 'held' };
    server.answer('/api/plan/batch', { messages: [ana, held], counts: { total: 2, gone: 0, toCome: 1, held: 1 } });
    await settle(fixture);
    expect(textOf(fixture)).toContain('2 messages: 1 to come, 1 held.');
    expect(button(/^Show more/)).toBeUndefined();
    button(/^Hold this batch/).click();
    const hold = server.http.expectOne({ method: 'POST', url: '/api/plan/batch' });
    expect(hold.request.body).toEqual({ day: '2026-11-25', mailboxId: 1, held: true });
    hold.flush({ messages: 1 });
    button(/^Move/).click();
    await settle(fixture);
    const date = host().querySelector<HTMLInputElement>('li bt-date-field input')!;
    expect(date.value).toBe('Wed 25 Nov 2026');
    date.value = '27 Nov 2026';
    date.dispatchEvent(new Event('input'));
    date.dispatchEvent(new Event('change'));
    await settle(fixture);
    expect(server.http.expectOne('/api/plan/messages/5/move').request.body).toEqual({ day: '2026-11-27' });
  });

  it('counts all of a large batch, and shows more of it when asked', async () => {
    fixture.componentRef.setInput('day', '2026-11-25');
    fixture.componentRef.setInput('mailbox', '1');
    await settle(fixture);
    server.answer('/api/plan/batch', {
      messages: [{ ...ana, state: 'deferred' }],
      counts: { total: 1650, gone: 12, toCome: 1600, held: 38 },
    });
    await settle(fixture);
    expect(textOf(fixture)).toContain('1,650 messages: 12 gone, 1,600 to come, 38 held.');
    expect(textOf(fixture)).toContain('to be tried again');
    button(/^Show more of 1,650/).click();
    await settle(fixture);
    expect(server.http.expectOne((r) => r.url === '/api/plan/batch').request.params.get('limit')).toBe('500');
  });
});
