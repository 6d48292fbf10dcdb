import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter, Router } from '@angular/router';
import type { Need } from '@baton/contract';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveServer, SHELL, settle, textOf } from '../testing/live-server';
import { NeedRow } from './need-row';

const need: Need = {
  ...{ key: 'answer:9', kind: 'answer', title: 'Li Vidal', detail: 'Not for us.', action: 'Read', link: '/replies/9' },
};
const answer: Need = { ...need, settles: { kind: 'outcome', id: 9 } };
let server: LiveServer;
let fixture: ComponentFixture<NeedRow>;
const host = () => fixture.nativeElement as HTMLElement;
const button = (words: string) =>
  [...document.querySelectorAll('button')].find((b) => b.textContent?.trim().startsWith(words)) as HTMLButtonElement;
const press = (key: string) => host().dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));

async function show(shown: Need): Promise<void> {
  fixture.componentRef.setInput('need', shown);
  await settle(fixture);
  server.answer('/api/shell', SHELL);
  await settle(fixture);
}

beforeEach(() => {
  TestBed.configureTestingModule({ providers: [...LiveServer.providers(), provideRouter([])] });
  server = new LiveServer();
  fixture = TestBed.createComponent(NeedRow);
});

describe('what needs a person', () => {
  it('gives an answer its outcome by one key, and takes it back', async () => {
    await show(answer);
    expect(host().getAttribute('aria-keyshortcuts')).toBe('i m l n w p');
    press('n');
    const set = server.http.expectOne('/api/replies/9/outcome');
    expect(set.request.body).toEqual({ outcome: 'no' });
    set.flush(null);
    await settle(fixture);
    expect(document.body.textContent).toContain('Li Vidal: ');
    button('Undo').click();
    expect(server.http.expectOne('/api/replies/9/outcome').request.body).toEqual({ outcome: null });
  });

  it('leaves a key alone that is pressed on one of its buttons', async () => {
    await show(answer);
    button('Set outcome').dispatchEvent(new KeyboardEvent('keydown', { key: 'n', bubbles: true }));
    server.http.expectNone('/api/replies/9/outcome');
  });

  it('is put off until a day: an answer where answers are counted, anything else here', async () => {
    await show(answer);
    press('p');
    await settle(fixture);
    button('In three days').click();
    const again = server.http.expectOne('/api/replies').request;
    expect(again.body).toMatchObject({ ids: [9], change: { remindOn: expect.stringMatching(/^\d{4}-/) as string } });
    await show({ ...need, key: 'resting:3', kind: 'resting' });
    button('Put off').click();
    await settle(fixture);
    button('Tomorrow').click();
    expect(server.http.expectOne('/api/today/put-off').request.body).toMatchObject({ key: 'resting:3' });
    await show({ ...need, key: 'resting:3', kind: 'resting', putOffUntil: '2026-11-27' });
    expect(textOf(fixture)).toContain('put off until Fri 27 Nov');
    button('Bring back').click();
    expect(server.http.expectOne('/api/today/put-off').request.body).toEqual({ key: 'resting:3', until: null });
  });

  it('lets a day’s messages go, and takes somebody’s word for what left', async () => {
    await show({ ...answer, key: 'held:1', kind: 'held', settles: { kind: 'batch', day: '2026-11-24', mailboxId: 2 } });
    button('Release').click();
    const body = { day: '2026-11-24', mailboxId: 2, held: false };
    expect(server.http.expectOne('/api/plan/batch').request.body).toEqual(body);
    await show({ ...answer, key: 'unconfirmed:5', kind: 'unconfirmed', settles: { kind: 'delivery', id: 5 } });
    button('It was not').click();
    expect(server.http.expectOne('/api/deliveries/5/settle').request.body).toEqual({ left: false });
    await show({ ...answer, key: 'letter:6', kind: 'unconfirmed', settles: { kind: 'letter', id: 6 } });
    button('It was sent').click();
    expect(server.http.expectOne('/api/letters/6/settle').request.body).toEqual({ left: true });
  });

  it('opens at Enter, and cannot be put off where it stands for several', async () => {
    const go = vi.spyOn(TestBed.inject(Router), 'navigateByUrl').mockResolvedValue(true);
    await show(answer);
    press('Enter');
    expect(String(go.mock.calls[0]?.[0])).toBe('/replies/9');
    await show({ ...need, key: '', title: '8 more replies', count: 8 });
    expect(button('Put off')).toBeUndefined();
    expect(host().getAttribute('tabindex')).toBeNull();
  });
});
