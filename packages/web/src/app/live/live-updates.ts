import { Injectable, inject, NgZone, signal, type Signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { TOPICS, type Topic } from '@baton/contract';
import { catchError, EMPTY, filter, map, Observable, share, startWith, switchMap, throttleTime } from 'rxjs';
import { Notices } from './notices';
import { onceAtATime } from './once-at-a-time';

/** What the server says has changed, and views that load themselves again when it concerns them. */
@Injectable({ providedIn: 'root' })
export class LiveUpdates {
  private readonly notices = inject(Notices);
  private readonly zone = inject(NgZone);
  private readonly lost = signal(false);
  /** Whether the connection to the server is broken at the moment. */
  readonly isLost = this.lost.asReadonly();

  private readonly changes = new Observable<Topic[]>((subscriber) => {
    const source = new EventSource('/api/live');
    source.onmessage = (event: MessageEvent<string>) =>
      this.zone.run(() => subscriber.next(JSON.parse(event.data) as Topic[]));
    source.onopen = () => {
      // What was missed meanwhile nobody tells: it may be anything.
      if (this.lost()) this.zone.run(() => subscriber.next([...TOPICS]));
      this.lost.set(false);
    };
    source.onerror = () => this.lost.set(true);
    return () => source.close();
  }).pipe(share());

  /** Emits now, and whenever one of the topics changes; a few times a second at most. */
  on(...topics: Topic[]): Observable<void> {
    return this.changes.pipe(
      filter((changed) => changed.some((t) => topics.includes(t))),
      throttleTime(250, undefined, { leading: true, trailing: true }),
      map(() => undefined),
      startWith(undefined),
    );
  }

  /** What `load` gives, loaded again whenever one of the topics changes; undefined before the first time. */
  view<T>(topics: Topic[], load: () => Observable<T>): Signal<T | undefined> {
    return toSignal(this.on(...topics).pipe(onceAtATime(() => this.quietly(load()))));
  }

  /** The same for a view that depends on something chosen: each choice drops the load before it. */
  viewOf<K, T>(choice: Observable<K>, topics: Topic[], load: (key: K) => Observable<T>): Signal<T | undefined> {
    return toSignal(
      choice.pipe(switchMap((key) => this.on(...topics).pipe(onceAtATime(() => this.quietly(load(key)))))),
    );
  }

  private quietly<T>(loading: Observable<T>): Observable<T> {
    return loading.pipe(
      catchError((error: unknown) => {
        this.notices.failure(error);
        return EMPTY;
      }),
    );
  }
}
