import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import type { ProofAsked, ProofView } from '@baton/contract';
import { EMPTY_CONTENT } from '@baton/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveServer, settle, textOf, PATIENTLY } from '../../testing/live-server';
import { ProofPane } from './proof-pane';
import { SendTest } from './send-test';

const asked: ProofAsked = { content: EMPTY_CONTENT, listId: 7, index: 0, mailboxId: null };
const proof: ProofView = {
  ...{
    index: 0,
    total: 3,
    from: 'Ines <ines@x.example>',
    to: 'ana@x.example',
    replyTo: '',
    subject: 'Kelp',
    preview: '',
  },
  ...{
    cc: ['boss@x.example'],
    bcc: [],
    text: 'Hello in plain',
    blanks: ['company'],
    faults: ['Cc: “x” has no @ sign'],
  },
  html: '<html><head></head><body><img src="cid:asset.3"><a href="https://k.example"><img alt="Rows"></a></body></html>',
  attachments: [
    { name: 'soil.pdf', size: 9000 },
    { name: 'gone.pdf', size: null },
  ],
  pictures: [{ cid: 'cid:asset.3', assetId: 3 }],
};
/** jsdom's Blob cannot be read as text. */
const withText = (blob: Blob, text: string) => Object.assign(blob, { text: () => Promise.resolve(text) });
let server: LiveServer;
let fixture: ComponentFixture<ProofPane>;
const host = () => fixture.nativeElement as HTMLElement;
const button = (words: string) =>
  [...host().querySelectorAll('button')].find((b) => b.textContent?.trim() === words) as HTMLButtonElement;

describe('the proof', () => {
  beforeEach(async () => {
    TestBed.configureTestingModule({ providers: LiveServer.providers() });
    server = new LiveServer();
    fixture = TestBed.createComponent(ProofPane);
    for (const [name, value] of Object.entries({ proof, asked, lists: [], listId: 7, isStale: false, problem: '' }))
      fixture.componentRef.setInput(name, value);
    await settle(fixture);
  });

  it('says from whom, to whom and with what, and what keeps it from leaving', () => {
    expect(textOf(fixture)).toContain('ana@x.example , cc boss@x.example');
    expect(textOf(fixture)).toContain('soil.pdf gone.pdf is not in the library');
    expect(textOf(fixture)).toContain('Blank and without a fallback: company. This message would not be sent.');
    expect(textOf(fixture)).toContain('Cc: “x” has no @ sign. This message would not be sent.');
    expect(textOf(fixture)).toContain('1 link');
    expect(textOf(fixture)).toContain('Rows https://k.example');
  });

  it('is shown with its pictures, which are asked for once', async () => {
    expect(host().querySelector('iframe')).toBeNull();
    server.http.expectOne('/api/assets/3/content').flush(new Blob(['x'], { type: 'image/png' }));
    await vi.waitFor(async () => {
      await settle(fixture);
      expect(host().querySelector('iframe')?.getAttribute('srcdoc')).toContain('src="data:image/png;base64,eA=="');
    }, PATIENTLY);
    expect(host().querySelector('iframe')?.getAttribute('sandbox')).toBe('');
    fixture.componentRef.setInput('proof', { ...proof, index: 1 });
    await settle(fixture);
    server.http.expectNone('/api/assets/3/content');
  });

  it('is shown as plain text and as the bytes that leave', async () => {
    button('Plain').click();
    await settle(fixture);
    expect(host().querySelector('pre')?.textContent).toBe('Hello in plain');
    button('Source').click();
    await settle(fixture);
    server.http.expectOne('/api/proof/source').flush(withText(new Blob(), 'Subject: Kelp\r\n'));
    await vi.waitFor(async () => {
      await settle(fixture);
      expect(host().querySelector('pre')?.textContent).toContain('Subject: Kelp');
    }, PATIENTLY);
  });
});

describe('sending a test', () => {
  const close = vi.fn();
  it('goes to everybody named, from the mailbox that can send, and says what the server said', async () => {
    localStorage.clear();
    TestBed.configureTestingModule({
      providers: [
        ...LiveServer.providers(),
        { provide: MAT_DIALOG_DATA, useValue: { asked, to: 'ana@x.example' } },
        { provide: MatDialogRef, useValue: { close } },
      ],
    });
    server = new LiveServer();
    const dialog = TestBed.createComponent(SendTest);
    await settle(dialog);
    server.answer('/api/mailboxes', [
      { id: 1, address: 'out@x.example', problem: 'refused' },
      { id: 2, address: 'ines@x.example', problem: null },
    ]);
    await settle(dialog);
    const input = (dialog.nativeElement as HTMLElement).querySelector('input') as HTMLInputElement;
    input.value = 'me@x.example, you@x.example';
    input.dispatchEvent(new Event('input'));
    await settle(dialog);
    const send = [...(dialog.nativeElement as HTMLElement).querySelectorAll('button')].at(-1) as HTMLButtonElement;
    expect(send.textContent?.trim()).toBe('Send 2 tests');
    send.click();
    const request = server.http.expectOne('/api/test-email');
    expect(request.request.body).toEqual({ ...asked, mailboxId: 2, to: ['me@x.example', 'you@x.example'] });
    request.flush(
      { type: 'about:blank', title: 'x', status: 422, detail: 'me@x.example: the server said “no”.' },
      { status: 422, statusText: 'x' },
    );
    await settle(dialog);
    expect(textOf(dialog)).toContain('the server said “no”');
    expect(close).not.toHaveBeenCalled();
    send.click();
    server.answer('/api/test-email', { from: 'ines@x.example' });
    await settle(dialog);
    expect(close).toHaveBeenCalled();
    expect(localStorage.getItem('baton.test.to')).toBe('me@x.example, you@x.example');
  });
});
