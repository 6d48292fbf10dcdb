import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { Router } from '@angular/router';
import { beforeEach, describe, expect, it, vi, type MockInstance } from 'vitest';
import type { IncomingView } from '@baton/contract';
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
  did: 'No follow-up will go out: they answered.',
  outcome: null,
  mailbox: 'ines@tidewaterkelp.example',
  campaignId: 1,
  campaign: 'Vines',
  ...over,
});

let server: LiveServer;
let fixture: ComponentFixture<Replies>;
let go: MockInstance;
const host = () => fixture.nativeElement as HTMLElement;
beforeEach(() => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  go = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
  fixture = TestBed.createComponent(Replies);
});

async function show(all: IncomingView[], open: string | undefined): Promise<void> {
  fixture.componentRef.setInput('replyId', open);
  await settle(fixture);
  server.answer('/api/shell', SHELL);
  server.answer('/api/replies', all);
  await settle(fixture);
  server.http
    .match((r) => r.url.endsWith('/thread'))
    .forEach((r) => r.flush([{ direction: 'in', at: 0, who: 'Person 1', subject: 'Re', text: 'Yes please.' }]));
  await settle(fixture);
}
const press = async (key: string, on: EventTarget = document.body) => {
  on.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
  await settle(fixture);
};

describe('Replies', () => {
  it('opens the newest that waits, and says what Baton did about it and why', async () => {
    await show([reply(2), reply(1)], undefined);
    expect(go).toHaveBeenCalledWith(['/replies', 2], { replaceUrl: true });
    await show([reply(2), reply(1)], '2');
    expect(textOf(fixture)).toContain(
      'No follow-up will go out: they answered. Because it answers a message by its Message-ID.',
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
      'Without outcome 1',
      'Replies 2',
      'Auto-replies 0',
      'Unsubscribes 1',
      'Bounces 1',
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
    server.answer('/api/replies', [reply(1, { outcome: 'meeting' })]);
    await settle(fixture);
    expect(host().querySelectorAll('li .row')).toHaveLength(1);
    await press('m');
    expect(server.http.expectOne('/api/replies/1/outcome').request.body).toEqual({ outcome: null });
  });

  it('goes on and back by key, but not while somebody types', async () => {
    await show([reply(3), reply(2), reply(1)], '2');
    await press('j');
    expect(go).toHaveBeenLastCalledWith(['/replies', 1]);
    await press('ArrowUp');
    expect(go).toHaveBeenLastCalledWith(['/replies', 3]);
    const calls = go.mock.calls.length;
    const box = document.body.appendChild(document.createElement('input'));
    await press('j', box);
    await press('i', box);
    box.remove();
    expect(go.mock.calls).toHaveLength(calls);
    server.http.expectNone('/api/replies/2/outcome');
  });

  it('sets no outcome for what is no answer of a person', async () => {
    await show([reply(1, { kind: 'bounce' })], '1');
    await press('i');
    server.http.expectNone('/api/replies/1/outcome');
    expect(host().querySelector('.outcomes')).toBeNull();
  });
});
