import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import type { TodayLane, TodayView } from '@baton/contract';
import { LiveServer, SHELL, settle, textOf } from '../testing/live-server';
import { Today } from './today';

const at = (hour: number) => Date.UTC(2026, 10, 24, hour);
const lane = (over: Partial<TodayLane> = {}): TodayLane => ({
  mailboxId: 1,
  address: 'ines@tidewaterkelp.example',
  senderName: 'Ines Aldrich',
  windows: [{ startMs: at(9), endMs: at(17) }],
  marks: [
    { at: at(9), state: 'sent', campaignId: 1, followUp: false },
    { at: at(10), state: 'answered', campaignId: 1, followUp: false },
    { at: at(11), state: 'failed', campaignId: 1, followUp: false },
    { at: at(15), state: 'to_come', campaignId: 1, followUp: true },
  ],
  sent: 2,
  quota: 36,
  note: '',
  ...over,
});
const view = (over: Partial<TodayView> = {}): TodayView => ({
  dayStartMs: at(0),
  dayEndMs: at(24),
  zone: 'Europe/Dublin',
  sent: 3,
  planned: 4,
  lastAt: at(15),
  answeredSinceYesterday: 1,
  waiting: 1,
  resting: 0,
  nextDay: null,
  lanes: [lane()],
  needs: [],
  week: [{ label: 'Sent', now: 3, before: 1 }],
  firstSteps: [],
  ...over,
});

let server: LiveServer;
let fixture: ComponentFixture<Today>;
beforeEach(() => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(Today);
});

async function show(over: Partial<TodayView> = {}): Promise<string> {
  await settle(fixture);
  server.answer('/api/shell', SHELL);
  server.answer('/api/today', view(over));
  server.answer('/api/today/drafts', []);
  await settle(fixture);
  return textOf(fixture);
}

describe('Today', () => {
  it('sums the day up in a sentence', async () => {
    expect(await show({ resting: 1 })).toContain(
      '3 of today’s 4 messages have been sent; the last is due at 15:00. One person replied since yesterday, 1 is waiting for you. One mailbox rests.',
    );
  });

  it.each([
    [
      { planned: 0, sent: 0, lastAt: null, nextDay: '2026-11-25' },
      'Nothing is sent today; the next messages are sent on Wednesday 25 November.',
    ],
    [{ planned: 0, sent: 0, lastAt: null }, 'Nothing is planned.'],
    [{ lastAt: null }, 'All of today’s 4 messages have been sent.'],
    [{ lanes: [], firstSteps: [{ kind: 'settings' as const, isDone: false }] }, 'Nothing has been sent from here yet.'],
  ])('has a sentence for every kind of day: %j', async (over, words) => {
    expect(await show(over)).toContain(words);
  });

  it('leads to the first campaign: what is done, and what comes next', async () => {
    const kinds = ['settings', 'mailbox', 'people', 'message', 'campaign'] as const;
    const text = await show({ lanes: [], firstSteps: kinds.map((kind, i) => ({ kind, isDone: i < 2 })) });
    expect(text).toContain('To your first campaign');
    const steps = [...(fixture.nativeElement as HTMLElement).querySelectorAll('.steps li')];
    expect(steps.map((s) => s.textContent?.includes('(done)'))).toEqual([true, true, false, false, false]);
    expect(steps.map((s) => s.getAttribute('aria-current'))).toEqual([null, null, 'step', null, null]);
    expect(steps[2]?.querySelector('a')?.getAttribute('href')).toBe('/people/import');
    expect(text).not.toContain('This week so far');
  });

  it('tells each lane to those who do not see it', async () => {
    await show({ lanes: [lane({ note: 'rests until Wed 25 Nov' })] });
    const svg = (fixture.nativeElement as HTMLElement).querySelector('svg[role=img]');
    expect(svg?.getAttribute('aria-label')).toBe(
      'ines@tidewaterkelp.example: 2 sent, 1 to come, 1 failed, 1 answered; rests until Wed 25 Nov',
    );
  });

  it('puts what waits under it, drafts too, each with one action', async () => {
    await settle(fixture);
    server.answer('/api/shell', SHELL);
    server.answer(
      '/api/today',
      view({
        needs: [{ key: 'answer:1', kind: 'answer', title: 'Odile', detail: 'Yes', action: 'Read', link: '/replies/1' }],
      }),
    );
    server.answer('/api/today/drafts', [
      { key: 'draft:4', kind: 'fix', title: 'Vines (draft)', detail: 'No list', action: 'Fix', link: '/campaigns/4' },
      { key: 'draft:5', kind: 'fix', title: 'Groves', detail: '', action: 'Fix', link: '', putOffUntil: '2026-11-27' },
    ]);
    await settle(fixture);
    const links = [...(fixture.nativeElement as HTMLElement).querySelectorAll('bt-need-row a')];
    expect(links.map((l) => [l.textContent?.trim(), l.getAttribute('href')])).toEqual([
      ['Read', '/replies/1'],
      ['Fix', '/campaigns/4'],
    ]);
    // What was put off is neither counted nor shown until it is asked for.
    expect(textOf(fixture)).toContain('Needs you 2');
    expect(textOf(fixture)).not.toContain('Groves');
    const show = [...(fixture.nativeElement as HTMLElement).querySelectorAll('button')].find((b) =>
      b.textContent?.includes('Show 1 that was put off'),
    );
    show?.click();
    await settle(fixture);
    expect(textOf(fixture)).toContain('Groves');
  });

  it('has nothing to press where nothing in Baton helps', async () => {
    await show({
      needs: [{ key: 'disk', kind: 'problem', title: '3 MB are left', detail: 'Free some.', action: '', link: '' }],
    });
    expect(textOf(fixture)).toContain('Problem3 MB are left · Free some.');
    expect((fixture.nativeElement as HTMLElement).querySelector('bt-need-row a')).toBeNull();
  });

  it('follows what happens, without asking for drafts at every message', async () => {
    await show();
    await new Promise((resolve) => setTimeout(resolve, 300));
    server.tell('today', 'progress');
    await settle(fixture);
    expect(server.answer('/api/today/drafts', [])).toBe(0);
    expect(server.answer('/api/today', view({ sent: 4, lastAt: null }))).toBe(1);
    await settle(fixture);
    expect(textOf(fixture)).toContain('All of today’s 4 messages have been sent');
  });
});
