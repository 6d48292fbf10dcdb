import { signal } from '@angular/core';

/** Which rows of a list are ticked: one by one, or with Shift from the last to this one. */
export class Ticks {
  private readonly set = signal<ReadonlySet<number>>(new Set());
  readonly ids = this.set.asReadonly();
  private last: number | null = null;

  /** Ticks a row or takes its tick away. @param rows ids of all that are loaded, in order */
  press(id: number, { shiftKey }: { shiftKey: boolean }, rows: readonly number[]): void {
    const isOn = !this.ids().has(id);
    const [from, to] = [this.last ?? id, id].map((one) => rows.indexOf(one)).sort((a, b) => a - b) as [number, number];
    this.put(shiftKey && this.last !== null ? rows.slice(Math.max(0, from), to + 1) : [id], isOn);
    this.last = id;
  }

  put(ids: readonly number[], isOn: boolean): void {
    const next = new Set(this.ids());
    for (const id of ids)
      if (isOn) next.add(id);
      else next.delete(id);
    this.set.set(next);
  }

  clear(): void {
    this.set.set(new Set());
    this.last = null;
  }
}
