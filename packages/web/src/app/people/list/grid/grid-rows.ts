import { Injectable, inject, signal } from '@angular/core';
import type { PersonRow, RowsAsked } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { Notices } from '../../../live/notices';
import { ListsService } from '../lists-service';

/** Rows asked for at once. */
const CHUNK = 200;
/** Rows that show before the order of all of them is known. */
const FIRST = 100;

/** The rows of one list as a query orders them: the order whole, the rows as they come into view. */
@Injectable()
export class GridRows {
  private readonly lists = inject(ListsService);
  private readonly notices = inject(Notices);
  /** Row ids in order. */
  readonly ids = signal<Int32Array>(new Int32Array());
  /** Whether the order shown is that of the query asked last, and whole. */
  readonly isWhole = signal(false);
  private readonly known = new Map<number, PersonRow>();
  /** Counts what changed in `known`. */
  private readonly version = signal(0);
  private readonly asked = new Set<number>();
  private listId = 0;
  private turn = 0;

  row(index: number): PersonRow | undefined {
    this.version();
    return this.known.get(this.ids()[index] ?? -1);
  }

  /** Asks anew for the order of the rows. */
  async open(listId: number, asked: RowsAsked): Promise<void> {
    const turn = ++this.turn;
    const isOther = listId !== this.listId;
    this.listId = listId;
    this.isWhole.set(false);
    if (isOther) {
      this.known.clear();
      this.put(new Int32Array(), []);
    }
    try {
      const order = firstValueFrom(this.lists.rowIds(listId, asked));
      const first = await firstValueFrom(this.lists.firstRows(listId, asked, FIRST));
      if (turn !== this.turn) {
        order.catch(() => undefined);
        return;
      }
      if (isOther || first.length < FIRST) this.put(Int32Array.from(first.map((r) => r.rowId)), first);
      const ids = await order;
      if (turn !== this.turn) return;
      this.put(ids, first);
      this.isWhole.set(true);
    } catch (error) {
      if (turn === this.turn) this.notices.failure(error);
    }
  }

  private put(ids: Int32Array, rows: readonly PersonRow[]): void {
    this.asked.clear();
    for (const r of rows) this.asked.add(r.rowId);
    this.take(rows);
    this.ids.set(ids);
  }

  /** Sees to it that the rows from one place to another (excluded) are there, sooner or later. */
  want(from: number, to: number): void {
    const missing = [...this.ids().slice(Math.max(0, from), to)].filter((id) => !this.asked.has(id));
    if (missing.length > 0) void this.fetch(missing.slice(0, CHUNK));
  }

  /** The rows of a range, asked for where they are not there yet; for what needs all of them. */
  async load(from: number, to: number): Promise<PersonRow[]> {
    const ids = [...this.ids().slice(from, to)];
    const missing = ids.filter((id) => !this.known.has(id));
    for (let i = 0; i < missing.length; i += CHUNK) await this.fetch(missing.slice(i, i + CHUNK));
    return ids.flatMap((id) => this.known.get(id) ?? []);
  }

  /** Asks again for rows that have changed; in place, so that nothing moves under the hand. */
  async refresh(rowIds: readonly number[]): Promise<void> {
    const shown = rowIds.filter((id) => this.known.has(id));
    for (let i = 0; i < shown.length; i += CHUNK) await this.fetch(shown.slice(i, i + CHUNK));
  }

  /** Asks again for all that had been asked for, as they come into view. */
  async refreshAll(from: number, to: number): Promise<void> {
    const shown = this.ids().slice(from, to);
    this.asked.clear();
    for (const id of shown) this.asked.add(id);
    await this.fetch([...shown]);
  }

  /** Shows what was typed before the server has answered. */
  show(rowId: number, key: string, value: string): void {
    const row = this.known.get(rowId);
    if (!row) return;
    const changed =
      key === '@address' ? { ...row, address: value } : { ...row, fields: { ...row.fields, [key]: value } };
    this.take([changed]);
  }

  private take(rows: readonly PersonRow[]): void {
    for (const r of rows) this.known.set(r.rowId, r);
    this.version.update((v) => v + 1);
  }

  private async fetch(rowIds: number[]): Promise<void> {
    const { turn, listId } = this;
    for (const id of rowIds) this.asked.add(id);
    try {
      const rows = await firstValueFrom(this.lists.rowsById(listId, rowIds));
      if (turn !== this.turn && listId !== this.listId) return;
      this.take(rows);
    } catch (error) {
      for (const id of rowIds) this.asked.delete(id);
      this.notices.failure(error);
    }
  }
}
