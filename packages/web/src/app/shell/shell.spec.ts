import { ChangeDetectionStrategy, Component } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { Router } from '@angular/router';
import { beforeEach, describe, expect, it } from 'vitest';
import type { ShellView } from '@baton/contract';
import { LiveServer, SHELL, settle, textOf } from '../testing/live-server';
import { Shell } from './shell';

let server: LiveServer;
let fixture: ComponentFixture<Shell>;
const host = () => fixture.nativeElement as HTMLElement;
beforeEach(() => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(Shell);
});

async function show(over: Partial<ShellView> = {}): Promise<string> {
  await settle(fixture);
  server.answer('/api/shell', { ...SHELL, ...over });
  await settle(fixture);
  return textOf(fixture);
}

describe('Shell', () => {
  it('shows the day’s load, the clock, and what waits where', async () => {
    const text = await show();
    expect(text).toContain('30 of 136 today');
    expect(text).toContain('Tue 24 Nov 10:42 real time');
    expect(text).toContain('Replies 7 waiting');
    expect(text).toContain('Simulated inboxes');
  });

  it('hides the simulator’s part where time is real', async () => {
    const text = await show({ demo: false, clock: { ...SHELL.clock, simulated: false } });
    expect(text).not.toContain('Simulated inboxes');
    expect(host().querySelector('button.clock')).toBeNull();
  });

  it.each([
    [{ rate: 0 }, 'held'],
    [{ rate: 60 }, '60×'],
    [{ rate: 1, driving: true }, 'moving …'],
  ])('says how the clock goes: %j', async (clock, words) => {
    expect(await show({ clock: { ...SHELL.clock, ...clock } })).toContain(words);
  });

  it('holds all, and says so on every page until it is released', async () => {
    await show();
    (host().querySelector('.hold') as HTMLButtonElement).click();
    await settle(fixture);
    server.answer('/api/hold-all', null);
    server.tell('clock');
    await settle(fixture);
    server.answer('/api/shell', { ...SHELL, heldAll: true });
    await settle(fixture);
    expect(textOf(fixture)).toContain('Everything is held');
    (host().querySelector('.hold') as HTMLButtonElement).click();
    await settle(fixture);
    expect(server.answer('/api/release-all', null)).toBe(1);
  });

  it('lets the keyboard go on in a page that was come to, unless something in it has it', async () => {
    const router = TestBed.inject(Router);
    @Component({ template: '<button>Go</button>', changeDetection: ChangeDetectionStrategy.OnPush })
    class Page {}
    router.resetConfig([{ path: '**', component: Page }]);
    document.body.append(host());
    await show();
    await router.navigateByUrl('/a');
    await router.navigateByUrl('/b');
    await settle(fixture);
    expect(document.activeElement?.id).toBe('page');
    (host().querySelector('main button') as HTMLButtonElement).focus();
    await router.navigateByUrl('/b?x=1');
    await settle(fixture);
    expect(document.activeElement?.textContent).toBe('Go');
    (host().querySelector('nav a') as HTMLAnchorElement).focus();
    await router.navigateByUrl('/c');
    await settle(fixture);
    expect(document.activeElement?.tagName).toBe('A');
    host().remove();
  });

  it('says when the server is lost', async () => {
    await show();
    server.breakOff();
    await settle(fixture);
    expect(textOf(fixture)).toContain('offline');
  });
});
