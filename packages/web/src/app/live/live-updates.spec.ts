import { TestBed } from '@angular/core/testing';
import { of, Subject } from 'rxjs';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveServer } from '../testing/live-server';
import { LiveUpdates } from './live-updates';

let server: LiveServer;
let live: LiveUpdates;
beforeEach(() => {
  vi.useFakeTimers();
  TestBed.configureTestingModule({ providers: LiveServer.providers() });
  server = new LiveServer();
  live = TestBed.inject(LiveUpdates);
});
afterEach(() => vi.useRealTimers());

describe('LiveUpdates', () => {
  it('loads at once, and again when one of its topics changes', () => {
    let loads = 0;
    const view = TestBed.runInInjectionContext(() => live.view(['people'], () => of(++loads)));
    expect(view()).toBe(1);
    server.tell('messages');
    expect(view()).toBe(1);
    server.tell('people');
    expect(view()).toBe(2);
  });

  it('gathers what changes many times a second, and never misses the last', () => {
    let loads = 0;
    const view = TestBed.runInInjectionContext(() => live.view(['today'], () => of(++loads)));
    for (let i = 0; i < 20; i++) server.tell('today');
    vi.advanceTimersByTime(1000);
    expect(view()).toBe(3);
  });

  it('drops a load when another thing is chosen meanwhile', () => {
    const choice = new Subject<string>();
    const answers: Record<string, Subject<string>> = { a: new Subject(), b: new Subject() };
    const view = TestBed.runInInjectionContext(() =>
      live.viewOf(choice, ['people'], (key) => answers[key] as Subject<string>),
    );
    choice.next('a');
    choice.next('b');
    answers['b']?.next('of b');
    answers['a']?.next('of a, late');
    expect(view()).toBe('of b');
  });

  it('has everything loaded again after a break: nobody tells what was missed', () => {
    let loads = 0;
    const subscription = live.on('people').subscribe(() => loads++);
    server.comeBack();
    expect(loads).toBe(1);
    server.breakOff();
    server.comeBack();
    expect(loads).toBe(2);
    expect(live.isLost()).toBe(false);
    subscription.unsubscribe();
  });

  it('shares one stream, says when it is lost, and closes it with the last view', () => {
    const subscriptions = [1, 2].map(() => live.on('people').subscribe());
    expect(server.streams).toBe(1);
    server.breakOff();
    expect(live.isLost()).toBe(true);
    subscriptions.forEach((s) => s.unsubscribe());
    expect(server.streams).toBe(0);
  });
});
