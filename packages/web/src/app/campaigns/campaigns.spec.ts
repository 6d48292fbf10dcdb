import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { CampaignSummary } from '@baton/contract';
import { NO_RESULTS } from '@baton/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveServer, settle, textOf } from '../testing/live-server';
import { Campaigns } from './campaigns';
import { NewCampaigns } from './new-campaigns';

const campaign = (over: Partial<CampaignSummary> = {}): CampaignSummary => ({
  ...{ id: 4, name: 'Vineyards', state: 'running', people: 1326, firstDay: '2026-11-23', lastDay: '2026-12-10' },
  states: { in_progress: 1200, waiting: 100, replied: 25, bounced: 1 },
  results: null,
  ...over,
});

let server: LiveServer;
let fixture: ComponentFixture<Campaigns>;
const host = () => fixture.nativeElement as HTMLElement;
async function show(...campaigns: CampaignSummary[]): Promise<void> {
  server.answer('/api/campaigns', campaigns);
  await settle(fixture);
}
const ends = () => [...host().querySelectorAll('li .ends')].map((e) => e.textContent?.trim());

beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(Campaigns);
  await settle(fixture);
});

describe('the campaigns', () => {
  it('say what a campaign is where there is none', async () => {
    await show();
    expect(textOf(fixture)).toContain('A campaign says who gets which messages');
  });

  it('show their people as a line, what went well first, and the same in words', async () => {
    await show(campaign());
    const words = [...host().querySelectorAll('bt-progress-line .words > span')].map((s) => s.textContent?.trim());
    expect(words).toEqual(['25 replied', '1,200 in progress', '100 waiting', '1 bounced']);
    const widths = [...host().querySelectorAll<HTMLElement>('bt-progress-line .line span')].map(
      (s) => s.style.flexGrow,
    );
    expect(widths).toEqual(['25', '1200', '100', '1']);
  });

  it('say how many of those reached have replied, with the range, and lead to the results', async () => {
    await show(
      campaign({ results: { ...NO_RESULTS, written: 1226, bounced: 1, replied: 25 } }),
      campaign({ id: 5, results: { ...NO_RESULTS, written: 1, bounced: 1 } }),
      campaign({ id: 6, state: 'draft' }),
    );
    const links = [...host().querySelectorAll<HTMLAnchorElement>('.rate')];
    expect(links.map((a) => [a.textContent, a.getAttribute('href')])).toEqual([
      ['2 % replied (1.4 to 3)', '/results/4'],
    ]);
  });

  it('say when they end, or why they do not', async () => {
    await show(
      campaign(),
      campaign({ id: 5, state: 'finished', lastDay: '2026-11-20' }),
      campaign({ id: 6, state: 'held', lastDay: null }),
      campaign({ id: 7, state: 'draft', people: 1 }),
    );
    expect(ends()).toEqual(['ends Thu 10 Dec', 'ended Fri 20 Nov', 'nothing planned', '1 person on the list']);
    expect([...host().querySelectorAll('.tag')].map((t) => t.textContent)).toEqual([
      'running',
      'finished',
      'held',
      'draft',
    ]);
    expect(textOf(fixture)).toContain('not started');
  });

  it('begin with a name, and lead to the new one', async () => {
    await show();
    const go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    const create = host().querySelector('button')!;
    expect(create.disabled).toBe(true);
    const box = host().querySelector('input')!;
    box.value = ' Orchards ';
    box.dispatchEvent(new Event('input'));
    await settle(fixture);
    create.click();
    const request = server.http.expectOne({ method: 'POST', url: '/api/campaigns' });
    expect(request.request.body).toEqual({ name: 'Orchards' });
    request.flush({ id: 9 });
    await settle(fixture);
    expect(go).toHaveBeenCalledWith(['/campaigns', 9]);
  });

  it('stay where they are when the server refuses', async () => {
    await show(campaign());
    const go = vi.spyOn(TestBed.inject(Router), 'navigate');
    const box = host().querySelector('input')!;
    box.value = 'Vineyards';
    box.dispatchEvent(new Event('input'));
    await settle(fixture);
    host().querySelector('button')!.click();
    const taken = 'There is already a campaign with this name.';
    server.http
      .expectOne({ method: 'POST', url: '/api/campaigns' })
      .flush({ type: 'about:blank', title: 'x', status: 409, detail: taken }, { status: 409, statusText: 'x' });
    await settle(fixture);
    expect(document.body.textContent).toContain(taken);
    expect(go).not.toHaveBeenCalled();
    expect(box.value).toBe('Vineyards');
  });

  it('begin with a pattern, which is deleted and brought back', async () => {
    const steps = [{ message: 'Kelp', delay: 0 }, { message: null, delay: 3 }]; // prettier-ignore
    server.answer('/api/patterns', [{ id: 2, name: 'Slow', steps }]);
    await show(campaign());
    expect(textOf(fixture)).toContain('Kelp; 3 working days later a message that has been deleted');
    const begin = vi.spyOn(TestBed.inject(NewCampaigns), 'begin').mockResolvedValue();
    const button = (words: string) =>
      [...document.querySelectorAll('button')].find((b) => b.textContent?.trim() === words) as HTMLButtonElement;
    button('Begin a campaign').click();
    expect(begin).toHaveBeenCalledWith({ kind: 'pattern', patternId: 2 });
    button('Delete').click();
    server.answer('/api/patterns/2', null);
    await settle(fixture);
    button('Undo').click();
    expect(server.answer('/api/patterns/2/restore', null)).toBe(1);
  });
});
