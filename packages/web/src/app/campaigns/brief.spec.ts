import { MatDialog } from '@angular/material/dialog';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { of } from 'rxjs';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { BriefView } from '@baton/contract';
import { Notices } from '../live/notices';
import { aBrief } from '../testing/a-brief';
import { LiveServer, SHELL, settle, textOf, PATIENTLY } from '../testing/live-server';
import { Brief } from './brief';

const brief = aBrief;

let server: LiveServer;
let fixture: ComponentFixture<Brief>;
const host = () => fixture.nativeElement as HTMLElement;
beforeEach(() => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(Brief);
  // A window without a layout has nowhere to scroll to.
  HTMLElement.prototype.scrollIntoView = vi.fn();
  fixture.componentRef.setInput('campaignId', '4');
});

async function show(b: BriefView): Promise<void> {
  await settle(fixture);
  server.answer('/api/shell', SHELL);
  server.answer('/api/campaigns/4', b);
  await settle(fixture);
  server.answer('/api/lists', []);
  server.answer('/api/campaigns/4/recipients', { people: [], total: 0 });
  await settle(fixture);
}
const button = (words: string) =>
  [...host().querySelectorAll('button')].find((b) => (b.textContent ?? '').trim() === words) as HTMLButtonElement;

describe('Brief', () => {
  it('says the whole campaign in sentences', async () => {
    await show(brief());
    const words = textOf(fixture).replace(/ ([;,.])/g, '$1');
    expect(words).toContain('Write to 312 people of North-coast vineyards; 14 are left out.');
    expect(words).toContain(
      'then, 3 working days later, to those who have not replied, A short reminder in the same thread.',
    );
    expect(words).toContain('From ines@tidewaterkelp.example, at most 90 a day together,');
    expect(words).toContain(
      'on weekdays from 9:00 to 16:30 in each person’s own time zone, starting Monday 30 November.',
    );
  });

  it('says how it goes beside other campaigns, and lets that be chosen, from 1 to 9', async () => {
    await show(brief());
    const words = () => textOf(fixture).replace(/ ([;,.])/g, '$1');
    expect(words()).toContain('as often as other campaigns,');
    button('as often as other campaigns').click();
    await settle(fixture);
    const label = [...host().querySelectorAll('label')].find((l) =>
      l.textContent?.includes('compared with other campaigns'),
    )!;
    const field = label.querySelector('select')!;
    expect([...field.options].map((o) => o.value)).toEqual(['1', '2', '3', '4', '5', '6', '7', '8', '9']);
    field.value = '9';
    field.dispatchEvent(new Event('change'));
    await settle(fixture);
    const put = server.http.expectOne((r) => r.method === 'PUT');
    expect(put.request.body).toMatchObject({ share: 9 });
    put.flush(brief({ share: 9 }));
    await settle(fixture);
    expect(words()).toContain('9 starts for each one of another campaign,');
  });

  it('does not start while something is in the way, and offers what settles it', async () => {
    const fix = {
      kind: 'fix' as const,
      text: '11 people have no company',
      remedy: { label: 'Leave them out', act: 'leave_out_blank' as const },
    };
    const b = brief();
    await show({ ...b, forecast: { ...b.forecast, obstacles: [fix] } });
    expect(button('Start: 312 people, ends Tue 15 Dec').disabled).toBe(true);
    button('Leave them out').click();
    await settle(fixture);
    const put = server.http.expectOne((r) => r.method === 'PUT');
    expect(put.request.body).toMatchObject({ leaveOutBlank: true, name: 'Vineyards', dailyLimit: 90 });
  });

  it('has domains of a list checked that nobody has checked, and says so', async () => {
    const look = {
      kind: 'look' as const,
      text: '214 addresses of the list Vineyards have never been checked: some of them will bounce',
      remedy: { label: 'Check their domains', act: 'ask_domains' as const, listId: 7 },
    };
    const b = brief();
    await show({ ...b, forecast: { ...b.forecast, obstacles: [look] } });
    const say = vi.spyOn(TestBed.inject(Notices), 'say');
    button('Check their domains').click();
    server.http.expectOne({ method: 'POST', url: '/api/lists/7/ask-domains' }).flush({ domains: 31 });
    expect(say).toHaveBeenCalledWith('31 domains are being checked; which accept no mail is said here.');
  });

  it('never makes a quick choice on what was there before: one save after another, each with all that was chosen', async () => {
    await show(brief({ leaveOutBlank: false }));
    const page = (fixture.componentInstance as unknown as { state: { change(c: Partial<BriefView>): void } }).state;
    const puts = () => server.http.match((r) => r.method === 'PUT');
    page.change({ leaveOutBlank: true });
    page.change({ dailyLimit: 50 });
    page.change({ mailboxIds: [1, 2] });
    await settle(fixture);
    // Shown at once, before the server has said anything, and nothing starts meanwhile.
    expect(textOf(fixture).replace(/ ([;,.])/g, '$1')).toContain('From 2 mailboxes, at most 50 a day together,');
    expect(button('Start: 312 people, ends Tue 15 Dec').disabled).toBe(true);
    const [first, ...none] = puts();
    expect(none).toEqual([]);
    expect(first!.request.body).toMatchObject({ leaveOutBlank: true, dailyLimit: 90 });
    first!.flush(brief({ leaveOutBlank: true }));
    await settle(fixture);
    const [second] = puts();
    expect(second!.request.body).toMatchObject({ leaveOutBlank: true, dailyLimit: 50, mailboxIds: [1, 2] });
    // What was asked for before the last choice was taken comes late, and does not undo it.
    server.tell('campaigns');
    await settle(fixture);
    second!.flush(brief({ leaveOutBlank: true, dailyLimit: 50, mailboxIds: [1, 2] }));
    await settle(fixture);
    server.answer('/api/campaigns/4', brief({ dailyLimit: 90 }));
    await settle(fixture);
    expect(textOf(fixture)).toContain('at most 50 a day together');
  });

  it('starts with the numbers that were shown, after the person has said that these people may be written to', async () => {
    await show(brief());
    const open = vi.spyOn(TestBed.inject(MatDialog), 'open');
    open.mockReturnValueOnce({ afterClosed: () => of(undefined) } as never);
    button('Start: 312 people, ends Tue 15 Dec').click();
    await settle(fixture);
    server.http.expectNone((r) => r.method === 'POST');
    open.mockReturnValueOnce({ afterClosed: () => of(true) } as never);
    button('Start: 312 people, ends Tue 15 Dec').click();
    await settle(fixture);
    const post = server.http.expectOne({ method: 'POST', url: '/api/campaigns/4/start' });
    expect(post.request.body).toEqual({ people: 312, lastDay: '2026-12-15' });
    const offer = vi.spyOn(TestBed.inject(Notices), 'offer');
    // The server has nothing to say to that.
    post.flush(null, { status: 204, statusText: 'No Content' });
    await settle(fixture);
    const words = 'Vineyards has started. Nothing leaves in the first 2 minutes, in which it can be undone.';
    expect(offer.mock.calls[0]?.slice(0, 2)).toEqual([words, 'Undo']);
    offer.mock.calls[0]?.[3]();
    await settle(fixture);
    server.http.expectOne('/api/campaigns/4/changes/undo');
  });

  it('asks for a draft’s plan again when its list changes, and not at every message that leaves', async () => {
    await show(brief());
    await new Promise((resolve) => setTimeout(resolve, 300));
    server.tell('progress', 'today');
    await settle(fixture);
    expect(server.answer('/api/campaigns/4', brief())).toBe(0);
    server.tell('people');
    await settle(fixture);
    expect(server.answer('/api/campaigns/4', brief({ name: 'Changed' }))).toBe(1);
  });

  it('follows a running campaign; once it has ended its sentences are no longer pressed', async () => {
    await show(brief({ state: 'running', startedAt: 1, states: { waiting: 312 } }));
    server.answer(
      '/api/campaigns/4',
      brief({ state: 'running', startedAt: 1, states: { waiting: 300, in_progress: 12 } }),
    );
    await settle(fixture);
    expect(textOf(fixture)).toContain('12 in progress');
    const choices = () => [...host().querySelectorAll<HTMLButtonElement>('.choice')];
    expect(choices().some((c) => c.disabled)).toBe(false);
    expect(button('Hold')).toBeTruthy();
    server.tell('progress');
    await settle(fixture);
    server.answer('/api/campaigns/4', brief({ state: 'finished', startedAt: 1, states: { done: 312 } }));
    await settle(fixture);
    expect(choices().every((c) => c.disabled)).toBe(true);
  });
});

