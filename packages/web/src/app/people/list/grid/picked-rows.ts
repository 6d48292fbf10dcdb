import { computed, signal, type Signal } from '@angular/core';
import type { RowChoice } from '@baton/contract';
import type { ListQuery } from '@baton/core';
import { formatNumber } from '../../../look/language';
import { peopleListTexts } from '../texts';

const texts = peopleListTexts.pickedRows;

/** What the rows are that an action would be done to, and how a button says it. */
export interface Meant {
  choice: RowChoice;
  count: number;
  /** `these 10`, `all 312 found`, `all 600`. */
  words: string;
}

/** Rows picked by hand. Without any, an action means all that the filter finds. */
export class PickedRows {
  private readonly ids = signal<ReadonlySet<number>>(new Set());
  /** From where shift picks on. */
  private from: number | null = null;
  readonly count = computed(() => this.ids().size);

  constructor(private readonly order: Signal<Int32Array>) {}

  has(rowId: number): boolean {
    return this.ids().has(rowId);
  }

  /** A press on a row: alone, with ctrl as well, with shift up to it. */
  press(index: number, keys: { ctrl: boolean; shift: boolean }): void {
    const order = this.order();
    const rowId = order[index];
    if (rowId === undefined) return;
    if (keys.shift && this.from !== null) {
      const [low, high] = [Math.min(this.from, index), Math.max(this.from, index)];
      this.ids.set(new Set([...(keys.ctrl ? this.ids() : []), ...order.slice(low, high + 1)]));
      return;
    }
    this.from = index;
    const ids = new Set(this.ids());
    if (!ids.delete(rowId)) ids.add(rowId);
    this.ids.set(ids);
  }

  pick(rowIds: Iterable<number>): void {
    this.ids.set(new Set(rowIds));
  }

  clear(): void {
    this.ids.set(new Set());
    this.from = null;
  }

  /** Keeps only rows that are in view: a hidden row is never meant. */
  keepShown(): void {
    if (this.ids().size === 0) return;
    const shown = new Set(this.order());
    const kept = [...this.ids()].filter((id) => shown.has(id));
    if (kept.length !== this.ids().size) this.ids.set(new Set(kept));
  }

  meant(query: ListQuery, isWhole: boolean): Meant {
    const picked = this.ids();
    const all = this.order().length;
    if (picked.size > 0)
      return {
        choice: { rows: [...picked] },
        count: picked.size,
        words: formatNumber(picked.size),
      };
    return {
      choice: { query: { ...query, sort: [] }, count: all },
      count: all,
      words: isWhole ? texts.all(all) : texts.allFound(all),
    };
  }
}
