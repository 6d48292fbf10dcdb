import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { Router } from '@angular/router';
import { afterEach, beforeEach, describe, expect, it, vi, type MockInstance } from 'vitest';
import type { IncomingView, ReplyFilter, ReplyPage, ThreadView } from '@baton/contract';
import { LiveServer, SHELL, settle, textOf } from '../testing/live-server';
import { Replies } from './replies';

const reply = (id: number, over: Partial<IncomingView> = {}): IncomingView => ({
  id,
  kind: 'reply',
  receivedAt: Date.UTC(2026, 10, 24, 9),
  fromName: `Person ${id}`,
  fromKey: `p${id}@vines.example`,
  subject: 'Re: Kelp',
  own: 'Yes please.',
  because: 'it answers a message by its Message-ID',
  did: 'No follow-up will be sent: they replied.',
  canUndo: true,
  heldColleagues: 0,
  details: {},
  readAs: null,
  match: 'sure',
  person: `p${id}@vines.example`,
  outcome: null,
  assignedTo: '',
  remindOn: null,
  isAnswered: false,
  mailbox: 'ines@tidewaterkelp.example',
  campaignId: 1,
  campaign: 'Vines',
  ...over,
});

const THREAD: ThreadView = {
  messages: [
    {
      ...{ key: 'incoming 1', from: 'them', incomingId: 1, letterId: null, state: 'sent', reason: '', at: 0 },
      ...{ who: 'Person 1', mailbox: 'ines@tidewaterkelp.example', campaign: '', subject: 'Re', text: 'Yes please.' },
      ...{ whole: '', parts: { hasPage: false, hasRemotePictures: false, files: [] } },
    },
  ],
  others: 0,
  notes: [],
  contactId: 7,
  answer: {
    ...{ obstacle: null, to: 'p1@vines.example', from: 'ines@tidewaterkelp.example', subject: 'Re: Kelp', text: '' },
    ...{ quotes: true, signature: 'Ines', quotation: '> Yes please.', leaving: null },
  },
};

/** The same as the thread of another message. */
const threadOf = (id: number, thread: ThreadView): ThreadView => ({
  ...thread,
  messages: thread.messages.map((m) => ({ ...m, incomingId: id })),
});

let server: LiveServer;
let fixture: ComponentFixture<Replies>;
let go: MockInstance;
const host = () => fixture.nativeElement as HTMLElement;
beforeEach(() => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
  // A window without a layout has no rows to show: the scroller is told how high it is.
  vi.spyOn(HTMLElement.prototype, 'clientHeight', 'get').mockReturnValue(600);
  Element.prototype.scrollIntoView = vi.fn();
  fixture = TestBed.createComponent(Replies);
  document.body.append(host());
});
afterEach(() => {
  host().remove();
  vi.restoreAllMocks();
});

/** Everything asked of the server, answered as it would answer. */
function answer(all: IncomingView[]): void {
  for (const { request, flush } of server.http
    .match((r) => r.url === '/api/replies')
    .map((t) => ({ request: t.request, flush: (b: ReplyPage) => t.flush(b) }))) {
    const show = request.params.get('show') as ReplyFilter;
    const found = (filter: ReplyFilter) =>
      all.filter((r) =>
        filter === 'all'
          ? true
          : filter === 'without_outcome'
            ? r.kind === 'reply' && r.outcome === null
            : r.kind === filter || (filter === 'unsubscribe' && r.kind === 'complaint'),
      );
    const filters: ReplyFilter[] = [
      ...(['all', 'without_outcome', 'unmatched', 'reply', 'left', 'auto_reply', 'unsubscribe', 'bounce'] as const),
    ];
    const [offset, limit] = ['offset', 'limit'].map((name) => Number(request.params.get(name))) as [number, number];
    flush({
      replies: found(show).slice(offset, offset + limit),
      total: found(show).length,
      counts: Object.fromEntries(filters.map((f) => [f, found(f).length])),
      colleagues: ['Wren'],
    });
  }
  for (const r of all) server.http.match(`/api/replies/${r.id}`).forEach((t) => t.flush(r));
}

