import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it } from 'vitest';
import { LiveServer, settle, textOf } from '../testing/live-server';
import { ConnectMany } from './connect-many';

let server: LiveServer;
let fixture: ComponentFixture<ConnectMany>;
const host = () => fixture.nativeElement as HTMLElement;
const button = () => [...host().querySelectorAll('button')].find((b) => b.textContent?.includes('Test and connect'))!;
async function type(text: string): Promise<void> {
  const box = host().querySelector('textarea')!;
  box.value = text;
  box.dispatchEvent(new Event('input'));
  await settle(fixture);
}

beforeEach(async () => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(ConnectMany);
  await settle(fixture);
});

describe('many mailboxes from a file', () => {
  it('are counted before anything is tried, with what cannot be read', async () => {
    expect(button().disabled).toBe(true);
    await type('address,password\nines@x.example,a\nnobody,b');
    expect(textOf(fixture)).toContain('1 mailbox, 1 row that cannot be read');
    expect(textOf(fixture)).toMatch(/3nobody ?not connected .*no @/);
    expect(button().disabled).toBe(false);
  });

  it('are shown with what became of each', async () => {
    await type('address,password\nines@x.example,a\ntomas@x.example,b');
    button().click();
    await settle(fixture);
    const asked = server.http.expectOne('/api/mailboxes/many');
    expect((asked.request.body as { file: string }).file).toContain('tomas@x.example,b');
    asked.flush([
      { line: 2, address: 'ines@x.example', ok: true, words: 'sends and can be read' },
      { line: 3, address: 'tomas@x.example', ok: false, words: 'Sign in to send: The password is wrong' },
    ]);
    await settle(fixture);
    expect(textOf(fixture)).toContain('1 connected, 1 not');
    expect(textOf(fixture)).toContain('connected sends and can be read');
    expect(textOf(fixture)).toContain('not connected Sign in to send: The password is wrong');
  });
});
