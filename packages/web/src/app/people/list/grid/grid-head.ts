import { CdkDrag, CdkDragHandle, type CdkDragEnd, type CdkDragMove } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import type { SortBy } from '@baton/core';
import { LEAST_WIDTH, type GridColumn } from './grid-columns';
import { underPoint } from '../../../look/under-point';
import { peopleListTexts } from '../texts';

const texts = peopleListTexts.gridHead;

/** The column under a point, before which another would go; null where there is none, or the same. */
function beforeUnder(
  key: string,
  point: { x: number; y: number },
  { source }: CdkDragMove | CdkDragEnd,
): string | null {
  const before = underPoint(point, 'before', source.element.nativeElement as Element);
  return before === key ? null : before;
}

/** The head of the sheet: its columns' names, by which it is ordered, and which can be moved and made wider. */
@Component({
  selector: 'bt-grid-head',
  templateUrl: './grid-head.html',
  styleUrl: './grid-head.scss',
  imports: [CdkDrag, CdkDragHandle],
  host: { role: 'row' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GridHead {
  protected readonly texts = texts;
  readonly columns = input.required<readonly GridColumn[]>();
  readonly sort = input.required<readonly SortBy[]>();
  readonly readonly = input.required<boolean>();
  /** How many of all rows are picked. */
  readonly picked = input.required<'none' | 'some' | 'all'>();
  readonly sorted = output<SortBy[]>();
  readonly allPressed = output();
  readonly columnAsked = output<{ key: string; at: HTMLElement }>();
  readonly columnAdded = output<HTMLElement>();
  readonly columnMoved = output<{ key: string; before: string | null }>();
  readonly resized = output<{ key: string; width: number }>();

  /** The column before which the one that is dragged would go; '' for the end, null for nowhere. */
  protected readonly before = signal<string | null>(null);
  /** The press that ended as a drag is no press on the name. */
  private wasDragged = false;
  protected readonly heads = computed(() => {
    const sort = this.sort();
    return this.columns().map((column) => {
      const at = sort.findIndex((s) => s.key === column.key);
      const order = sort[at]?.descending ? ('descending' as const) : ('ascending' as const);
      return {
        column,
        order: at < 0 ? null : order,
        sign: at < 0 ? '' : `${order === 'descending' ? '↓' : '↑'}${sort.length > 1 ? at + 1 : ''}`,
        title: column.formula ?? texts.sortBy(column.name),
      };
    });
  });

  protected beginPress(): void {
    this.wasDragged = false;
  }

  /** A first press orders upwards, a second downwards, a third not at all; with shift beside the other orders. */
  protected orderBy(key: string, beside: boolean): void {
    if (this.wasDragged) return;
    const own = this.sort().find((s) => s.key === key);
    const next: SortBy[] = own?.descending ? [] : [{ key, descending: own !== undefined }];
    const others = this.sort().filter((s) => s.key !== key);
    this.sorted.emit(beside ? [...others, ...next] : next);
  }

  protected beginResize(column: GridColumn, event: PointerEvent): void {
    event.preventDefault();
    event.stopPropagation();
    const from = event.clientX;
    const handle = event.target as HTMLElement;
    handle.setPointerCapture(event.pointerId);
    handle.onpointermove = (e) =>
      this.resized.emit({ key: column.key, width: Math.max(LEAST_WIDTH, column.width + e.clientX - from) });
    handle.onpointerup = () => (handle.onpointermove = null);
  }

  protected carry(key: string, event: CdkDragMove): void {
    this.before.set(beforeUnder(key, event.pointerPosition, event));
  }

  protected letGo(key: string, event: CdkDragEnd): void {
    event.source.reset();
    this.wasDragged = true;
    this.before.set(null);
    const before = beforeUnder(key, event.dropPoint, event);
    if (before !== null) this.columnMoved.emit({ key, before: before === '' ? null : before });
  }
}
