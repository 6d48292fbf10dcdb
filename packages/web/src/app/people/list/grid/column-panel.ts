import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import type { ListHead, RowsAsked } from '@baton/contract';
import {
  ADDRESS_KEY,
  COLUMN_KINDS,
  MAX_WRITTEN_DAYS,
  NOTES_KEY,
  noteWords,
  outcomeColumn,
  ROW_NOTES,
  TEXT_TESTS,
  VERDICTS,
  verdictOf,
  WHOLE_LIST,
  type ColumnFilter,
  type ColumnKind,
  type ListColumn,
  type RowNote,
  type SortBy,
  type TextTest,
  type Verdict,
  WRITTEN_DAYS,
} from '@baton/core';
import { catchError, combineLatest, EMPTY, of, switchMap, type Observable } from 'rxjs';
import { Notices } from '../../../live/notices';
import { KIND_NAMES } from '../../import/kind-names';
import { ListsService } from '../lists-service';
import { chosenOption, isTicked, typedText } from '../../../look/event-input';
import { peopleListTexts } from '../texts';
import { CountPipe } from '../../../look/count-pipe';
import { DateField } from '../../../time/date-field';
import { Panel } from '../../../look/panel';

const texts = peopleListTexts.columnPanel;

type FilterKind = 'none' | 'among' | 'text' | 'number' | 'date' | 'blank' | 'filled';

const TEST_NAMES: Record<TextTest, string> = {
  contains: texts.contains,
  lacks: texts.doesNotContain,
  is: texts.is,
  is_not: texts.isNot,
  begins: texts.beginsWith,
  ends: texts.endsWith,
};

const VERDICT_NAMES: Record<Verdict, string> = { use: texts.use, leave_out: texts.leaveOut, ask: texts.ask };

interface ValueFound {
  value: string;
  /** null where it is not counted. */
  n: number | null;
}

