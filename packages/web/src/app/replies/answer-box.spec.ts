import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { AnswerView, SnippetView } from '@baton/contract';
import { Notices } from '../live/notices';
import { LiveServer, settle, textOf, PATIENTLY } from '../testing/live-server';
import { AnswerBox } from './answer-box';

const ANSWER: AnswerView = {
  ...{ obstacle: null, to: 'ana@vines.example', from: 'ines@tidewaterkelp.example', subject: 'Re: Kelp', text: '' },
  ...{ quotes: true, signature: 'Ines\nTidewater', quotation: 'On Mon, Ana wrote:\n> Yes.', leaving: null },
};
const SNIPPETS: SnippetView[] = [
  { id: 1, name: 'Thanks', text: 'Thank you, {{ given name }}.', filled: 'Thank you, Ana.', problem: '' },
  { id: 2, name: 'Crates', text: '{{ crates }}', filled: null, problem: 'There is no crates for this person.' },
];

let server: LiveServer;
let fixture: ComponentFixture<AnswerBox>;
const notices = { say: vi.fn(), offer: vi.fn(), failure: vi.fn() };
const closed = vi.fn();
const host = () => fixture.nativeElement as HTMLElement;
const box = () => host().querySelector('textarea')!;
const button = (words: string) =>
  [...host().querySelectorAll('button')].find((b) => b.textContent?.trim() === words) as HTMLButtonElement;
const kept = () => server.http.match({ method: 'PUT', url: '/api/replies/5/answer' });

beforeEach(async () => {
  for (const mock of [...Object.values(notices), closed]) mock.mockReset();
  TestBed.configureTestingModule({ providers: [...LiveServer.providers(), { provide: Notices, useValue: notices }] });
  server = new LiveServer();
  fixture = TestBed.createComponent(AnswerBox);
  document.body.append(host());
  fixture.componentRef.setInput('replyId', 5);
  fixture.componentRef.setInput('answer', ANSWER);
  fixture.componentInstance.closed.subscribe(closed);
  await settle(fixture);
  server.answer('/api/replies/5/snippets', SNIPPETS);
  await settle(fixture);
});

async function type(text: string): Promise<void> {
  box().value = text;
  box().dispatchEvent(new Event('input'));
  await settle(fixture);
}

describe('an answer while it is written', () => {
  it('says from where to whom, and what follows it', () => {
    expect(textOf(fixture)).toContain('From ines@tidewaterkelp.example to ana@vines.example');
    expect(host().querySelector<HTMLInputElement>('.subject')?.value).toBe('Re: Kelp');
    expect([...host().querySelectorAll('pre')].map((p) => p.textContent)).toEqual([
      'Ines\nTidewater',
      'On Mon, Ana wrote:\n> Yes.',
    ]);
    expect(button('Send').disabled).toBe(true);
  });

  it('is kept a moment after the last letter, and when it is put away', async () => {
    await type('Dear Ana');
    await vi.waitFor(() => {
      const [put] = kept();
      expect(put?.request.body).toEqual({ subject: 'Re: Kelp', text: 'Dear Ana', quotes: true });
      put?.flush(null);
    }, PATIENTLY);
    await settle(fixture);
    await type('Dear Ana,');
    fixture.destroy();
    expect(kept().map((r) => r.request.body as unknown)).toEqual([
      { subject: 'Re: Kelp', text: 'Dear Ana,', quotes: true },
    ]);
  });

  it('is kept also where the page is closed in the middle of a word', async () => {
    const fetched = vi.spyOn(globalThis, 'fetch').mockResolvedValue(new Response(null, { status: 204 }));
    window.dispatchEvent(new Event('pagehide'));
    expect(fetched).not.toHaveBeenCalled();
    await type('Dear An');
    window.dispatchEvent(new Event('pagehide'));
    expect(fetched).toHaveBeenCalledExactlyOnceWith('/api/replies/5/answer', {
      ...{ method: 'PUT', keepalive: true, headers: { 'Content-Type': 'application/json', 'X-Baton': '1' } },
      body: JSON.stringify({ subject: 'Re: Kelp', text: 'Dear An', quotes: true }),
    });
    fetched.mockRestore();
  });

  it('is not changed by what the server tells while it is typed, and takes a draft from elsewhere otherwise', async () => {
    fixture.componentRef.setInput('answer', { ...ANSWER, text: 'Begun elsewhere' });
    await settle(fixture);
    expect(box().value).toBe('Begun elsewhere');
    await type('Mine');
    fixture.componentRef.setInput('answer', { ...ANSWER, text: 'Begun elsewhere' });
    await settle(fixture);
    expect(box().value).toBe('Mine');
  });

  it('is sent by Ctrl+Enter, and can be taken back', async () => {
    await type('Thanks.');
    box().dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', ctrlKey: true, bubbles: true, cancelable: true }));
    const post = server.http.expectOne({ method: 'POST', url: '/api/replies/5/answer' });
    expect(post.request.body).toEqual({ subject: 'Re: Kelp', text: 'Thanks.', quotes: true });
    post.flush({ letterId: 9 });
    await settle(fixture);
    expect(closed).toHaveBeenCalledOnce();
    const [words, action, ms, act] = notices.offer.mock.calls[0] as [string, string, number, () => void];
    expect([words, action, ms]).toEqual([
      'The answer to ana@vines.example leaves in ten seconds.',
      'Take back',
      10_000,
    ]);
    act();
    server.http.expectOne({ method: 'POST', url: '/api/letters/9/take-back' });
    // Nothing is kept of it as a draft.
    fixture.destroy();
    expect(kept()).toEqual([]);
  });

  it('stays where it could not be sent', async () => {
    await type('Thanks.');
    button('Send').click();
    server.http
      .expectOne({ method: 'POST', url: '/api/replies/5/answer' })
      .flush({ detail: 'Held.' }, { status: 409, statusText: 'x' });
    await settle(fixture);
    expect(notices.failure).toHaveBeenCalledOnce();
    expect(closed).not.toHaveBeenCalled();
    expect(box().value).toBe('Thanks.');
    expect(button('Send').disabled).toBe(false);
  });

  it('says why none can be sent', async () => {
    await type('Thanks.');
    fixture.componentRef.setInput('answer', { ...ANSWER, obstacle: 'Everything is held.' });
    await settle(fixture);
    expect(textOf(fixture)).toContain('Everything is held.');
    expect(button('Send').disabled).toBe(true);
    box().dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', ctrlKey: true }));
    server.http.expectNone({ method: 'POST', url: '/api/replies/5/answer' });
  });

  it('takes a snippet at the caret, with the person’s values; one that lacks some says so', async () => {
    await type('Hello. Bye.');
    box().setSelectionRange(7, 7);
    button('Snippets').click();
    await settle(fixture);
    const items = [...document.querySelectorAll<HTMLButtonElement>('.mat-mdc-menu-item')];
    expect(items.map((i) => i.textContent?.replace(/\s+/g, ' ').trim())).toEqual([
      'Thanks',
      'Crates There is no crates for this person.',
      'Write and change snippets …',
    ]);
    expect(items[1]!.disabled).toBe(true);
    items[0]!.click();
    await settle(fixture);
    expect(box().value).toBe('Hello. Thank you, Ana.Bye.');
  });
});
