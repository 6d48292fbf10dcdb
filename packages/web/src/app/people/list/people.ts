import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  input,
  linkedSignal,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { Router, RouterLink } from '@angular/router';
import type { CellEdit, CellsChanged, KeptAside, PersonRow, RowsAsked } from '@baton/contract';
import { filterWords, isWholeList, WHOLE_LIST, type ColumnFilter, type ListQuery, type SortBy } from '@baton/core';
import { EMPTY, firstValueFrom, skip, switchMap, type Observable } from 'rxjs';
import { LiveUpdates } from '../../live/live-updates';
import { Notices } from '../../live/notices';
import { Below } from '../../look/below';
import { ShellState } from '../../shell/shell-state';
import { AskName } from '../../look/ask-name';
import { FeedList } from './feed-list';
import { AddColumn } from './grid/add-column';
import { ColumnPanel } from './grid/column-panel';
import { gridColumns } from './grid/grid-columns';
import { GridRows } from './grid/grid-rows';
import { PeopleGrid } from './grid/people-grid';
import { PickedRows } from './grid/picked-rows';
import { RowActions } from './grid/row-actions';
import { ListRail } from './list-rail';
import { ListsService } from './lists-service';
import { typedText } from '../../look/event-input';
import { peopleListTexts } from './texts';
import { addressOf } from '../../live/addresses';
import { CountPipe } from '../../look/count-pipe';

const texts = peopleListTexts.people;

const SEARCH_PAUSE_MS = 200;

type Panel = { kind: 'column'; key: string; at: HTMLElement } | { kind: 'add'; at: HTMLElement };

