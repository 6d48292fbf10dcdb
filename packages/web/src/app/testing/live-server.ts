import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection, type Provider, type EnvironmentProviders } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { ShellView, Topic } from '@baton/contract';

/** For waiting: how quick the machine is must never decide a test. */
export const PATIENTLY = { timeout: 60_000 };

/** Stands in for the stream of changes, which jsdom has not. */
class StandInEventSource {
  static open: StandInEventSource[] = [];
  onmessage: ((event: { data: string }) => void) | null = null;
  onopen: (() => void) | null = null;
  onerror: (() => void) | null = null;

  constructor() {
    StandInEventSource.open.push(this);
  }

  close(): void {
    StandInEventSource.open = StandInEventSource.open.filter((s) => s !== this);
  }
}

/** The server as the web app sees it: answers that a test gives, and changes that it tells of. */
export class LiveServer {
  static providers(): (Provider | EnvironmentProviders)[] {
    StandInEventSource.open = [];
    Object.assign(globalThis, { EventSource: StandInEventSource });
    return [provideZonelessChangeDetection(), provideRouter([]), provideHttpClient(), provideHttpClientTesting()];
  }

  readonly http = TestBed.inject(HttpTestingController);

  /** How many streams are open. */
  get streams(): number {
    return StandInEventSource.open.length;
  }

  tell(...topics: Topic[]): void {
    for (const s of StandInEventSource.open) s.onmessage?.({ data: JSON.stringify(topics) });
  }

  breakOff(): void {
    for (const s of StandInEventSource.open) s.onerror?.();
  }

  comeBack(): void {
    for (const s of StandInEventSource.open) s.onopen?.();
  }

  /** Answers every request now waiting for this path. @returns how many there were */
  answer(path: string, body: unknown): number {
    const waiting = this.http.match((r) => r.url === path);
    for (const r of waiting) r.flush(body as object);
    return waiting.length;
  }

  refuse(path: string, status: number, detail: string): void {
    this.http.expectOne(path).flush({ type: 'about:blank', title: 'x', status, detail }, { status, statusText: 'x' });
  }
}

export const SHELL: ShellView = {
  workspace: 'Tidewater Kelp Works',
  clock: { simulated: true, nowMs: Date.UTC(2026, 10, 24, 10, 42), rate: 1, driving: false, zone: 'Europe/Dublin' },
  heldAll: false,
  sentToday: 30,
  plannedToday: 136,
  repliesWaiting: 7,
  mailboxesInTrouble: 1,
  demo: true,
  dateForm: 'day_month',
};

/** Lets effects, requests and the view settle. */
export async function settle(fixture: ComponentFixture<unknown>): Promise<void> {
  fixture.detectChanges();
  await fixture.whenStable();
  // What awaits an answer goes on in a later turn.
  await new Promise((resolve) => setTimeout(resolve));
  fixture.detectChanges();
}

export const textOf = (fixture: ComponentFixture<unknown>): string =>
  ((fixture.nativeElement as HTMLElement).textContent ?? '').replace(/\s+/g, ' ').trim();
