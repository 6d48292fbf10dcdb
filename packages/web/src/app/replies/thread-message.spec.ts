import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import type { ThreadMessage } from '@baton/contract';
import { LiveServer, SHELL, settle, textOf } from '../testing/live-server';
import { ThreadMessageView } from './thread-message';

const message = (over: Partial<ThreadMessage> = {}): ThreadMessage => ({
  ...{ key: 'incoming 5', from: 'them', incomingId: 5, letterId: null, state: 'sent', reason: '', at: 0, who: 'Ana' },
  ...{ mailbox: 'ines@tidewaterkelp.example', campaign: '', subject: 'Re', text: 'Yes.', whole: '' },
  parts: { hasPage: false, hasRemotePictures: false, files: [] },
  ...over,
});

let server: LiveServer;
let fixture: ComponentFixture<ThreadMessageView>;
const host = () => fixture.nativeElement as HTMLElement;
beforeEach(() => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(ThreadMessageView);
});

async function show(over: Partial<ThreadMessage>): Promise<void> {
  fixture.componentRef.setInput('message', message(over));
  await settle(fixture);
  server.answer('/api/shell', SHELL);
  await settle(fixture);
}
const press = async (words: string) => {
  [...host().querySelectorAll('button')].find((b) => b.textContent?.trim() === words)!.click();
  await settle(fixture);
};

describe('a message of a thread', () => {
  it('shows its own words, and what it quotes when asked', async () => {
    await show({ whole: 'Yes.\n\n> Kelp?' });
    expect(host().querySelector('.words')?.textContent).toBe('Yes.');
    await press('With what it quotes');
    expect(host().querySelector('.words')?.textContent).toBe('Yes.\n\n> Kelp?');
    await press('Only their words');
    expect(host().querySelector('.words')?.textContent).toBe('Yes.');
  });

  it('shows its page in a frame that runs nothing, without pictures from elsewhere until they are asked for', async () => {
    await show({ parts: { hasPage: true, hasRemotePictures: true, files: [] } });
    expect(host().querySelector('iframe')).toBeNull();
    await press('As it was made');
    const frame = host().querySelector('iframe')!;
    expect(frame.getAttribute('sandbox')).toBe('allow-popups allow-popups-to-escape-sandbox');
    expect(frame.getAttribute('src')).toBe('/api/replies/5/page?pictures=false');
    await press('Load pictures from elsewhere');
    expect(host().querySelector('iframe')!.getAttribute('src')).toBe('/api/replies/5/page?pictures=true');
    await press('As text');
    expect(host().querySelector('iframe')).toBeNull();
  });

  it('lists its files with their sizes, shows pictures, and warns of what runs', async () => {
    const file = { type: 'x/y', isPicture: false, canRun: false };
    const files = [
      { ...file, name: 'soil.png', size: 2048, isPicture: true },
      { ...file, name: 'orders.xlsm', size: 3 * 1024 * 1024, canRun: true },
    ];
    await show({ parts: { hasPage: false, hasRemotePictures: false, files } });
    const rows = [...host().querySelectorAll('.files li')];
    const words = (r: Element) =>
      [...r.querySelectorAll('summary, :scope > span, a')].map((e) => e.textContent?.trim());
    expect(rows.map(words)).toEqual([
      ['soil.png 2 kB', 'Save'],
      ['orders.xlsm 3.0 MB', 'Save', 'Opening it may run a program'],
    ]);
    expect(rows[0]!.querySelector('img')?.getAttribute('src')).toBe('/api/replies/5/files/1?show=true');
    expect(rows[1]!.querySelector('img')).toBeNull();
    expect(rows.map((r) => r.querySelector('a')?.getAttribute('href'))).toEqual([
      '/api/replies/5/files/1?show=false',
      '/api/replies/5/files/2?show=false',
    ]);
  });

  it.each([
    ['waiting', '', 'It leaves in a moment.', ['Take back to change it']],
    ['waiting', '451 later', 'It has not left yet: 451 later', ['Take back to change it']],
    ['sending', '', 'It is being sent.', []],
    ['failed', '550 no', 'It could not be sent: 550 no', ['Take back to change it']],
    ['unconfirmed', 'lost', 'It may or may not have been sent: lost', ['It was sent', 'It was not']],
    ['sent', '', '', []],
  ] as const)('says what became of a letter that is %s (%j)', async (state, reason, words, buttons) => {
    await show({ key: 'letter 3', from: 'hand', incomingId: null, letterId: 3, state, reason });
    expect(host().querySelector('.standing span')?.textContent ?? '').toBe(words);
    expect([...host().querySelectorAll('.standing button')].map((b) => b.textContent?.trim())).toEqual(buttons);
    expect(textOf(fixture)).toContain('by hand');
  });

  it('is taken back, or settled', async () => {
    const takenBack = vi.fn();
    const settled = vi.fn();
    fixture.componentInstance.takenBack.subscribe(takenBack);
    fixture.componentInstance.settled.subscribe(settled);
    const letter = { from: 'hand', incomingId: null, letterId: 3 } as const;
    await show({ ...letter, state: 'waiting' });
    await press('Take back to change it');
    expect(takenBack).toHaveBeenCalledWith(3);
    await show({ ...letter, state: 'unconfirmed' });
    await press('It was not');
    expect(settled).toHaveBeenCalledWith({ letterId: 3, left: false });
  });
});
