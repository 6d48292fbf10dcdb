import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { MessageResults, ResultGroups } from '@baton/contract';
import { NO_RESULTS } from '@baton/core';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveServer, SHELL, settle, textOf } from '../testing/live-server';
import { aCampaignsResults } from '../testing/some-results';
import { keepSavedFiles, rowsOfCsv } from '../testing/saved-files';
import { stubDrawing } from '../testing/undrawn';
import { CampaignResultsPage } from './campaign-results';
import { MessageResultsLine } from './message-results';
import { Results } from './results';

let server: LiveServer;
beforeEach(() => {
  stubDrawing();
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
});

afterEach(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

const group = (key: string, name: string, replied: number, written: number) => ({
  ...{ key, name },
  counts: { ...NO_RESULTS, written, replied, clicked: 2 * replied },
});
const ONE: ResultGroups = { groups: [group('0', 'A feed', 25, 176)], others: null };
const TWO: ResultGroups = { groups: [group('0', 'A feed', 9, 88), group('1', 'A sack', 16, 88)], others: null };

/** Answers the question for groups by something. */
function answerGroups(by: string, groups: ResultGroups): void {
  for (const request of server.http.match((r) => r.url === '/api/results/2/groups' && r.params.get('by') === by))
    request.flush(groups);
}

async function show(variants: ResultGroups, results = aCampaignsResults()) {
  const fixture = TestBed.createComponent(CampaignResultsPage);
  fixture.componentRef.setInput('campaignId', '2');
  await settle(fixture);
  server.answer('/api/shell', SHELL);
  server.answer('/api/results/2', results);
  answerGroups('variant', variants);
  await settle(fixture);
  answerGroups('variant', variants);
  answerGroups('message', { groups: [group('0', 'A feed', 16, 176), group('1', 'Reminder', 9, 140)], others: null });
  await settle(fixture);
  return fixture;
}

const host = (fixture: ComponentFixture<unknown>) => fixture.nativeElement as HTMLElement;
const rowsOf = (fixture: ComponentFixture<unknown>) =>
  [...host(fixture).querySelectorAll('bt-result-groups tbody tr')].map((tr) =>
    [...tr.querySelectorAll('th, td')].map((cell) => {
      const besideIt = [...cell.querySelectorAll('.narrow, .kinds')].map((s) => s.textContent).join('');
      return cell.textContent.replace(besideIt, '').trim();
    }),
  );
const choose = (fixture: ComponentFixture<unknown>, of: string, value: string) => {
  const select = host(fixture).querySelector<HTMLSelectElement>(of) as HTMLSelectElement;
  select.value = value;
  select.dispatchEvent(new Event('change'));
  return settle(fixture);
};

describe('the results of a campaign', () => {
  it('begin with the sentence, and say each picture in words and in figures', async () => {
    const fixture = await show(ONE);
    expect(textOf(fixture)).toContain('25 of 176 people reached replied (14 %, likely between 9.8 and 20)');
    const pictures = [...host(fixture).querySelectorAll('.place')].map((p) => p.getAttribute('aria-label'));
    expect(pictures).toEqual([
      expect.stringContaining('184 written to, 8 bounced'),
      'first message: left from Mon 9 Nov to Thu 12 Nov, 16 replies; follow-up 1: left from Fri 13 Nov to Mon 16 Nov, 9 replies.',
      'After 2 days 86 % are still silent.',
    ]);
    expect(textOf(fixture)).toContain('follow-up 1: A short reminder140Fri 13 Nov');
  });

  it('are saved in figures: what left and came by day, and the curve', async () => {
    const saved = keepSavedFiles();
    const fixture = await show(ONE);
    const buttons = [...host(fixture).querySelectorAll<HTMLButtonElement>('bt-figures > button')];
    for (const button of buttons) button.click();
    const figures = await rowsOfCsv(saved.get('Garden centres, autumn, people.csv'));
    expect(figures.slice(0, 3)).toEqual([
      ['What', 'People', 'Of', 'Percent', 'Likely from (%)', 'Likely to (%)'],
      ['reached', '176', '184', '96', '92', '98'],
      ['replied', '25', '176', '14', '9.8', '20'],
    ]);
    const replies = await rowsOfCsv(saved.get('Garden centres, autumn, replies.csv'));
    const { steps } = aCampaignsResults();
    expect(replies[0]).toEqual(['Message', 'Day', 'Left', 'Replied']);
    expect(replies.slice(1).reduce((sum, r) => sum + Number(r[2]), 0)).toBe(
      steps.flatMap((s) => s.days).reduce((sum, d) => sum + d.sent, 0),
    );
    expect(replies.slice(1).reduce((sum, r) => sum + Number(r[3]), 0)).toBe(steps.flatMap((s) => s.repliedAt).length);
    expect(await rowsOfCsv(saved.get('Garden centres, autumn, still silent.csv'))).toEqual([
      ['Days', 'Still silent (%)'],
      ['0', '100'],
      ['2', '86'],
    ]);
  });

  it('compare messages at first, on the scale of one’s own past', async () => {
    const fixture = await show(ONE);
    expect(rowsOf(fixture).map(([name, reached, share]) => [name, reached, share])).toEqual([
      ['A feed', '176', '16 · 9.1 %'],
      ['Reminder', '140', '9 · 6.4 %'],
      ['Your other campaigns of the last year', '300', '30 · 10 %'],
    ]);
    expect(host(fixture).querySelector('bt-rate-dots svg')?.getAttribute('aria-label')).toBe(
      '9.1 %, likely between 5.7 and 14 %',
    );
  });

  it('compare variants where there are some, and say what may be chance', async () => {
    const fixture = await show(TWO);
    expect(textOf(fixture)).toContain('A sack got more replies than A feed; with 88 each this may still be chance');
    expect(rowsOf(fixture).map((r) => [r[0], r[4]])).toEqual([
      ['A feed', 'may be chance (p 0.19)'],
      ['A sack', 'the most'],
      ['Your other campaigns of the last year', ''],
    ]);
  });

  it('tell people apart by a column, and by what else they did', async () => {
    const fixture = await show(ONE);
    await choose(fixture, '.ways select', 'field:region');
    answerGroups('field:region', {
      groups: [group('North', 'North', 10, 50), group('', '', 2, 50)],
      others: { groups: 4, counts: { ...NO_RESULTS, written: 8 } },
    });
    await settle(fixture);
    expect(rowsOf(fixture).map((r) => r[0])).toEqual([
      ...['North', 'no value', '4 more, each smaller', 'Your other campaigns of the last year'],
    ]);
    await choose(fixture, '.rate select', 'clicked');
    expect(rowsOf(fixture)[0]?.[2]).toBe('20 · 40 %');
    await choose(fixture, '.rate select', 'opened');
    expect(textOf(fixture)).toContain('An open is a weak sign');
    expect(textOf(fixture)).toContain('The messages of 5 people were looked at by programs only');
  });

  it('show hours of the week as a picture, with the same in figures beside it', async () => {
    const fixture = await show(ONE);
    [...host(fixture).querySelectorAll<HTMLButtonElement>('.ways button')]
      .find((b) => b.textContent.trim() === 'by weekday and hour')!
      .click();
    await settle(fixture);
    answerGroups('weekday_hour', {
      groups: [group('2 09', '2 09', 3, 30), group('1 14', '1 14', 1, 40)],
      others: null,
    });
    await settle(fixture);
    const picture = host(fixture).querySelector('bt-result-groups .place');
    expect(picture?.getAttribute('aria-label')).toBe('Monday 14:00 to 15:00: 1 of 40; Tuesday 9:00 to 10:00: 3 of 30.');
    expect(rowsOf(fixture).map((r) => [r[0], r[2]])).toEqual([
      ['Tuesday 9:00', '3 · 10 %'],
      ['Monday 14:00', '1 · 2.5 %'],
      ['Your other campaigns of the last year', '30 · 10 %'],
    ]);
  });

  it('show what was told apart before by its own names until the answer is there, then countries by theirs', async () => {
    const fixture = await show(ONE, aCampaignsResults({ countsPlaces: true }));
    const press = async (words: string) => {
      [...host(fixture).querySelectorAll<HTMLButtonElement>('.ways button')]
        .find((b) => b.textContent.trim() === words)!
        .click();
      await settle(fixture);
    };
    const names = () => rowsOf(fixture).map((r) => r[0]);
    const head = () => host(fixture).querySelector('bt-result-groups thead th')?.textContent.trim();
    await press('by company');
    answerGroups('domain', { groups: [group('vines.example', 'vines.example', 3, 30)], others: null });
    await settle(fixture);
    await press('by country');
    expect([head(), names()[0]]).toEqual(['company', 'vines.example']);
    answerGroups('country', { groups: [group('', '', 2, 20), group('AU', 'AU', 1, 10)], others: null });
    await settle(fixture);
    expect([head(), ...names()]).toEqual([
      ...['country', 'no link followed, or not known', 'Australia', 'Your other campaigns of the last year'],
    ]);
    expect(textOf(fixture)).toContain('Only whoever followed a link has a country');
  });

  it('say so where something is not counted', async () => {
    const fixture = await show(ONE, aCampaignsResults({ countsClicks: false }));
    await choose(fixture, '.rate select', 'clicked');
    expect(textOf(fixture)).toContain('This campaign does not count them.');
  });
});

describe('all results', () => {
  it('put campaigns side by side', async () => {
    const fixture = TestBed.createComponent(Results);
    await settle(fixture);
    server.answer('/api/shell', SHELL);
    const line = aCampaignsResults();
    const other = { ...line, id: 1, name: 'Orchards', toCome: 0, counts: { ...NO_RESULTS, written: 90, replied: 12 } };
    server.answer('/api/results', {
      campaigns: [line, other],
      together: { ...NO_RESULTS, written: 260, bounced: 8, replied: 36 },
      before: null,
    });
    await settle(fixture);
    expect(textOf(fixture)).toContain('36 of 252 people reached replied (14 %, likely between 11 and 19).');
    const rows = [...host(fixture).querySelectorAll('tbody tr')].map((tr) =>
      tr.textContent.replace(/\s+/g, ' ').trim(),
    );
    expect(rows).toEqual([
      expect.stringMatching(/^Garden centres, autumn ?Mon 9 Nov ?Mon 9 Nov ?176 ?25 · 14 %.*still under way$/),
      expect.stringMatching(/^Orchards ?Mon 9 Nov ?Mon 9 Nov ?90 ?12 · 13 %/),
      expect.stringMatching(/^All together ?252 ?36 · 14 %/),
    ]);
    expect(host(fixture).querySelector('tbody a')?.getAttribute('href')).toBe('/results/2');
  });

  it('are shown of a period, beside the days before it', async () => {
    const fixture = TestBed.createComponent(Results);
    await settle(fixture);
    server.answer('/api/shell', SHELL);
    server.answer('/api/results', { campaigns: [aCampaignsResults()], together: NO_RESULTS, before: null });
    await settle(fixture);
    await choose(fixture, 'bt-period-choice select', '30');
    const [asked] = server.http.match((r) => r.url === '/api/results' && r.params.has('from'));
    const days = [asked?.request.params.get('from'), asked?.request.params.get('to')].map((d) => Date.parse(d ?? ''));
    expect((days[1]! - days[0]!) / 86_400_000).toBe(29);
    asked?.flush({ campaigns: [], together: NO_RESULTS, before: { ...NO_RESULTS, written: 50, replied: 5 } });
    await settle(fixture);
    expect(textOf(fixture)).toContain('Nobody was first written to on these days.');
    expect(host(fixture).querySelector('tbody tr.past')?.textContent).toMatch(/The 30 days before\s*50\s*5 · 10 %/);
    await choose(fixture, 'bt-period-choice select', 'own');
    expect(host(fixture).querySelectorAll('bt-date-field')).toHaveLength(2);
  });

  it('say what belongs there before anything has left', async () => {
    const fixture = TestBed.createComponent(Results);
    await settle(fixture);
    server.answer('/api/results', { campaigns: [], together: NO_RESULTS, before: null });
    await settle(fixture);
    expect(textOf(fixture)).toContain('What became of your campaigns stands here');
  });
});

describe('how a message has done', () => {
  async function showMessage(uses: MessageResults['uses']) {
    const fixture = TestBed.createComponent(MessageResultsLine);
    fixture.componentRef.setInput('messageId', 7);
    fixture.componentRef.setInput('name', 'A feed');
    await settle(fixture);
    server.answer('/api/results/messages/7', { uses });
    await settle(fixture);
    return fixture;
  }
  const use = (campaignId: number, name: string, place: number, written: number, replied: number) => ({
    ...{ campaignId, name, place, until: null },
    counts: { ...NO_RESULTS, written, replied },
  });

  it('is said in one line, with each campaign under it', async () => {
    const fixture = await showMessage([use(1, 'Orchards', 0, 90, 9), use(2, 'Vineyards', 1, 60, 3)]);
    expect(host(fixture).querySelector('summary')?.textContent).toBe(
      'It has reached 150 people in 2 campaigns; 12 replied to it (8 %, likely between 4.6 and 13).',
    );
    const rows = [...host(fixture).querySelectorAll('tbody tr')].map((tr) =>
      [...tr.querySelectorAll('th, td')].map((cell) => cell.textContent.trim()),
    );
    expect(rows).toEqual([
      ['Orchardsfirst message', 'first message', '90', '9 · 10 %5.4 to 18 %', '', 'the most'],
      ['Vineyardsfollow-up 1', 'follow-up 1', '60', '3 · 5 %1.7 to 14 %', '', 'may be chance (p 0.36)'],
    ]);
  });

  it('has a line for each text that it had', async () => {
    const earlier = { ...use(1, 'Orchards', 0, 40, 2), until: Date.UTC(2026, 10, 3, 9) };
    const fixture = await showMessage([earlier, use(1, 'Orchards', 0, 60, 9)]);
    expect(host(fixture).querySelector('summary')?.textContent).toContain('100 people in 1 campaign; 11 replied');
    const rows = [...host(fixture).querySelectorAll('tbody tr')].map((tr) => tr.querySelector('.second')?.textContent);
    expect(rows).toEqual(['first message, with its text until Tue 3 Nov', 'first message']);
  });

  it('is nothing before it has left to anybody', async () => expect(textOf(await showMessage([]))).toBe(''));
});
