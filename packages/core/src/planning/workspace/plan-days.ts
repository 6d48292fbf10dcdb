import { createZones, type Zones } from '../../time/zone';
import { workingCalendar, type WorkingCalendar } from '../../time/working-calendar';
import type { PlanInput } from './plan-input';

/** Most days a plan looks ahead: ten years. */
export const MAX_HORIZON_DAYS = 3660;

/** The days a plan may use, numbered from the earliest mailbox's today, and how working days count over them. */
export class PlanDays {
  readonly zones: Zones = createZones();
  /** Day number of index 0. */
  readonly base: number;
  readonly count: number;
  /** Working days in (base - 1, day]; what delays and tolerances count in. */
  readonly workday: Int32Array;
  /** Index of the w-th working day after index -1, from 1 on. */
  private readonly indexOf: Int32Array;
  private readonly calendar: WorkingCalendar;

  constructor(input: PlanInput) {
    const calendar = (this.calendar = workingCalendar(input.calendar.weekdays, input.calendar.holidays));
    const todays = input.mailboxes.map((m) => this.zones.get(m.zone).toLocal(input.now).day);
    const here = this.zones.get('UTC').toLocal(input.now).day;
    this.base = todays.reduce((a, b) => Math.min(a, b), todays.length === 0 ? here : Infinity);
    const last = todays.reduce((a, b) => Math.max(a, b), this.base);
    const ahead = Math.min(Math.max(0, Math.floor(input.horizonDays)), MAX_HORIZON_DAYS);
    this.count = last - this.base + ahead + 1;
    this.workday = new Int32Array(this.count);
    this.indexOf = new Int32Array(this.count + 2).fill(this.count);
    let n = 0;
    for (let i = 0; i < this.count; i++) {
      if (calendar.isWorking(this.base + i)) this.indexOf[++n] = i;
      this.workday[i] = n;
    }
  }

  /** The n-th working day after index i, or `count` when it lies beyond the plan; with n = 0 the day itself. */
  after(i: number, n: number): number {
    if (n === 0) return i;
    const w = this.workday[i]! + n;
    return w < this.indexOf.length ? this.indexOf[w]! : this.count;
  }

  /** The first day on which a message may follow one on day i after n working days: a later day at least. */
  firstAfter(i: number, n: number): number {
    return Math.max(i + 1, this.after(i, n));
  }

  /** The last index of the plan up to which at most n working days have passed since index i. */
  until(i: number, n: number): number {
    const w = this.workday[i]! + n + 1;
    return (w < this.indexOf.length ? this.indexOf[w]! : this.count) - 1;
  }

  /** {@link workday} of any day number, before the plan too (then 0 or below). */
  workdayOf(day: number): number {
    return this.workday[0]! - this.calendar.between(day, this.base);
  }

  /** The last index whose {@link workday} is at most w; -1 when all are later. */
  lastWith(w: number): number {
    if (w < this.workday[0]!) return -1;
    return w + 1 < this.indexOf.length ? this.indexOf[w + 1]! - 1 : this.count - 1;
  }

  /** Index of a day number, clamped to 0 and `count`. */
  index(day: number): number {
    return Math.min(this.count, Math.max(0, day - this.base));
  }
}
