import type { MailboxDays } from './mailbox-days';
import type { People } from './people';
import type { PlanInput } from './plan-input';

interface HourRoom {
  /** Messages that the common hours of each day take, -1 while unknown. */
  room: Int32Array;
  used: Int32Array;
}

/** What has been placed on each day of each mailbox, and whether one message more fits. */
export class Book {
  readonly days: number;
  readonly mailboxes: number;
  /** Units and messages placed on day i of mailbox m, at m * days + i. */
  readonly used: Int32Array;
  readonly messages: Int32Array;
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
    this.domainCap = input.domainCap ?? Infinity;
    this.limits = input.campaigns.map((c) => {
      if (c.dailyLimit === null) return null;
      const left = new Int32Array(this.days).fill(c.dailyLimit);
      for (const { day, messages } of c.alreadySent ?? [])
        if (day >= open.days.base && day - open.days.base < this.days) left[day - open.days.base]! -= messages;
      return left;
    });
  }

  /** Units that still fit on the day, as far as quota and pace go. */
  left(m: number, i: number): number {
    const at = m * this.days + i;
    return this.messages[at]! >= this.open.room[at]! ? 0 : this.open.capacity[at]! - this.used[at]!;
  }

  /** Whether a message to person p fits on day i of mailbox m. */
  fits(p: number, m: number, i: number): boolean {
    const { people, open } = this;
    const at = m * this.days + i;
    if (this.used[at]! + people.units[p]! > open.capacity[at]! || this.messages[at]! >= open.room[at]!) return false;
    const limit = this.limits[people.campaign[p]!];
    if (limit && limit[i]! <= 0) return false;
    if (people.domain[p]! >= 0 && (this.domains.get(this.domainKey(p, at)) ?? 0) >= this.domainCap) return false;
    const hourClass = people.hourClass[p]!;
    return hourClass === 0 || this.hasHours(hourClass, m, i);
  }

  /** Writes a message to person p into day i of mailbox m, or with sign -1 takes it out again. */
  put(p: number, m: number, i: number, sign: 1 | -1 = 1): void {
    const { people } = this;
    const at = m * this.days + i;
    this.used[at]! += sign * people.units[p]!;
    this.messages[at]! += sign;
    const limit = this.limits[people.campaign[p]!];
    if (limit) limit[i]! -= sign;
    if (people.domain[p]! >= 0) {
      const key = this.domainKey(p, at);
      this.domains.set(key, (this.domains.get(key) ?? 0) + sign);
    }
    const hourClass = people.hourClass[p]!;
    if (hourClass !== 0) this.hoursOf(hourClass, m).used[i]! += sign;
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