/** Everything that can be done with one column: order, filter, name, kind, place, parts. */
@Component({
  selector: 'bt-column-panel',
  imports: [DateField, CountPipe, MatButton, Panel],
  templateUrl: './column-panel.html',
  styleUrl: './panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ColumnPanel {
  protected readonly texts = texts;
  protected readonly chosenOption = chosenOption;
  protected readonly isTicked = isTicked;
  protected readonly typedText = typedText;
  private readonly lists = inject(ListsService);
  private readonly notices = inject(Notices);
  readonly listId = input.required<number>();
  readonly key = input.required<string>();
  readonly columns = input.required<ListColumn[]>();
  readonly outcomes = input.required<ListHead['outcomes']>();
  readonly asked = input.required<RowsAsked>();
  readonly sorted = output<SortBy[]>();
  readonly filtered = output<ColumnFilter | null>();
  readonly closed = output();

  protected readonly tests = TEXT_TESTS.map((test) => ({ test, name: TEST_NAMES[test] }));
  protected readonly kinds = COLUMN_KINDS.map((kind) => ({ kind, name: KIND_NAMES[kind] }));
  protected readonly column = computed(() => this.columns().find((c) => c.key === this.key()));
  protected readonly outcome = computed(() => outcomeColumn(this.key()));
  protected readonly name = computed(
    () =>
      (this.column() ?? this.outcome())?.name ??
      (this.key() === ADDRESS_KEY ? 'address' : this.key() === NOTES_KEY ? 'notes' : ''),
  );
  /** The new list's name, and the word between the names of its parts. */
  protected readonly newName = linkedSignal(() => this.name());
  protected readonly formula = linkedSignal(() => this.column()?.formula ?? '');
  protected readonly separator = signal(',');

  private readonly own = computed(() => this.asked().query.filters.find((f) => f.key === this.key()));
  protected readonly kind = linkedSignal<FilterKind>(() => {
    const own = this.own();
    if (!own) return 'none';
    return own.kind === 'blank' ? (own.blank ? 'blank' : 'filled') : own.kind;
  });
  protected readonly test = linkedSignal<TextTest>(() => {
    const own = this.own();
    return own?.kind === 'text' ? own.test : 'contains';
  });
  protected readonly value = linkedSignal(() => {
    const own = this.own();
    return own?.kind === 'text' ? own.value : '';
  });
  protected readonly chosen = linkedSignal<ReadonlySet<string>>(() => {
    const own = this.own();
    return new Set(own?.kind === 'among' ? own.values : []);
  });
  protected readonly isNot = linkedSignal(() => {
    const own = this.own();
    return own?.kind === 'among' && own.not;
  });
  /** What “lately” means, when people written to lately are sought. */
  protected readonly days = linkedSignal(() => {
    const own = this.own();
    return (own?.kind === 'among' ? own.days : undefined) ?? WRITTEN_DAYS;
  });
  protected readonly asksDays = computed(() => this.key() === NOTES_KEY && this.chosen().has('written'));
  protected readonly maxDays = MAX_WRITTEN_DAYS;
  protected readonly from = linkedSignal(() => rangeEnd(this.own(), 'from'));
  protected readonly to = linkedSignal(() => rangeEnd(this.own(), 'to'));

  protected readonly filterKinds = computed(() => {
    const among = { kind: 'among', name: texts.isOneOf };
    const text = { kind: 'text', name: texts.matchesText };
    const ends = [
      { kind: 'blank', name: texts.isBlank },
      { kind: 'filled', name: texts.isNotBlank },
    ];
    const none = { kind: 'none', name: texts.isNotFiltered };
    if (this.key() === NOTES_KEY) return [none, among, ...ends];
    if (this.key() === ADDRESS_KEY) return [none, text];
    const number = { kind: 'number', name: texts.isANumberBetween };
    const date = { kind: 'date', name: texts.isADateBetween };
    if (this.outcome()) return this.outcome()?.kind === 'date' ? [none, date, ...ends] : [none, among, text, ...ends];
    return [none, among, text, number, date, ...ends];
  });

  /** The values of the column in the rows that the other filters leave. */
  private readonly found = toSignal(
    combineLatest([toObservable(this.key), toObservable(this.asked), toObservable(this.kind)]).pipe(
      switchMap(([key, asked, kind]): Observable<ValueFound[]> => {
        if (kind !== 'among' || key === ADDRESS_KEY) return of([]);
        if (key === NOTES_KEY) return of(ROW_NOTES.map((value) => ({ value, n: null })));
        const others = {
          ...asked,
          query: { ...asked.query, filters: asked.query.filters.filter((f) => f.key !== key) },
        };
        return this.lists.values(this.listId(), others, key).pipe(catchError(() => EMPTY));
      }),
    ),
    { initialValue: [] },
  );
  protected readonly sought = signal('');
  protected readonly values = computed(() => {
    const sought = this.sought().toLowerCase();
    const found = this.found().map((v) => ({
      ...v,
      words: v.value === '' ? 'blank' : this.key() === NOTES_KEY ? noteWords(v.value as RowNote) : v.value,
    }));
    return found.filter((v) => sought === '' || v.words.toLowerCase().includes(sought));
  });

  protected readonly canMove = computed(() => {
    const shown = this.columns().filter((c) => !c.hidden && c.role !== 'address');
    const at = shown.findIndex((c) => c.key === this.key());
    return { left: at > 0, right: at >= 0 && at < shown.length - 1 };
  });

  /** Of a verifier's results: each word, and what it means. */
  private readonly spoken = toSignal(
    toObservable(this.column).pipe(
      switchMap((c) =>
        c?.role === 'verification'
          ? this.lists.values(this.listId(), { query: WHOLE_LIST, removed: false }, c.key).pipe(catchError(() => EMPTY))
          : of([]),
      ),
    ),
    { initialValue: [] },
  );
  protected readonly words = computed(() =>
    this.spoken()
      .filter((w) => w.value !== '')
      .map((w) => ({ ...w, verdict: verdictOf(w.value, this.column()?.verdicts ?? null) })),
  );
  protected readonly verdicts = VERDICTS.map((verdict) => ({ verdict, name: VERDICT_NAMES[verdict] }));

  protected judge(word: string, verdict: Verdict): void {
    const verdicts = { ...this.column()?.verdicts, [word.trim().toLowerCase()]: verdict };
    this.lists.changeColumn(this.listId(), this.key(), { verdicts }).subscribe({
      error: (error: unknown) => this.notices.failure(error),
    });
  }

  protected setDays(typed: string): void {
    const days = Math.round(Number(typed));
    if (days >= 1) this.days.set(Math.min(days, MAX_WRITTEN_DAYS));
  }

  protected toggle(value: string, on: boolean): void {
    const chosen = new Set(this.chosen());
    if (on) chosen.add(value);
    else chosen.delete(value);
    this.chosen.set(chosen);
  }

  protected sort(descending: boolean, also: boolean): void {
    const others = also ? this.asked().query.sort.filter((s) => s.key !== this.key()) : [];
    this.sorted.emit([...others, { key: this.key(), descending }]);
    this.closed.emit();
  }

  protected apply(): void {
    this.filtered.emit(this.filter());
    this.closed.emit();
  }

  private filter(): ColumnFilter | null {
    const key = this.key();
    const kind = this.kind();
    const [from, to] = [this.from().trim(), this.to().trim()];
    switch (kind) {
      case 'none':
        return null;
      case 'blank':
      case 'filled':
        return { key, kind: 'blank', blank: kind === 'blank' };
      case 'among':
        return this.chosen().size === 0
          ? null
          : {
              ...{ key, kind, values: [...this.chosen()], not: this.isNot() },
              ...(this.asksDays() && this.days() !== WRITTEN_DAYS ? { days: this.days() } : {}),
            };
      case 'text':
        return this.value().trim() === '' ? null : { key, kind, test: this.test(), value: this.value().trim() };
      case 'number':
        return from === '' && to === '' ? null : { key, kind, from: numberOrNull(from), to: numberOrNull(to) };
      case 'date':
        return from === '' && to === '' ? null : { key, kind, from: from || null, to: to || null };
    }
  }

  protected rename(): void {
    if (this.newName().trim() !== this.name())
      this.change(this.lists.changeColumn(this.listId(), this.key(), { name: this.newName().trim() }));
  }

  protected keepAs(kind: ColumnKind): void {
    this.change(this.lists.changeColumn(this.listId(), this.key(), { kind }));
  }

  protected compute(): void {
    this.change(this.lists.changeColumn(this.listId(), this.key(), { formula: this.formula() }));
  }

  protected split(byName: boolean): void {
    const by = byName
      ? ({ kind: 'name' } as const)
      : ({ kind: 'separator', separator: this.separator() || ' ' } as const);
    this.change(this.lists.splitColumn(this.listId(), this.key(), by));
  }

  protected takeOut(): void {
    this.change(this.lists.removeColumn(this.listId(), this.key()));
  }

  protected hideOutcome(): void {
    const hidden = this.outcomes().filter((o) => o.hidden || o.key === this.key());
    this.change(
      this.lists.hideOutcomes(
        this.listId(),
        hidden.map((o) => o.key),
      ),
    );
  }

  protected hide(): void {
    this.arrange((all) => all.map((c) => (c.key === this.key() ? { ...c, hidden: true } : c)));
  }

  protected move(by: -1 | 1): void {
    this.arrange((all) => {
      const shown = all.filter((c) => !c.hidden && c.role !== 'address');
      const other = shown[shown.findIndex((c) => c.key === this.key()) + by];
      const from = all.findIndex((c) => c.key === this.key());
      const to = all.findIndex((c) => c.key === other?.key);
      const moved = [...all];
      moved.splice(to, 0, ...moved.splice(from, 1));
      return moved;
    });
  }

  private arrange(make: (columns: ListColumn[]) => ListColumn[]): void {
    const columns = make(this.columns()).map(({ key, hidden }) => ({ key, hidden }));
    this.change(this.lists.arrange(this.listId(), columns));
  }

  private change(request: Observable<unknown>): void {
    request.subscribe({
      next: () => this.closed.emit(),
      error: (error: unknown) => this.notices.failure(error),
    });
  }
}

function rangeEnd(filter: ColumnFilter | undefined, end: 'from' | 'to'): string {
  return filter?.kind === 'number' || filter?.kind === 'date' ? String(filter[end] ?? '') : '';
}

function numberOrNull(text: string): number | null {
  const n = Number(text.replace(',', '.'));
  return text === '' || Number.isNaN(n) ? null : n;
}
