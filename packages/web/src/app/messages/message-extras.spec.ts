import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { EMPTY_CONTENT, letterDoc, MOST_MAIL_BYTES, type MessageContent } from '@baton/core';
import type { AssetView } from '@baton/contract';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveServer, settle, textOf } from '../testing/live-server';
import { ChoosePicture } from './choose-picture';
import { Library } from './library';
import { MessageExtras } from './message-extras';
import { Versions } from './versions';

const asset = (id: number, name: string, type: string, usedBy: string[] = []): AssetView => ({
  ...{ id, name, type, usedBy },
  size: 2_500_000,
  createdAt: 0,
});
const assets = [asset(3, 'soil.pdf', 'application/pdf', ['Trial']), asset(4, 'rows.png', 'image/png')];
const close = vi.fn();
let server: LiveServer;

function provide(data: unknown = null): void {
  close.mockReset();
  TestBed.configureTestingModule({
    providers: [
      ...LiveServer.providers(),
      { provide: MAT_DIALOG_DATA, useValue: data },
      { provide: MatDialogRef, useValue: { close } },
    ],
  });
  server = new LiveServer();
}
const button = (fixture: ComponentFixture<unknown>, words: RegExp) =>
  [...(fixture.nativeElement as HTMLElement).querySelectorAll('button')].find((b) =>
    words.test(b.textContent?.trim() ?? ''),
  ) as HTMLButtonElement;

describe('what goes with a message', () => {
  let fixture: ComponentFixture<MessageExtras>;
  let content: MessageContent;

  beforeEach(async () => {
    provide();
    content = { ...EMPTY_CONTENT, body: letterDoc('Hello'), attachments: [{ kind: 'asset', assetId: 3 }] };
    fixture = TestBed.createComponent(MessageExtras);
    fixture.componentRef.setInput('content', content);
    fixture.componentRef.setInput('choices', []);
    fixture.componentRef.setInput('bytes', MOST_MAIL_BYTES * 2);
    fixture.componentInstance.changed.subscribe(({ to }) => {
      content = { ...content, ...to };
      fixture.componentRef.setInput('content', content);
    });
    await settle(fixture);
    server.answer('/api/assets', assets);
    await settle(fixture);
  });

  it('names files and their sizes, and fills the bar where they are too much', () => {
    expect(textOf(fixture)).toContain('for allsoil.pdf2.4 MB');
    expect(textOf(fixture)).toContain('50.0 MB of the 25 MB that most providers accept');
    expect((fixture.nativeElement as HTMLElement).querySelector('.bar .full')).not.toBeNull();
  });

  it('takes files of the library, one per person by a field, and none any more', async () => {
    const select = (fixture.nativeElement as HTMLElement).querySelector('select') as HTMLSelectElement;
    expect([...select.options].map((o) => o.textContent?.trim())).toEqual(['From the library …', 'rows.png (2.4 MB)']);
    select.value = '4';
    select.dispatchEvent(new Event('change'));
    await settle(fixture);
    button(fixture, /^One per person/).click();
    await settle(fixture);
    expect(content.attachments).toEqual([
      { kind: 'asset', assetId: 3 },
      { kind: 'asset', assetId: 4 },
      { kind: 'named', name: '{{ attachment }}' },
    ]);
    button(fixture, /^Delete/).click();
    await settle(fixture);
    expect(content.attachments).toHaveLength(2);
  });

  it('lets the plain part follow, be written by hand, say that it is behind, and follow again', async () => {
    expect(textOf(fixture)).toContain('Plain text made from the message');
    button(fixture, /^Write by hand/).click();
    await settle(fixture);
    expect(content.plain).toBe('Hello');
    expect(textOf(fixture)).toContain('Plain text written by hand');
    content = { ...content, body: letterDoc('Hello again') };
    fixture.componentRef.setInput('content', content);
    await settle(fixture);
    expect(textOf(fixture)).toContain('written by hand; the message has changed since');
    button(fixture, /^Make it from the message/).click();
    await settle(fixture);
    expect(content.plain).toBeNull();
  });
});

describe('the library', () => {
  it('says what each file is and where it is used; only what is not used can go', async () => {
    provide();
    const fixture = TestBed.createComponent(Library);
    await settle(fixture);
    server.answer('/api/assets', assets);
    server.answer('/api/messages', []);
    await settle(fixture);
    expect(textOf(fixture)).toContain('2 files, 4.8 MB in all.');
    const rows = [...(fixture.nativeElement as HTMLElement).querySelectorAll('tbody tr')];
    expect(rows.map((r) => r.querySelector('button') !== null)).toEqual([false, true]);
    expect(rows.map((r) => r.querySelector('img') !== null)).toEqual([false, true]);
    rows[1]?.querySelector('button')?.click();
    expect(server.http.expectOne('/api/assets/4').request.method).toBe('DELETE');
  });
});

describe('choosing a picture', () => {
  it('offers the library’s pictures, an address or a field; the address wins', async () => {
    provide();
    const fixture = TestBed.createComponent(ChoosePicture);
    await settle(fixture);
    server.answer('/api/assets', assets);
    await settle(fixture);
    const pictures = [...(fixture.nativeElement as HTMLElement).querySelectorAll<HTMLElement>('[role=radio]')];
    expect(pictures.map((p) => p.title)).toEqual(['rows.png']);
    pictures[0]?.click();
    await settle(fixture);
    button(fixture, /^Insert/).click();
    expect(close).toHaveBeenLastCalledWith({ src: 'asset:4', alt: '' });
    const inputs = [
      ...(fixture.nativeElement as HTMLElement).querySelectorAll<HTMLInputElement>('input:not([type=file])'),
    ];
    for (const [i, value] of ['{{ picture }}', ' Rows of {{ company }} '].entries()) {
      (inputs[i] as HTMLInputElement).value = value;
      inputs[i]?.dispatchEvent(new Event('input'));
    }
    await settle(fixture);
    button(fixture, /^Insert/).click();
    expect(close).toHaveBeenLastCalledWith({ src: '{{ picture }}', alt: 'Rows of {{ company }}' });
  });
});

describe('earlier versions', () => {
  it('show what has come and gone since, and come back whole', async () => {
    const now = { ...EMPTY_CONTENT, subject: 'Kelp for spring', body: letterDoc('Hello there') };
    const before = { ...EMPTY_CONTENT, subject: 'Kelp for autumn', body: letterDoc('Hello there') };
    provide({ id: 4, content: now });
    const fixture = TestBed.createComponent(Versions);
    await settle(fixture);
    server.answer('/api/messages/4/versions', [{ id: 1, savedAt: 0, content: before }]);
    await settle(fixture);
    const words = (tag: string) =>
      [...(fixture.nativeElement as HTMLElement).querySelectorAll(tag)].map((e) => e.textContent);
    expect([words('ins'), words('del')]).toEqual([['spring'], ['autumn']]);
    button(fixture, /^Restore this version/).click();
    expect(close).toHaveBeenCalledWith(before);
  });
});
