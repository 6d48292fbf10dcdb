import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { RecipientView } from '@baton/contract';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Notices } from '../live/notices';
import { LiveServer, SHELL, settle, textOf } from '../testing/live-server';
import { NewCampaigns } from './new-campaigns';
import { RecipientsTable } from './recipients-table';

const AT = Date.UTC(2026, 10, 30, 12, 44);
const press = (words: string): void => {
  const buttons = [...host().querySelectorAll('button')];
  buttons.find((b) => b.textContent?.trim() === words)!.click();
};
const person = (n: number, over: Partial<RecipientView> = {}): RecipientView => ({
  ...{ enrolmentId: n, contactId: n, address: `p${n}@grove.example`, name: `P${n}`, state: 'waiting', reason: '' },
  ...{ mailbox: 'ines@tidewaterkelp.example', outcome: null },
  messages: [{ deliveryId: 10 * n, step: 0, state: 'planned', at: AT, reason: '' }],
  ...over,
});

let server: LiveServer;
let fixture: ComponentFixture<RecipientsTable>;
const notices = { say: vi.fn(), failure: vi.fn() };
const host = () => fixture.nativeElement as HTMLElement;
const asked = () => server.http.match((r) => r.url === '/api/campaigns/4/recipients');
const query = (r: ReturnType<typeof asked>[number]) =>
  Object.fromEntries(r.request.params.keys().map((k) => [k, r.request.params.get(k)]));

async function answer(people: RecipientView[], total = people.length): Promise<Record<string, string | null>> {
  const [first, ...others] = asked();
  expect(others).toEqual([]);
  first?.flush({ people, total });
  await settle(fixture);
  return first ? query(first) : {};
}

beforeEach(async () => {
  notices.say.mockReset();
  notices.failure.mockReset();
  TestBed.configureTestingModule({ providers: [...LiveServer.providers(), { provide: Notices, useValue: notices }] });
  server = new LiveServer();
  fixture = TestBed.createComponent(RecipientsTable);
  document.body.append(host());
  // A window without a layout has no rows to show: the scroller is told how high it is.
  vi.spyOn(HTMLElement.prototype, 'clientHeight', 'get').mockReturnValue(600);
  fixture.componentRef.setInput('campaignId', 4);
  fixture.componentRef.setInput('steps', 2);
  await settle(fixture);
  server.answer('/api/shell', SHELL);
  await settle(fixture);
});

