import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { Router } from '@angular/router';
import type { MessageView, ProofView, Reading } from '@baton/contract';
import { EMPTY_CONTENT, letterDoc, SHIPPED_LAYOUTS, type MessageContent } from '@baton/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveServer, settle, textOf } from '../testing/live-server';
import { Messages } from './messages';

const written: MessageContent = {
  ...EMPTY_CONTENT,
  subject: 'Kelp for {{ company }}',
  body: letterDoc('Hello {{ given_name | default: "there" }},\n\n{{ frist_name }}'),
};
const message: MessageView = {
  id: 4,
  name: 'Trial',
  content: written,
  updatedAt: 0,
  proofsReadAt: null,
  changedSinceRead: false,
  fault: null,
  usedBy: [],
};
const proof: ProofView = {
  ...{ index: 0, total: 3, from: 'Ines <ines@x.example>', to: 'ana@x.example', replyTo: '', cc: [], bcc: [] },
  ...{
    subject: 'Kelp for Holm',
    preview: '',
    text: 'Hello Ana,',
    html: '<p>Hello Ana, <a href="https://k.example">go</a></p>',
  },
  ...{ attachments: [], pictures: [], blanks: [], faults: [] },
};
const reading: Reading = {
  total: 3,
  worth: [
    { index: 2, who: 'BRUNO', reasons: [{ risk: 'capitals', words: 'given name is in capitals: “BRUNO”' }] },
    { index: 1, who: 'bo@x.example', reasons: [{ risk: 'fallback', words: 'given name is blank: “there”' }] },
  ],
  counts: {},
  checks: [
    {
      kind: 'unknown_field',
      level: 'stop',
      place: 'body',
      words: 'no column',
      field: 'frist name',
      meant: 'given name',
    },
    { kind: 'long_subject', level: 'look', place: 'subject', words: 'long', who: [2] },
  ],
  bytes: 9000,
};

let server: LiveServer;
let fixture: ComponentFixture<Messages>;
const host = () => fixture.nativeElement as HTMLElement;
const button = (words: string | RegExp) =>
  [...document.querySelectorAll('button')].find((b) => (b.textContent ?? '').trim().match(words)) as HTMLButtonElement;
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

async function answerAll(): Promise<void> {
  for (let i = 0; i < 3; i++) {
    server.answer('/api/messages', [message]);
    server.answer('/api/messages/removed', []);
    server.answer('/api/lists', [{ id: 7, name: 'Growers', source: 'x', createdAt: 0, people: 3, aside: 0 }]);
    server.answer('/api/lists/7', {
      ...{ outcomes: [], segments: [], feed: null, domainsToAsk: 0, removed: 0, undo: null, redo: null, revision: 1 },
      list: { id: 7, name: 'Growers' },
      columns: ['given name', 'company'].map((name) => ({
        name,
        key: name.replace(' ', ''),
        role: 'field',
        kind: 'text',
      })),
    });
    server.answer('/api/lists/7/rows', [{ rowId: 1, fields: { givenname: 'Ana', company: 'Holm' }, notes: [] }]);
    server.answer(
      '/api/layouts',
      SHIPPED_LAYOUTS.map((l) => ({ id: null, ...l })),
    );
    server.answer('/api/assets', []);
    await settle(fixture);
  }
}

beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(Messages);
  fixture.componentRef.setInput('messageId', '4');
  await settle(fixture);
  await answerAll();
  await pause(120);
  server.answer('/api/proof', { proof });
  await settle(fixture);
});

describe('a message’s page', () => {
  it('shows fields as chips with their fallbacks, and marks what the list has not', () => {
    const chips = [...host().querySelectorAll('.chip')].map((c) => [c.textContent, c.classList.contains('unknown')]);
    expect(chips).toEqual([
      ['company', false],
      ['given namethere', false],
      ['frist name', true],
    ]);
    expect(textOf(fixture)).toContain('Proof for ana@x.example');
    expect(textOf(fixture)).toContain('1 link');
    expect(textOf(fixture)).toContain('https://k.example');
  });

  it('shows who is worth reading first, and settles a check by what was meant', async () => {
    await pause(1000);
    server.answer('/api/reading', reading);
    await settle(fixture);
    expect(textOf(fixture)).toContain('BRUNOgiven name is in capitals');
    expect(textOf(fixture)).toContain('No proof of this message has been read yet');
    button(/^BRUNO/).click();
    await settle(fixture);
    // Going on to another proof is reading the message.
    const noted = server.http.expectOne('/api/messages/4/read');
    expect(noted.request.body).toEqual({ content: written });
    noted.flush(null);
    server.tell('messages');
    await settle(fixture);
    server.answer('/api/messages', [
      { ...message, proofsReadAt: Date.parse('2026-11-02T09:05:00Z'), changedSinceRead: false },
    ]);
    await settle(fixture);
    expect(textOf(fixture)).toContain('Proofs read Mon 2 Nov 09:05.');
    await pause(100);
    const asked = server.http.match('/api/proof').at(-1);
    expect((asked?.request.body as { index: number }).index).toBe(2);
    asked?.flush({ proof: { ...proof, index: 2 } });
    button(/^Checks/).click();
    await settle(fixture);
    expect(textOf(fixture)).toContain('1 to fix, 1 to check');
    button('Use “given name”').click();
    await settle(fixture);
    expect([...host().querySelectorAll('.chip b')].map((c) => c.textContent)).toEqual([
      'company',
      'given name',
      'given name',
    ]);
    button('Undo').click();
    await settle(fixture);
    expect([...host().querySelectorAll('.chip b')].at(-1)?.textContent).toBe('frist name');
  });

  it('sets a fallback in one place for all uses, and keeps it after a pause', async () => {
    const box = [...host().querySelectorAll<HTMLInputElement>('bt-field-fallbacks input')][0] as HTMLInputElement;
    box.value = 'your vines';
    box.dispatchEvent(new Event('change'));
    await settle(fixture);
    await pause(700);
    const saved = server.http.expectOne('/api/messages/4');
    expect((saved.request.body as { content: MessageContent }).content.subject).toBe(
      'Kelp for {{ company | default: "your vines" }}',
    );
  });

  it('takes its text into a layout and back, losing nothing', async () => {
    button('Layout').click();
    await settle(fixture);
    expect(host().querySelectorAll('.block').length).toBe(SHIPPED_LAYOUTS[0]?.layout.blocks.length);
    expect(host().querySelector('.block.letter')?.textContent).toContain('Hello');
    button('Plain letter').click();
    await settle(fixture);
    expect(host().querySelector('bt-layout-editor')).toBeNull();
    expect([...host().querySelectorAll('.chip b')].length).toBe(3);
  });

  it('goes back to the messages when one is deleted', async () => {
    const navigate = vi.spyOn(TestBed.inject(Router), 'navigate').mockResolvedValue(true);
    button(/^This message/).click();
    await settle(fixture);
    button('Delete').click();
    server.http.expectOne({ method: 'DELETE', url: '/api/messages/4' }).flush(null);
    await settle(fixture);
    expect(navigate).toHaveBeenCalledWith(['/messages']);
  });
});
