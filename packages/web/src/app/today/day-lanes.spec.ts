import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { TodayLane, TodayView } from '@baton/contract';
import { beforeEach, describe, expect, it } from 'vitest';
import { LiveServer, SHELL, settle } from '../testing/live-server';
import { DayLanes } from './day-lanes';

const HOUR = 3_600_000;
const DAY = Date.UTC(2026, 10, 24);
const at = (hour: number) => DAY + hour * HOUR;
const lane = (over: Partial<TodayLane> = {}): TodayLane => ({
  ...{
    mailboxId: 1,
    address: 'ines@tidewaterkelp.example',
    senderName: 'Ines Aldrich',
    sent: 2,
    quota: 1200,
    note: '',
  },
  windows: [{ startMs: at(9), endMs: at(16.5) }],
  marks: [
    { at: at(9.5), state: 'sent', campaignId: 7, followUp: false },
    { at: at(10), state: 'answered', campaignId: 7, followUp: true },
    { at: at(10.25), state: 'failed', campaignId: 7, followUp: false },
    { at: at(10.5), state: 'unsure', campaignId: 7, followUp: false },
    { at: at(15), state: 'to_come', campaignId: 7, followUp: true },
  ],
  ...over,
});

let fixture: ComponentFixture<DayLanes>;
const host = () => fixture.nativeElement as HTMLElement;
async function show(lanes: TodayLane[], nowMs = at(10.7)): Promise<void> {
  const view = { lanes, dayStartMs: DAY, dayEndMs: DAY + 24 * HOUR } as TodayView;
  fixture.componentRef.setInput('view', view);
  fixture.componentRef.setInput('nowMs', nowMs);
  await settle(fixture);
}
const hours = () => [...host().querySelectorAll('.hours span:not(.now)')].map((s) => s.textContent?.trim());

beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  const server = new LiveServer();
  fixture = TestBed.createComponent(DayLanes);
  await show([lane()]);
  server.answer('/api/shell', { ...SHELL, clock: { ...SHELL.clock, zone: 'UTC' } });
  await settle(fixture);
});

describe('the lanes of a day', () => {
  it('draw each message by what became of it', () => {
    const count = (selector: string) => host().querySelectorAll(`.lane ${selector}`).length;
    expect([count('line.sent'), count('circle.answered'), count('.cross'), count('.unsure'), count('line.to-come')]).toEqual([2, 1, 1, 1, 1]); // prettier-ignore
    expect(count('line.follow-up')).toBe(2);
  });

  it('say the same to those who do not see them, and count with thousands apart', () => {
    expect(host().querySelector('[role=img]')?.getAttribute('aria-label')).toBe(
      'ines@tidewaterkelp.example: 2 sent, 1 to come, 1 failed, 1 answered',
    );
    expect(host().querySelector('.lane .num')?.textContent?.replace(/\s+/g, ' ').trim()).toBe('2 / 1,200');
  });

  it('reach an hour beyond what is sent and open, and leave out the hour that is covered by now', () => {
    expect(hours()).toEqual([
      ...['08:00', '09:00', '10:00', '', '12:00', '13:00', '14:00', '15:00', '16:00', '17:00', '18:00'],
    ]);
    expect(host().querySelector('.hours .now')?.textContent).toBe('10:42');
  });

  it('widen for a message outside of the window, but not beyond the day', async () => {
    await show([lane({ marks: [{ at: at(0.5), state: 'sent', campaignId: 7, followUp: false }] })], at(12));
    expect(hours()[0]).toBe('00:00');
    await show([lane({ windows: [{ startMs: at(9), endMs: at(23.5) }] })], at(12));
    expect(hours().at(-1)).toBe('00:00');
  });

  it('put everything at its place between the first hour and the last', async () => {
    await show([lane({ windows: [{ startMs: at(9), endMs: at(17) }], marks: [] })], at(13));
    const x = (selector: string, name = 'x') => host().querySelector(selector)?.getAttribute(name);
    // From 8:00 to 18:00.
    expect([x('.band'), x('.band', 'width'), x('line.now', 'x1')]).toEqual(['10.000%', '80.000%', '50.000%']);
  });

  it('show no now when it is outside of what is drawn', async () => {
    await show([lane()], at(22));
    expect(host().querySelector('.hours .now')).toBeNull();
  });

  it('say on the lane why nothing is sent', async () => {
    await show([lane({ note: 'rests until Wed 25 Nov', marks: [], sent: 0 })]);
    expect(host().querySelector('text.note')?.textContent).toBe('rests until Wed 25 Nov');
    expect(host().querySelector('[role=img]')?.getAttribute('aria-label')).toContain('; rests until Wed 25 Nov');
    expect(host().querySelector('svg.stopped')).not.toBeNull();
  });

  it('stand without any mailbox', async () => {
    await show([]);
    expect(host().querySelectorAll('.lane')).toHaveLength(0);
    expect(hours()).toHaveLength(11);
  });
});
