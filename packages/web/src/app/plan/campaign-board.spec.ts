import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { PlanBoard, PlanCampaignRow, PlanLoad } from '@baton/contract';
import { weekdayWindows, type SharedCampaign } from '@baton/core';
import { beforeEach, describe, expect, it } from 'vitest';
import { settle, textOf } from '../testing/live-server';
import { ZOOMS } from './board-grid';
import { CampaignBoard } from './campaign-board';

const campaign = (id: number, name: string, over: Partial<PlanCampaignRow> = {}): PlanCampaignRow => ({
  ...{ id, name, state: 'running', colour: id, startDate: '2026-11-23', hasBegun: true, delays: [0, 3] },
  ...{ dailyLimit: null, share: 1, mailboxIds: [1], lastStartDay: null, lastDay: '2026-12-02', sent: 5, replies: 0 },
  ...over,
});
const load = (campaignId: number, day: string, first: number, followUps = 0): PlanLoad => ({
  ...{ mailboxId: 1, day, campaignId, first, followUps, firstSent: 0, followUpsSent: 0 },
  ...{ messages: first + followUps, held: 0 },
});
const board: PlanBoard = {
  ...{ today: '2026-11-24', from: '2026-11-09', days: 40, holidays: [], notPlaced: [], calendarPath: null },
  mailboxes: [
    {
      ...{ id: 1, address: 'ines@tidewaterkelp.example', senderName: 'Ines', dailyQuota: 20, paceSeconds: 60 },
      ...{ windows: weekdayWindows(540, 990), ramps: false, note: '', restUntil: null },
      ceilings: Array.from({ length: 40 }, () => 20),
    },
  ],
  campaigns: [
    campaign(1, 'Orchards', { state: 'finished' }),
    campaign(2, 'Vineyards'),
    campaign(3, 'Gardens', { share: 3 }),
    campaign(4, 'Allotments', { state: 'held' }),
    campaign(5, 'Nurseries', { state: 'finished' }),
  ],
  loads: [load(2, '2026-11-24', 8), load(3, '2026-11-24', 4, 4), load(5, '2026-11-23', 2)],
};

let fixture: ComponentFixture<CampaignBoard>;
let shares: SharedCampaign[][];
const host = () => fixture.nativeElement as HTMLElement;
const names = () => [...host().querySelectorAll('tbody th a')].map((a) => a.textContent.trim());
const button = (label: string) => host().querySelector<HTMLButtonElement>(`button[aria-label="${label}"]`)!;

beforeEach(async () => {
  TestBed.configureTestingModule({ providers: [provideRouter([])] });
  fixture = TestBed.createComponent(CampaignBoard);
  const inputs = { board, answer: null, changes: [], from: '2026-11-23', zoom: ZOOMS[1] };
  for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
  shares = [];
  fixture.componentInstance.share.subscribe((s) => shares.push(s));
  await settle(fixture);
});

describe('campaigns against one another', () => {
  it('are a row each, the largest share first; what has ended only where it sent something', () => {
    expect(names()).toEqual(['Gardens', 'Vineyards', 'Allotments', 'Nurseries']);
    expect(textOf(fixture)).toContain('3 starts for one of others');
    expect(textOf(fixture)).toContain('Tue 24 Nov: Gardens: 4 first, 4 follow-ups');
    const heights = [...host().querySelectorAll<HTMLElement>('td.now .bar i')].map((i) => i.style.height);
    expect(heights).toEqual(['50%', '50%', '100%']);
    expect(host().querySelector('tfoot')?.textContent).toContain('16');
  });

  it('come before others where that is pressed, and start more people then', () => {
    button('Let Vineyards come before the one above').click();
    expect(shares).toEqual([[{ id: 2, share: 4 }]]);
    button('Let Vineyards come after the one below').click();
    // There is no smaller share: the other gets more.
    expect(shares[1]).toEqual([{ id: 4, share: 2 }]);
    expect(button('Let Gardens come before the one above').disabled).toBe(true);
    expect(button('Let Nurseries come before the one above')).toBeNull();
  });

  it('stand where a change that is tried out puts them', async () => {
    fixture.componentRef.setInput('changes', [{ kind: 'share', campaign: 4, to: 9 }]);
    await settle(fixture);
    expect(names().slice(0, 3)).toEqual(['Allotments', 'Gardens', 'Vineyards']);
    expect(textOf(fixture)).toContain('9 starts for one of others');
  });
});
