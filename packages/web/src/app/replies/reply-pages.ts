import { computed, inject, Injectable, linkedSignal, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import type { IncomingView, ReplyFilter, ReplyPage } from '@baton/contract';
import { combineLatest, debounceTime, distinctUntilChanged, forkJoin, map, startWith } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { RepliesService, type ListAsked } from './replies-service';

/** Messages asked for at once. */
export const PAGE = 100;

/** What has been loaded of a list: its pages by their number. */
interface Loaded {
  asked: ListAsked;
  total: number;
  counts: ReplyPage['counts'];
  colleagues: string[];
  pages: ReadonlyMap<number, IncomingView[]>;
}

const sameList = (a: ListAsked, b: ListAsked): boolean =>
  a.show === b.show && a.search === b.search && a.assigned === b.assigned;

/** A list of messages of any length, of which only the pages that are in view are loaded, and kept up to date. */
@Injectable()
export class ReplyPages {
  private readonly service = inject(RepliesService);
  readonly asked = signal<ListAsked>({ show: 'without_outcome', search: '', assigned: '' });
  /** The pages that are in view, the first and the last. */
  private readonly inView = signal({ first: 0, last: 0 });

  private readonly loaded = inject(LiveUpdates).viewOf(
    combineLatest([
      toObservable(this.asked).pipe(distinctUntilChanged(sameList)),
      toObservable(this.inView).pipe(
        debounceTime(60),
        startWith({ first: 0, last: 0 }),
        distinctUntilChanged((a, b) => a.first === b.first && a.last === b.last),
      ),
    ]),
    ['replies'],
    ([asked, { first, last }]) => {
      const numbers = Array.from({ length: last - first + 1 }, (_, i) => first + i);
      const load = (n: number) => this.service.page({ ...asked, offset: n * PAGE, limit: PAGE });
      return forkJoin(numbers.map(load)).pipe(
        map((pages): Loaded => {
          const { total, counts, colleagues } = pages[0] as ReplyPage;
          return { asked, total, counts, colleagues, pages: new Map(pages.map((p, i) => [first + i, p.replies])) };
        }),
      );
    },
  );
  /** While other pages are on their way those that were there stay. */
  private readonly known = linkedSignal<Loaded | undefined, Loaded | undefined>({
    source: this.loaded,
    computation: (now, before) => {
      const last = before?.value;
      const isFurther = now && last && sameList(now.asked, last.asked) && now.total === last.total;
      return isFurther ? { ...now, pages: new Map([...last.pages, ...now.pages]) } : now;
    },
  });

  readonly counts = computed(() => this.known()?.counts ?? {});
  readonly colleagues = computed(() => this.known()?.colleagues ?? []);
  /** The list that is shown; undefined before the first is there. */
  readonly shown = computed<ListAsked | undefined>(() => this.known()?.asked);
  /** A place for each message of the list; null where its page is not loaded. */
  readonly rows = computed<(IncomingView | null)[]>(() => {
    const known = this.known();
    if (!known) return [];
    return Array.from({ length: known.total }, (_, i) => known.pages.get(Math.floor(i / PAGE))?.[i % PAGE] ?? null);
  });

  choose(change: Partial<ListAsked>): void {
    this.inView.set({ first: 0, last: 0 });
    this.asked.update((asked) => ({ ...asked, ...change }));
  }

  /** Which rows are in view, half open. */
  look(from: number, to: number): void {
    this.inView.set({ first: Math.floor(from / PAGE), last: Math.floor(Math.max(from, to - 1) / PAGE) });
  }

  show(): ReplyFilter {
    return this.asked().show;
  }
}