/** One list's people: the sheet, what is found in it, and what can be done with them. */
@Component({
  selector: 'bt-people',
  imports: [
    CountPipe,
    ListRail,
    PeopleGrid,
    ColumnPanel,
    AddColumn,
    RowActions,
    Below,
    MatButton,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    RouterLink,
  ],
  providers: [GridRows],
  templateUrl: './people.html',
  styleUrl: './people.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class People {
  protected readonly texts = texts;
  protected readonly addressOf = addressOf;
  protected readonly typedText = typedText;
  private readonly lists = inject(ListsService);
  private readonly live = inject(LiveUpdates);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly dialog = inject(MatDialog);
  private readonly shell = inject(ShellState);
  protected readonly rows = inject(GridRows);
  readonly listId = input<string>();
  /** The segment shown, from the address. */
  readonly segment = input<string>();

  private readonly grid = viewChild(PeopleGrid);
  private readonly listMenu = viewChild<unknown, ElementRef<HTMLElement>>('listMenu', { read: ElementRef });
  protected readonly id = computed(() => Number(this.listId() ?? 0));
  private readonly segmentId = computed(() => Number(this.segment() ?? 0));
  private readonly loaded = this.live.viewOf(toObservable(this.id), ['people'], (id) =>
    id === 0 ? EMPTY : this.lists.list(id),
  );
  protected readonly head = computed(() => (this.loaded()?.list.id === this.id() ? this.loaded() : undefined));
  private readonly all = toSignal(this.live.on('people').pipe(switchMap(() => this.lists.lists())));
  protected readonly isEmpty = computed(() => this.all()?.length === 0);

  protected readonly shownSegment = computed(() => this.head()?.segments.find((s) => s.id === this.segmentId()));
  /** Another list or segment begins with its own query. */
  protected readonly query = linkedSignal<string, ListQuery>({
    source: () => `${this.id()}/${this.segmentId()}/${this.shownSegment() !== undefined}`,
    computation: () => untracked(() => this.shownSegment()?.query ?? WHOLE_LIST),
  });
  protected readonly removed = linkedSignal<number, boolean>({ source: () => this.id(), computation: () => false });
  protected readonly asked = computed<RowsAsked>(() => ({ query: this.query(), removed: this.removed() }));
  protected readonly picked = new PickedRows(this.rows.ids);
  protected readonly meant = computed(() => this.picked.meant(this.query(), isWholeList(this.query())));
  protected readonly isWhole = computed(() => isWholeList(this.query()));
  protected readonly aside = signal<KeptAside[] | null>(null);
  protected readonly panel = signal<Panel | null>(null);
  private readonly widths = linkedSignal<number, Record<string, number>>({
    source: () => this.id(),
    computation: (id) => readWidths(id),
  });
  protected readonly columns = computed(() => gridColumns(this.head() ?? { columns: [], outcomes: [] }, this.widths()));
  protected readonly chips = computed(() =>
    this.query().filters.map((filter) => ({ filter, words: filterWords(filter, this.head()?.columns ?? []) })),
  );
  protected readonly isChangedSegment = computed(() => {
    const segment = this.shownSegment();
    return segment !== undefined && JSON.stringify(segment.query) !== JSON.stringify(this.query());
  });
  /** The list's state that the order of rows shown is of. */
  private revision = { list: 0, n: -1 };
  private searching: ReturnType<typeof setTimeout> | undefined;

  constructor() {
    effect(() => {
      const first = this.all()?.[0];
      if (this.listId() === undefined && first) void this.router.navigate(['/people', first.id], { replaceUrl: true });
    });
    effect(() => {
      this.shell.setTitle(this.head()?.list.name ?? null);
    });
    effect(() => {
      this.id();
      this.aside.set(null);
      this.picked.clear();
    });
    effect(() => {
      const [id, asked] = [this.id(), this.asked()];
      // A segment's own query is known with the list.
      if (id === 0 || (this.segmentId() !== 0 && this.head() === undefined)) return;
      untracked(() => void this.open(id, asked));
    });
    this.followOutcomes();
    effect(() => {
      const head = this.head();
      if (head) untracked(() => this.follow(head.list.id, head.revision));
    });
    inject(DestroyRef).onDestroy(() => this.shell.setTitle(null));
  }

  private async open(id: number, asked: RowsAsked): Promise<void> {
    await this.rows.open(id, asked);
    this.picked.keepShown();
  }

  /** Changes made elsewhere reload the rows; changes made here are shown already. */
  private follow(list: number, n: number): void {
    const before = this.revision;
    this.revision = { list, n };
    if (before.list !== list || before.n < 0) return;
    if (before.n < n) void this.open(list, this.asked());
    else void this.rows.refreshAll(...(this.grid()?.shownRange() ?? [0, 0]));
  }

  /** What became of the rows in view is kept up to date. */
  private followOutcomes(): void {
    const shown = computed(() => this.head()?.outcomes.some((o) => !o.hidden) === true);
    toObservable(shown)
      .pipe(
        switchMap((isShown) => (isShown ? this.live.on('progress').pipe(skip(1)) : EMPTY)),
        takeUntilDestroyed(),
      )
      .subscribe(() => void this.rows.refreshAll(...(this.grid()?.shownRange() ?? [0, 0])));
  }

  protected search(text: string): void {
    clearTimeout(this.searching);
    this.searching = setTimeout(() => this.query.update((q) => ({ ...q, search: text.trim() })), SEARCH_PAUSE_MS);
  }

  protected sort(sort: SortBy[]): void {
    this.query.update((q) => ({ ...q, sort }));
  }

  protected filter(key: string, filter: ColumnFilter | null): void {
    this.query.update((q) => {
      const others = q.filters.filter((f) => f.key !== key);
      return { ...q, filters: filter ? [...others, filter] : others };
    });
  }

  protected showAll(): void {
    this.query.set(WHOLE_LIST);
    if (this.segmentId() !== 0) void this.router.navigate(['/people', this.id()]);
  }

  protected async edit(cells: CellEdit[]): Promise<void> {
    for (const c of cells) this.rows.show(c.rowId, c.key, c.value);
    const rowIds = [...new Set(cells.map((c) => c.rowId))];
    await this.change(this.lists.editCells(this.id(), cells), rowIds);
  }

  /** Does something to rows, says what was not taken, and shows the rows as they are now. */
  protected async change(request: Observable<CellsChanged>, rowIds: number[]): Promise<void> {
    try {
      const done = await firstValueFrom(request);
      this.revision = { list: this.id(), n: done.revision };
      const [first, second] = done.refused;
      if (first)
        this.notices.say(
          second ? texts.andMoreWereNotChanged(first.reason, done.refused.length - 1) : `${first.reason}.`,
        );
    } catch (error) {
      this.notices.failure(error);
    }
    // Filters are applied again; the order stays until it is asked for again, so that nothing moves under the hand.
    if (isWholeList(this.query())) await this.rows.refresh(rowIds);
    else await this.open(this.id(), this.asked());
  }

  protected async step(way: 'undo' | 'redo'): Promise<void> {
    // Whether there is anything the server says: what is shown may be older than the last key.
    try {
      const { label } = await firstValueFrom(this.lists.step(this.id(), way));
      this.notices.say(way === 'undo' ? texts.undone(label) : texts.redone(label));
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected moveColumn({ key, before }: { key: string; before: string | null }): void {
    const columns = (this.head()?.columns ?? []).map(({ key: k, hidden }) => ({ key: k, hidden }));
    const moved = columns.filter((c) => c.key === key);
    const others = columns.filter((c) => c.key !== key);
    const at = others.findIndex((c) => c.key === before);
    // Behind all of the list's own are the columns that Baton writes, which stay where they are.
    others.splice(at < 0 ? others.length : at, 0, ...moved);
    if (moved.length === 0) return;
    this.lists.arrange(this.id(), others).subscribe({ error: (error: unknown) => this.notices.failure(error) });
  }

  protected resize({ key, width }: { key: string; width: number }): void {
    this.widths.update((w) => ({ ...w, [key]: width }));
    localStorage.setItem(`baton.widths.${this.id()}`, JSON.stringify(this.widths()));
  }

  protected sample(): PersonRow[] {
    return [0, 1, 2].flatMap((i) => this.rows.row(i) ?? []);
  }

  protected listButton(): HTMLElement {
    return (this.listMenu() as ElementRef<HTMLElement>).nativeElement;
  }

  protected closePanel(): void {
    this.panel.set(null);
    this.grid()?.focus();
  }

  protected async saveSegment(): Promise<void> {
    const name = await this.askName(texts.nameOfTheSegment, this.chips()[0]?.words ?? this.query().search, texts.save);
    if (name === undefined) return;
    this.lists.saveSegment(this.id(), name, this.query()).subscribe({
      next: ({ id }) => void this.router.navigate(['/people', this.id()], { queryParams: { segment: id } }),
      error: (error: unknown) => this.notices.failure(error),
    });
  }

  protected updateSegment(): void {
    const segment = this.shownSegment();
    if (segment)
      this.lists.changeSegment(segment.id, this.query()).subscribe({ error: (e: unknown) => this.notices.failure(e) });
  }

  protected dropSegment(): void {
    const segment = this.shownSegment();
    if (!segment) return;
    this.lists.removeSegment(segment.id).subscribe({
      next: () => void this.router.navigate(['/people', this.id()]),
      error: (error: unknown) => this.notices.failure(error),
    });
  }

  protected async renameList(): Promise<void> {
    const name = await this.askName(texts.nameOfTheList, this.head()?.list.name ?? '', texts.renameButton);
    if (name !== undefined)
      this.lists.rename(this.id(), name).subscribe({ error: (error: unknown) => this.notices.failure(error) });
  }

  protected askDomains(): void {
    this.lists.askDomains(this.id()).subscribe({
      next: ({ domains }) =>
        this.notices.say(domains === 0 ? texts.allDomainsWereCheckedIn : texts.domainsAreBeingCheckedThe(domains)),
      error: (error: unknown) => this.notices.failure(error),
    });
  }

  protected feedList(): void {
    this.dialog.open(FeedList, { data: this.head(), width: '460px' });
  }

  protected deleteList(): void {
    const list = this.head()?.list;
    if (!list) return;
    this.lists.remove(list.id).subscribe({
      next: () => {
        this.notices.say(texts.wasDeletedItCanBe(list.name));
        void this.router.navigate(['/people']);
      },
      error: (error: unknown) => this.notices.failure(error),
    });
  }

  private askName(title: string, value: string, label: string): Promise<string | undefined> {
    return firstValueFrom(this.dialog.open(AskName, { data: { title, value, label }, width: '380px' }).afterClosed());
  }

  /** The row's value that is its address. */
  protected written(row: KeptAside): string {
    return row.cells.find((c) => c.includes('@')) ?? '';
  }

  protected async mend(row: KeptAside, address: string): Promise<void> {
    try {
      await firstValueFrom(this.lists.mendAside(this.id(), row.id, address));
      const left = await firstValueFrom(this.lists.aside(this.id()));
      this.aside.set(left.length === 0 ? null : left);
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected async toggleAside(): Promise<void> {
    if (this.aside()) this.aside.set(null);
    else this.aside.set(await firstValueFrom(this.lists.aside(this.id())));
  }
}

function readWidths(listId: number): Record<string, number> {
  try {
    return JSON.parse(localStorage.getItem(`baton.widths.${listId}`) ?? '{}') as Record<string, number>;
  } catch {
    return {};
  }
}
