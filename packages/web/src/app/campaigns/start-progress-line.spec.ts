import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { StartProgress } from '@baton/contract';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveServer, PATIENTLY, settle, textOf } from '../testing/live-server';
import { StartProgressLine } from './start-progress-line';

let server: LiveServer;
let fixture: ComponentFixture<StartProgressLine>;
const host = () => fixture.nativeElement as HTMLElement;

async function show(isStarting: boolean): Promise<void> {
  fixture.componentRef.setInput('campaignId', 4);
  fixture.componentRef.setInput('isStarting', isStarting);
  await settle(fixture);
}
/** Answers the next question how far it is. */
async function answer(progress: StartProgress | null): Promise<void> {
  await vi.waitFor(() => server.http.expectOne('/api/campaigns/4/start').flush({ progress }), PATIENTLY);
  await settle(fixture);
}

beforeEach(() => {
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  fixture = TestBed.createComponent(StartProgressLine);
});

describe('how far a start is', () => {
  it('is said while it goes on, and it can be cancelled until it has started', async () => {
    await show(true);
    await answer({ phase: 'reading', done: 0, of: 0 });
    expect(textOf(fixture)).toContain('Looking at everybody…');
    await answer({ phase: 'enrolling', done: 40_000, of: 100_000 });
    expect(textOf(fixture)).toContain('40,000 of 100,000 people taken in');
    host().querySelector('button')!.click();
    server.http.expectOne({ method: 'DELETE', url: '/api/campaigns/4/start' }).flush(null);
    await answer({ phase: 'planning', done: 0, of: 0 });
    expect(textOf(fixture)).toContain('It has started; the plan is being made…');
    expect(host().querySelector('button')).toBeNull();
  });

  it('is seen from another window too, and nothing is where none is under way', async () => {
    await show(false);
    await answer({ phase: 'enrolling', done: 1, of: 2 });
    expect(textOf(fixture)).toContain('1 of 2 people taken in');
    await answer(null);
    expect(textOf(fixture).trim()).toBe('');
  });
});