async function show(all: IncomingView[], open: string | undefined, thread = THREAD): Promise<void> {
  fixture.componentRef.setInput('replyId', open);
  await settle(fixture);
  server.answer('/api/shell', SHELL);
  answer(all);
  await settle(fixture);
  server.http
    .match((r) => r.url.endsWith('/thread'))
    .forEach((r) => r.flush(threadOf(Number(r.request.url.split('/').at(-2)), thread)));
  await settle(fixture);
}
const press = async (key: string, on: EventTarget = document.body) => {
  on.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
  await settle(fixture);
};

describe('Replies', () => {
  it('opens the newest that waits, and says what Baton did about it and why', async () => {
    await show([reply(2), reply(1)], undefined);
    expect(go).toHaveBeenCalledWith(['/replies', 2], { replaceUrl: true, queryParams: { show: 'without_outcome' } });
    await show([reply(2), reply(1)], '2');
    expect(textOf(fixture)).toContain(
      'No follow-up will be sent: they replied. Because it answers a message by its Message-ID.',
    );
  });

  it('sorts by what they are, and counts each', async () => {
    await show(
      [reply(1), reply(2, { outcome: 'no' }), reply(3, { kind: 'bounce' }), reply(4, { kind: 'complaint' })],
      '1',
    );
    const counts = [...host().querySelectorAll('.filters button')].map((b) =>
      b.textContent?.replace(/\s+/g, ' ').trim(),
    );
    expect(counts).toEqual([
      'To decide 1',
      'Comes back 0',
      'Replies 2',
      'Left or moved 0',
      'Auto-replies 0',
      'Unsubscribes 1',
      'Bounces 1',
      'From nobody known 0',
      'All 4',
    ]);
  });

  it('sets an outcome with one key, takes it back with the same, and keeps what is open in view', async () => {
    await show([reply(1)], '1');
    await press('m');
    const put = server.http.expectOne('/api/replies/1/outcome');
    expect(put.request.body).toEqual({ outcome: 'meeting' });
    put.flush(null);
    server.tell('replies');
    await settle(fixture);
    answer([reply(1, { outcome: 'meeting' })]);
    await settle(fixture);
    expect(host().querySelectorAll('li .row')).toHaveLength(1);
    await press('m');
    expect(server.http.expectOne('/api/replies/1/outcome').request.body).toEqual({ outcome: null });
  });

  it('goes on and back by key, but not while somebody types', async () => {
    await show([reply(3), reply(2), reply(1)], '2');
    await press('j');
    expect(go).toHaveBeenLastCalledWith(['/replies', 1], expect.anything());
    await press('ArrowUp');
    expect(go).toHaveBeenLastCalledWith(['/replies', 3], expect.anything());
    const calls = go.mock.calls.length;
    const box = document.body.appendChild(document.createElement('input'));
    await press('j', box);
    await press('i', box);
    box.remove();
    expect(go.mock.calls).toHaveLength(calls);
    server.http.expectNone('/api/replies/2/outcome');
  });

  it('lists any number, and loads what is looked at', async () => {
    const all = Array.from({ length: 10_000 }, (_, i) => reply(20_000 - i));
    await show(all, '20000');
    const names = () => [...host().querySelectorAll('li .name')].map((n) => n.textContent);
    expect(names()[0]).toBe('Person 20000');
    expect(names().length).toBeLessThan(100);
    const scroller = host().querySelector<HTMLElement>('cdk-virtual-scroll-viewport')!;
    expect(scroller.querySelector<HTMLElement>('.cdk-virtual-scroll-spacer')?.style.height).toBe('600000px');
    scroller.scrollTop = 5000 * 60;
    scroller.dispatchEvent(new Event('scroll'));
    await vi.waitFor(
      async () => {
        await settle(fixture);
        answer(all);
        await settle(fixture);
        expect(names()).toContain('Person 14995');
      },
      { timeout: 60_000 },
    );
  });

  it('ticks several, up to one with Shift, and gives them an outcome at once', async () => {
    await show([reply(4), reply(3), reply(2), reply(1)], '4');
    const boxes = [...host().querySelectorAll<HTMLInputElement>('li input')];
    boxes[1]!.click();
    boxes[3]!.dispatchEvent(new MouseEvent('click', { bubbles: true, shiftKey: true }));
    await settle(fixture);
    expect(textOf(fixture)).toContain('3 ticked');
    await press('x');
    expect(textOf(fixture)).toContain('4 ticked');
    [...host().querySelectorAll('button')].find((b) => b.textContent?.trim() === 'Outcome')!.click();
    await settle(fixture);
    [...document.querySelectorAll<HTMLElement>('.mat-mdc-menu-item')]
      .find((i) => i.textContent?.trim() === 'Later')!
      .click();
    await settle(fixture);
    const patch = server.http.expectOne({ method: 'PATCH', url: '/api/replies' });
    expect(patch.request.body).toEqual({ ids: [3, 2, 1, 4], change: { outcome: 'later' } });
    patch.flush({ changed: 4 });
    await settle(fixture);
    expect(textOf(fixture)).not.toContain('ticked');
  });

  it('asks on which day to write again, and who sees to it', async () => {
    await show([reply(1)], '1');
    await press('b');
    const day = [...document.querySelectorAll<HTMLElement>('bt-day-panel .row')].find((b) =>
      b.textContent?.includes('Next Monday'),
    )!;
    expect(day.textContent).toContain('Mon 30 Nov');
    day.click();
    expect(server.http.expectOne('/api/replies').request.body).toEqual({
      ids: [1],
      change: { remindOn: '2026-11-30' },
    });
    await settle(fixture);
    await press('a');
    const box = document.querySelector<HTMLInputElement>('bt-assign-panel input')!;
    box.value = ' Wren ';
    box.dispatchEvent(new Event('input'));
    document.querySelector('bt-assign-panel form')!.dispatchEvent(new Event('submit', { cancelable: true }));
    expect(server.http.expectOne('/api/replies').request.body).toEqual({ ids: [1], change: { assignedTo: 'Wren' } });
  });

  it('opens the first of another filter', async () => {
    await show([reply(2), reply(1, { kind: 'bounce' })], '2');
    [...host().querySelectorAll<HTMLButtonElement>('.filters button')]
      .find((b) => b.textContent?.includes('Bounces'))!
      .click();
    await settle(fixture);
    answer([reply(2), reply(1, { kind: 'bounce' })]);
    await settle(fixture);
    expect(go).toHaveBeenLastCalledWith(['/replies', 1], { replaceUrl: false, queryParams: { show: 'bounce' } });
  });

  it('goes on to the next once an outcome is set by key', async () => {
    await show([reply(2), reply(1)], '2');
    await press('n');
    server.http.expectOne('/api/replies/2/outcome').flush(null);
    await settle(fixture);
    expect(go).toHaveBeenLastCalledWith(['/replies', 1], expect.anything());
  });

  it('undoes by key what Baton did, where it did anything', async () => {
    await show([reply(1)], '1');
    await press('u');
    server.http.expectOne('/api/replies/1/undo').flush(null);
    await show([reply(3, { canUndo: false })], '3');
    await press('u');
    server.http.expectNone('/api/replies/3/undo');
  });

  it('says what a reply seems to come to, with its words, until a person has said', async () => {
    const details = { suggests: { what: 'not_interested', words: 'no need' } } as const;
    await show([reply(1, { details })], '1');
    expect(textOf(fixture)).toContain('Perhaps no: “no need”');
    await show([reply(2, { details, outcome: 'later' })], '2');
    expect(textOf(fixture)).not.toContain('Perhaps');
  });

  it('asks whose a message is where it is not sure, and takes either answer', async () => {
    await show([reply(1, { match: 'unsure', person: 'ana@vines.example' })], '1');
    expect(textOf(fixture)).toContain('Is this about the message to ana@vines.example?');
    const [yes, no] = host().querySelectorAll<HTMLButtonElement>('.ask button');
    yes!.click();
    expect(server.http.expectOne('/api/replies/1/person').request.body).toEqual({ address: 'ana@vines.example' });
    no!.click();
    expect(server.http.expectOne('/api/replies/1/person').request.body).toEqual({ address: null });
  });

  it('lets a person say whose a message is that refers to nothing, or that it is not for us', async () => {
    await show([reply(1, { match: null, person: null, campaign: '', campaignId: null, did: '', canUndo: false })], '1');
    const box = host().querySelector<HTMLInputElement>('.ask input')!;
    box.value = ' bo@hills.example ';
    box.dispatchEvent(new Event('input'));
    await settle(fixture);
    host()
      .querySelector<HTMLFormElement>('.ask form')!
      .dispatchEvent(new Event('submit', { cancelable: true }));
    expect(server.http.expectOne('/api/replies/1/person').request.body).toEqual({ address: 'bo@hills.example' });
    [...host().querySelectorAll<HTMLButtonElement>('.ask button')].at(-1)!.click();
    expect(server.http.expectOne('/api/replies/1/kind').request.body).toEqual({ kind: 'noise' });
  });

  it('takes whom a message names onto the list', async () => {
    const contact = { name: 'Bo Lind', address: 'bo@vines.example', role: 'head of purchasing' };
    await show([reply(1, { kind: 'left', details: { contact } })], '1');
    expect(textOf(fixture)).toContain('They name Bo Lind, head of purchasing, bo@vines.example.');
    host().querySelector<HTMLButtonElement>('.named button')!.click();
    const post = server.http.expectOne('/api/replies/1/contact');
    expect(post.request.body).toMatchObject({ address: 'bo@vines.example', name: 'Bo Lind' });
  });

  it('asks who the right person is, where the message does not say', async () => {
    await show([reply(1, { outcome: 'wrong_person' })], '1');
    const [name, address] = host().querySelectorAll<HTMLInputElement>('form.named input');
    for (const [box, value] of [
      [name, 'Bo Lind '],
      [address, 'bo@vines.example'],
    ] as const) {
      box!.value = value;
      box!.dispatchEvent(new Event('input'));
    }
    host()
      .querySelector('form.named')!
      .dispatchEvent(new Event('submit', { cancelable: true }));
    const post = server.http.expectOne('/api/replies/1/contact');
    expect(post.request.body).toEqual({ address: 'bo@vines.example', name: 'Bo Lind' });
  });

  it('changes an address in the list where that is what the message says', async () => {
    const contact = { name: null, address: 'ana@new.example', role: null };
    await show([reply(1, { kind: 'address_changed', details: { contact } })], '1');
    const [change, ...others] = host().querySelectorAll<HTMLButtonElement>('.named button');
    expect([change?.textContent?.trim(), others]).toEqual(['Change it in the list', []]);
    change!.click();
    expect(server.http.expectOne('/api/replies/1/address').request.body).toEqual({ address: 'ana@new.example' });
  });

  it('offers no outcome of what is nobody’s', async () => {
    await show([reply(1, { match: null, person: null })], '1');
    await press('i');
    server.http.expectNone('/api/replies/1/outcome');
    expect(host().querySelector('.outcomes .group')).toBeNull();
  });

  it('shows what the server said of a message that came back, and what a message had been read as', async () => {
    await show([reply(1, { kind: 'bounce', readAs: 'reply', details: { serverWords: '550 no such user' } })], '1');
    expect(textOf(fixture)).toContain('The server said: 550 no such user');
    expect(textOf(fixture)).toContain('It had been read as: reply.');
  });

  it('sets no outcome for what is no answer of a person', async () => {
    await show([reply(1, { kind: 'bounce' })], '1');
    await press('i');
    server.http.expectNone('/api/replies/1/outcome');
    expect(host().querySelector('.outcomes')).toBeNull();
  });
});