describe('the people of a campaign', () => {
  it('say for each message when it is sent, or what became of it', async () => {
    const messages: RecipientView['messages'] = [
      { deliveryId: 1, step: 0, state: 'sent', at: AT, reason: '' },
      { deliveryId: 2, step: 1, state: 'deferred', at: AT + 86_400_000, reason: '450 try later' },
    ];
    const query = await answer([person(1, { messages }), person(2, { messages: [] })]);
    expect(query).toMatchObject({ offset: '0', limit: '200' });
    const heads = [...host().querySelectorAll('[role=columnheader]')].map((h) => h.textContent?.trim());
    expect(heads).toEqual(['', 'Who', 'State', 'From', 'First message', 'Follow-up 1', 'Outcome']);
    expect(textOf(fixture)).toContain('2 people');
    const cells = [...host().querySelectorAll('[role=row]:not(.head)')].map((row) =>
      [...row.querySelectorAll('[role=cell]')].map((c) => c.textContent?.trim()),
    );
    expect(cells[0]?.slice(3)).toEqual(['ines@', 'Mon 30 Nov 12:44', 'to be tried again, Tue 1 Dec 12:44', '']);
    expect(cells[1]?.slice(4)).toEqual(['', '', '']);
    expect(host().querySelector('[title="to be tried again, Tue 1 Dec 12:44: 450 try later"]')).not.toBeNull();
  });

  it('have a column for each message that any of them has had, also where it was taken out since', async () => {
    const messages = [0, 1, 2].map((step) => ({ deliveryId: step, step, state: 'sent' as const, at: AT, reason: '' }));
    await answer([person(1, { messages })]);
    const heads = [...host().querySelectorAll('[role=columnheader]')].map((h) => h.textContent?.trim());
    expect(heads).toEqual(['', 'Who', 'State', 'From', 'First message', 'Follow-up 1', 'Follow-up 2', 'Outcome']);
  });

  it('are asked for by state and by what is looked for', async () => {
    await answer([person(1)]);
    const states = host().querySelector('select')!;
    states.value = 'bounced';
    states.dispatchEvent(new Event('change'));
    await settle(fixture);
    expect(await answer([], 0)).toMatchObject({ state: 'bounced', search: '' });
    const box = host().querySelector<HTMLInputElement>('input[type=search]')!;
    box.value = 'grove';
    box.dispatchEvent(new Event('input'));
    await vi.waitUntil(async () => {
      await settle(fixture);
      const [request] = asked();
      request?.flush({ people: [], total: 0 });
      return request && query(request)['search'] === 'grove';
    }, 60_000);
    await settle(fixture);
    expect(textOf(fixture)).toContain('0 people');
  });

  it('come page by page, and a page that fails is said and asked for again', async () => {
    const all = Array.from({ length: 250 }, (_, i) => person(i + 1));
    await answer(all.slice(0, 200), 250);
    const table = fixture.componentInstance as unknown as { loadMore(first: number): Promise<void> };
    void table.loadMore(10);
    expect(asked()).toEqual([]);
    const failed = table.loadMore(150);
    asked()[0]?.flush({ detail: 'no' }, { status: 503, statusText: 'x' });
    await failed;
    expect(notices.failure).toHaveBeenCalledOnce();
    const more = table.loadMore(150);
    const [request] = asked();
    expect(query(request!)).toMatchObject({ offset: '200' });
    request!.flush({ people: all.slice(200), total: 250 });
    await more;
    await table.loadMore(240);
    expect(asked()).toEqual([]);
  });

  it('let a person say what became of a message that nobody knows of', async () => {
    const messages: RecipientView['messages'] = [
      { deliveryId: 31, step: 0, state: 'unconfirmed', at: AT, reason: 'the connection broke off' },
    ];
    await answer([person(1, { messages })]);
    const button = (words: string) =>
      [...host().querySelectorAll('button')].find((b) => b.textContent?.trim() === words)!;
    expect(textOf(fixture)).toContain('unconfirmed');
    button('It was sent').click();
    const settled = server.http.expectOne((r) => r.method === 'POST' && r.url.includes('/31'));
    expect(settled.request.body).toEqual({ left: true });
    settled.flush(null);
    await settle(fixture);
    expect(notices.say).toHaveBeenCalledWith('Recorded as sent.');
  });

  it('are ticked, with Shift from one to another, and something is done about them', async () => {
    fixture.componentRef.setInput('isOpen', true);
    fixture.componentRef.setInput('mailboxes', [
      { id: 1, address: 'ines@tidewaterkelp.example' },
      { id: 2, address: 'tomas@tidewaterkelp.example' },
    ]);
    await answer(
      [1, 2, 3].map((n) => person(n)),
      500,
    );
    const boxes = () => [...host().querySelectorAll<HTMLInputElement>('[role=cell] input[type=checkbox]')];
    boxes()[0]!.click();
    boxes()[2]!.dispatchEvent(new MouseEvent('click', { shiftKey: true, bubbles: true }));
    await settle(fixture);
    expect(textOf(fixture)).toContain('3 ticked');
    press('End for them');
    const ended = server.http.expectOne('/api/campaigns/4/people');
    expect(ended.request.body).toEqual({ act: 'end', enrolmentIds: [1, 2, 3] });
    const passedOver = [{ reason: 'nothing more is to come for them', people: 2 }];
    ended.flush({ words: 'The campaign was ended for p1@grove.example.', done: 1, passedOver });
    await settle(fixture);
    expect(notices.say).toHaveBeenCalledWith(
      'The campaign was ended for p1@grove.example. 2 people passed over: nothing more is to come for them.',
    );
    expect(textOf(fixture)).not.toContain('ticked');
  });

  it('are what a new campaign is for, also once this one has ended', async () => {
    const begin = vi.spyOn(TestBed.inject(NewCampaigns), 'begin').mockResolvedValue();
    await answer(
      [1, 2].map((n) => person(n, { state: 'done' })),
      2,
    );
    host().querySelector<HTMLInputElement>('[role=cell] input')!.click();
    await settle(fixture);
    expect(textOf(fixture)).not.toContain('End for them');
    press('New campaign for them');
    expect(begin).toHaveBeenCalledWith({ kind: 'recipients', campaignId: 4, who: { enrolmentIds: [1] } });
  });

  it('are all meant that a search finds, also those that are not loaded, once that is pressed', async () => {
    fixture.componentRef.setInput('isOpen', true);
    fixture.componentRef.setInput('mailboxes', [{ id: 1, address: 'ines@tidewaterkelp.example' }]);
    await answer(
      [1, 2].map((n) => person(n)),
      500,
    );
    host().querySelector<HTMLInputElement>('[role=columnheader] input')!.click();
    await settle(fixture);
    expect(textOf(fixture)).toContain('2 ticked');
    press('All 500 found');
    await settle(fixture);
    expect(textOf(fixture)).toContain('500 ticked');
    press('Skip next message');
    const { request } = server.http.expectOne('/api/campaigns/4/people');
    expect(request.body).toEqual({ act: 'skip', found: { state: '', search: '', people: 500 } });
  });

  it('is ordered by a column at a press, the other way at the second, and as the list has it at the third', async () => {
    await answer([person(1), person(2)]);
    const head = (words: string) =>
      [...host().querySelectorAll('[role=columnheader]')].find((h) => h.textContent?.trim().startsWith(words));
    const orders: (string | null)[][] = [];
    for (let i = 0; i < 3; i++) {
      head('Follow-up 1')?.querySelector('button')?.click();
      await settle(fixture);
      const [request] = asked();
      orders.push(['sort', 'descending'].map((name) => request?.request.params.get(name) ?? null));
      request?.flush({ people: [], total: 0 });
      await settle(fixture);
    }
    expect(orders).toEqual([['step_1', 'false'], ['step_1', 'true'], ['', 'false']]); // prettier-ignore
    head('Who')?.querySelector('button')?.click();
    await settle(fixture);
    expect(head('Who')?.getAttribute('aria-sort')).toBe('ascending');
  });
});
