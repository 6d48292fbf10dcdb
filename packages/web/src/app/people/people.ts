import { CdkVirtualScrollViewport, CdkFixedSizeVirtualScroll, CdkVirtualForOf } from '@angular/cdk/scrolling';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  linkedSignal,
  signal,
} from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { Router, RouterLink } from '@angular/router';
import type { AsideRow, PersonRow } from '@baton/contract';
import { combineLatest, debounceTime, distinctUntilChanged, EMPTY, firstValueFrom, startWith, switchMap } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { ShellState } from '../shell/shell-state';
import { ListRail } from './list-rail';
import { PeopleService } from './people-service';

/** Rows asked for at once. */
const PAGE = 200;

/** One list's people in their columns. */
@Component({
  selector: 'bt-people',
  imports: [ListRail, CdkVirtualScrollViewport, CdkFixedSizeVirtualScroll, CdkVirtualForOf, MatButton, RouterLink],
  templateUrl: './people.html',
  styleUrl: './people.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class People {
  private readonly people = inject(PeopleService);
  private readonly live = inject(LiveUpdates);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly shell = inject(ShellState);
  readonly listId = input<string>();

  protected readonly search = signal('');
  protected readonly aside = signal<AsideRow[] | null>(null);
  private readonly id = computed(() => Number(this.listId() ?? 0));
  private readonly firstPage = this.live.viewOf(
    combineLatest([
      toObservable(this.id),
      toObservable(this.search).pipe(debounceTime(150), startWith(''), distinctUntilChanged()),
    ]),
    ['people'],
    ([id, search]) => (id === 0 ? EMPTY : this.people.page(id, search, 0, PAGE)),
  );
  private readonly lists = toSignal(this.live.on('people').pipe(switchMap(() => this.people.lists())));

  protected readonly page = computed(() => (this.firstPage()?.list.id === this.id() ? this.firstPage() : undefined));
  protected readonly rows = linkedSignal<PersonRow[]>(() => this.page()?.people ?? []);
  protected readonly columns = computed(() => (this.page()?.columns ?? []).filter((c) => c.role !== 'address'));
  protected readonly isEmpty = computed(() => this.lists()?.length === 0);
  private loading = false;

  constructor() {
    // Without a list in the address, the first one.
    effect(() => {
      const first = this.lists()?.[0];
      if (this.listId() === undefined && first) void this.router.navigate(['/people', first.id], { replaceUrl: true });
    });
    effect(() => {
      this.shell.setTitle(this.page()?.list.name ?? null);
      this.id();
      this.aside.set(null);
    });
    inject(DestroyRef).onDestroy(() => this.shell.setTitle(null));
  }

  protected readonly byRow = (_: number, person: PersonRow): number => person.rowId;

  protected async loadMore(lastShown: number): Promise<void> {
    const page = this.page();
    const loaded = this.rows().length;
    if (!page || this.loading || loaded >= page.total || lastShown < loaded - PAGE / 4) return;
    this.loading = true;
    try {
      const next = await firstValueFrom(this.people.page(this.id(), this.search(), loaded, PAGE));
      this.rows.update((rows) => [...rows, ...next.people]);
    } catch (error) {
      this.notices.failure(error);
    } finally {
      this.loading = false;
    }
  }

  protected async toggleAside(): Promise<void> {
    if (this.aside()) this.aside.set(null);
    else this.aside.set(await firstValueFrom(this.people.aside(this.id())));
  }
}