describe('the brief of a campaign that runs', () => {
  const running = (over: Partial<BriefView> = {}) => brief({ state: 'running', revision: 3, ...over });
  const isFor = (url: string) => server.http.match((r) => r.url === `/api/campaigns/4/${url}`).at(-1);
  const { listName, segmentWords, alsoWords, exceptWords, mailboxes, steps } = brief();
  const names = { listName, segmentWords, alsoWords, exceptWords, mailboxes, steps };
  const view = { names, changes: ['It is slower.'], effects: ['4 messages move.'], faults: [], loads: [] };

  async function showRunning(b: BriefView): Promise<void> {
    await show(b);
    server.answer('/api/campaigns/4', b);
    await settle(fixture);
  }
  async function preview(answer: object) {
    await vi.waitFor(async () => {
      await settle(fixture);
      const asked = isFor('changes/preview');
      expect(asked).toBeDefined();
      asked!.flush(answer);
    }, PATIENTLY);
    await settle(fixture);
  }
  async function chooseShare(n: string): Promise<void> {
    button('as often as other campaigns').click();
    await settle(fixture);
    const label = [...host().querySelectorAll('label')].find((l) => l.textContent?.includes('compared with other'))!;
    const field = label.querySelector('select')!;
    field.value = n;
    field.dispatchEvent(new Event('change'));
    await settle(fixture);
  }

  it('calls what is chosen by its name as soon as the server has said it', async () => {
    await showRunning(running());
    await chooseShare('9');
    await preview({ ...view, names: { ...names, listName: 'Orchards', alsoWords: ['Gardens'] } });
    expect(textOf(fixture)).toContain('of Orchards and of Gardens');
    button('Drop').click();
    await settle(fixture);
    expect(textOf(fixture)).not.toContain('Gardens');
  });

  it('collects what is chosen, says what it does, and makes it when that is pressed', async () => {
    await showRunning(running());
    await chooseShare('9');
    expect(server.http.match((r) => r.method === 'PUT')).toEqual([]);
    expect(textOf(fixture)).toContain('9 starts for each one of another campaign');
    await preview(view);
    expect(textOf(fixture)).toContain('It is slower.');
    expect(textOf(fixture)).toContain('4 messages move.');
    button('Apply').click();
    await settle(fixture);
    const made = isFor('changes')!;
    expect(made.request.body).toMatchObject({ share: 9, revision: 3 });
    const lastChange = { at: 0, words: ['It is slower.'], whyNotUndo: null, needsLaterEnd: false };
    made.flush(running({ share: 9, revision: 4, lastChange }));
    await settle(fixture);
    expect(textOf(fixture)).toContain('Nothing has left since.');
    button('Undo this change').click();
    await settle(fixture);
    isFor('changes/undo')!.flush(running({ revision: 5 }));
    await settle(fixture);
    expect(textOf(fixture)).toContain('as often as other campaigns');
    expect(button('Undo this change')).toBeUndefined();
  });

  it('is ended, which can be taken back at once', async () => {
    await showRunning(running());
    const offer = vi.spyOn(TestBed.inject(Notices), 'offer');
    button('End').click();
    await settle(fixture);
    isFor('end')!.flush(null, { status: 204, statusText: 'No Content' });
    await settle(fixture);
    expect(offer).toHaveBeenCalledWith(
      'Vineyards has been ended: nothing more leaves.',
      'Undo',
      15_000,
      expect.anything(),
    );
  });

  it('goes on with a later last day once it has ended with its own', async () => {
    const lastChange = { at: 0, words: ['It ended with its last day.'], whyNotUndo: null, needsLaterEnd: true };
    await showRunning(running({ state: 'finished', lastChange }));
    expect(button('Undo this change')).toBeUndefined();
    const day = host().querySelector<HTMLInputElement>('input[aria-label="New last day"]')!;
    day.value = '12 Jan 2027';
    day.dispatchEvent(new Event('input', { bubbles: true }));
    day.dispatchEvent(new Event('change', { bubbles: true }));
    await settle(fixture);
    button('Go on').click();
    await settle(fixture);
    const made = isFor('go-on')!;
    expect(made.request.body).toEqual({ endDate: '2027-01-12' });
    made.flush(running({ endDate: '2027-01-12' }));
    await settle(fixture);
    expect(textOf(fixture)).toContain('Nothing leaves after');
    expect(button('Go on')).toBeUndefined();
  });

  it('drops what was chosen', async () => {
    await showRunning(running());
    await chooseShare('9');
    await preview(view);
    button('Drop').click();
    await settle(fixture);
    expect(textOf(fixture)).toContain('as often as other campaigns');
    expect(button('Apply')).toBeUndefined();
  });

  it('does not make what cannot be, or what somebody else was quicker with', async () => {
    await showRunning(running());
    await chooseShare('9');
    await preview({ ...view, faults: ['No mailbox is chosen.'] });
    expect(textOf(fixture)).toContain('No mailbox is chosen.');
    expect(button('Apply').disabled).toBe(true);
  });

  it('says when first messages begin, when nothing leaves any more, and who has a minute of their own', async () => {
    const { forecast } = aBrief();
    const ownTimes = { people: 12, later: 1, who: [] };
    await show(
      brief({ startMinute: 840, endDate: '2026-12-11', endMinute: 1020, forecast: { ...forecast, ownTimes } }),
    );
    const words = textOf(fixture).replace(/ ([;,.])/g, '$1');
    expect(words).toContain('starting Monday 30 November at 14:00.');
    expect(words).toContain('Nothing leaves after Friday 11 December at 17:00.');
    expect(words).toContain('12 people get the first message at their own time; 1 of them later.');
  });

  it('says what somebody else has changed in the draft when a choice of its own is refused for that', async () => {
    await show(brief());
    button('3 working days').click();
    await settle(fixture);
    const wait = host().querySelector<HTMLInputElement>('bt-brief-panel input[type=number]')!;
    wait.value = '4';
    wait.dispatchEvent(new Event('change'));
    await settle(fixture);
    server.refuse('/api/campaigns/4', 409, 'Somebody has changed this campaign since you opened it.');
    await settle(fixture);
    server.answer('/api/campaigns/4', brief({ revision: 1, dailyLimit: 40, startDate: '2026-12-07' }));
    await settle(fixture);
    expect(textOf(fixture)).toContain('Somebody else has changed this draft meanwhile');
    const told = [...host().querySelectorAll('.changed li')].map((l) => l.textContent?.trim());
    expect(told).toEqual([
      'It sends at most 40 a day, instead of at most 90 a day.',
      'First messages leave from Monday 7 December, instead of Monday 30 November.',
    ]);
    button('Close').click();
    await settle(fixture);
    expect(host().querySelector('.changed')).toBeNull();
  });
});
