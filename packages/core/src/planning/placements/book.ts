import type { MailboxDays } from '../workspace/mailbox-days';
import type { People } from './people';
import type { PlanInput } from '../workspace/plan-input';

interface HourRoom {
  /** Messages that fit into the common hours of each day, -1 while unknown. */
  room: Int32Array;
  used: Int32Array;
}

/** What has been placed on each day of each mailbox, and whether one more message fits. */
export class Book {
  readonly days: number;
  readonly mailboxes: number;
  /** Units placed on day i of mailbox m, at m * days + i. */
  readonly used: Int32Array;
  /** Units that still fit there by quota and pace; -1 if no message does. */
  private readonly free: Int32Array;
  private readonly messages: Int32Array;
  /** By person: 1 if a limit, a domain's cap or hours decide as well as quota and pace. */
  private readonly isNarrow: Uint8Array;
  private readonly hours: (HourRoom | undefined)[] = [];
  private readonly limits: (Int32Array | null)[];
  private readonly domains = new Map<number, number>();
  private readonly domainCap: number;

  constructor(
    input: PlanInput,
    readonly open: MailboxDays,
    readonly people: People,
  ) {
    this.days = open.days.count;
    this.mailboxes = input.mailboxes.length;
    this.used = new Int32Array(open.capacity.length);
    this.messages = new Int32Array(open.capacity.length);
    this.free = open.capacity.map((units, at) => (open.room[at]! > 0 ? units : -1));
    this.domainCap = input.domainCap ?? Infinity;
    this.limits = input.campaigns.map((c) => {
      if (c.dailyLimit === null) return null;
      const left = new Int32Array(this.days).fill(c.dailyLimit);
      for (const { day, messages } of c.alreadySent ?? [])
        if (day >= open.days.base && day - open.days.base < this.days) left[day - open.days.base]! -= messages;
      return left;
    });
    this.isNarrow = new Uint8Array(people.count);
    for (let p = 0; p < people.count; p++)
      if (this.limits[people.campaign[p]!] || people.domain[p]! >= 0 || people.hourClass[p] !== 0) this.isNarrow[p] = 1;
  }

  /** Units that still fit on the day by quota and pace; 0 or less for none. */
  left(m: number, i: number): number {
    return this.free[m * this.days + i]!;
  }

  /** Whether a message to person p fits on day i of mailbox m. */
  fits(p: number, m: number, i: number): boolean {
    if (this.people.units[p]! > this.free[m * this.days + i]!) return false;
    return this.isNarrow[p] === 0 || this.fitsNarrow(p, m, i);
  }

  private fitsNarrow(p: number, m: number, i: number): boolean {
    const { people } = this;
    const at = m * this.days + i;
    const limit = this.limits[people.campaign[p]!];
    if (limit && limit[i]! <= 0) return false;
    if (people.domain[p]! >= 0 && (this.domains.get(this.domainKey(p, at)) ?? 0) >= this.domainCap) return false;
    const hourClass = people.hourClass[p]!;
    return hourClass === 0 || this.hasHours(hourClass, m, i);
  }

  /** How many messages to people of p's kind fit there by quota and pace; 1 if a limit, a cap or hours decide too. */
  howMany(p: number, m: number, i: number): number {
    if (this.isNarrow[p] !== 0) return 1;
    const at = m * this.days + i;
    return Math.min(Math.floor(this.free[at]! / this.people.units[p]!), this.open.room[at]! - this.messages[at]!);
  }

  /** Adds `many` messages to people of p's kind to day i of mailbox m; -1 removes one. */
  put(p: number, m: number, i: number, many = 1): void {
    const { used, messages, open } = this;
    const at = m * this.days + i;
    used[at]! += many * this.people.units[p]!;
    messages[at]! += many;
    this.free[at] = messages[at]! >= open.room[at]! ? -1 : open.capacity[at]! - used[at]!;
    if (this.isNarrow[p] !== 0) this.putNarrow(p, m, i, many);
  }

  private putNarrow(p: number, m: number, i: number, many: number): void {
    const { people } = this;
    const at = m * this.days + i;
    const limit = this.limits[people.campaign[p]!];
    if (limit) limit[i]! -= many;
    if (people.domain[p]! >= 0) {
      const key = this.domainKey(p, at);
      this.domains.set(key, (this.domains.get(key) ?? 0) + many);
    }
    const hourClass = people.hourClass[p]!;
    if (hourClass !== 0) this.hoursOf(hourClass, m).used[i]! += many;
  }

  /** Whether mailbox and hour class have an open minute in common on the day. */
  meets(hourClass: number, m: number, i: number): boolean {
    return this.roomOf(this.hoursOf(hourClass, m), hourClass, m, i) > 0;
  }

  private hasHours(hourClass: number, m: number, i: number): boolean {
    const own = this.hoursOf(hourClass, m);
    return own.used[i]! < this.roomOf(own, hourClass, m, i);
  }

  private roomOf(own: HourRoom, hourClass: number, m: number, i: number): number {
    if (own.room[i] === -1) own.room[i] = this.open.roomIn(this.open.open(m, i, hourClass), m);
    return own.room[i]!;
  }

  private hoursOf(hourClass: number, m: number): HourRoom {
    return (this.hours[hourClass * this.mailboxes + m] ??= {
      room: new Int32Array(this.days).fill(-1),
      used: new Int32Array(this.days),
    });
  }

  private domainKey(p: number, at: number): number {
    return at * this.people.domains + this.people.domain[p]!;
  }
}
