import { assignInstants, type DayMessage, type DayRules } from './assign-instants';
import type { Keeper } from '../replan/keep-placed';
import { paceMs } from '../workspace/mailbox-days';
import type { Placements } from '../placements/placements';
import type { PlanInput } from '../workspace/plan-input';
import { timeAround } from './time-around';
import { timeIntoGaps } from './time-into-gaps';
import { seededRandom, type Random } from '../../random/seeded';
import { cropSpans, isInside, type Span } from '../../time/window';

/** Gives every placed message its instant, mailbox by mailbox, day by day. */
export class Timetable {
  /** Instant of step s of person p at p * width + s, as in {@link Placements.day}. */
  readonly instant: Float64Array;
  /** All messages in order of mailbox and day, as long as nothing has moved since the first timing. */
  private order: Int32Array | null | undefined = null;

  constructor(
    private readonly input: PlanInput,
    private readonly placements: Placements,
    private readonly keeper: Keeper | null = null,
  ) {
    this.instant = new Float64Array(placements.day.length);
  }

  /**
   * Times all messages of some mailboxes anew.
   *
   * @returns people for whom a day had no instant left, with that day
   */
  time(mailboxes: ReadonlySet<number>): Map<number, number> {
    const spilled = new Map<number, number>();
    const byCell = messagesByCell(this.placements, mailboxes);
    this.order = this.order === null ? byCell.order : undefined;
    for (const m of mailboxes) this.timeMailbox(m, byCell, spilled);
    if (spilled.size > 0) this.order = undefined;
    return spilled;
  }

  /** All messages (p * width + s) by mailbox and day. */
  inOrder(): Int32Array {
    return this.order ?? messagesByCell(this.placements, everyMailbox(this.placements)).order;
  }

  /** Takes out what would leave when its campaign, or the message itself, has ended. @returns those for whom nothing is left */
  cutAtEnds(): Set<number> {
    const { book, campaigns, day, mailbox, width } = this.placements;
    const { campaign, count, nextStep, endsAt, stepEnds } = book.people;
    const left = new Set<number>();
    if (endsAt.every((end) => end === Infinity) && stepEnds.every((ends) => ends === null)) return left;
    this.order = undefined;
    for (let p = 0; p < count; p++) {
      if (mailbox[p]! < 0) continue;
      const c = campaign[p]!;
      const ends = stepEnds[c];
      const over: number[] = [];
      const end = p * width + campaigns[c]!.steps.length;
      for (let k = p * width + nextStep[p]!; k < end; k++)
        if (day[k]! < 0 || this.instant[k]! >= Math.min(endsAt[c]!, ends?.[k % width] ?? Infinity)) over.push(k);
      if (over.length === end - p * width - nextStep[p]!) {
        this.placements.free(p);
        left.add(p);
      } else for (const k of over) day[k] = -1;
    }
    return left;
  }

  private timeMailbox(m: number, { order, start }: ByCell, spilled: Map<number, number>): void {
    const { book, days, width } = this.placements;
    const mailbox = this.input.mailboxes[m]!;
    const limit = mailbox.providerLimit24h;
    const uses = mailbox.alreadyUsed.slice().sort((a, b) => a.instant - b.instant);
    let before = uses.reduce((sum, u) => sum + u.units, 0);
    const rules = {
      paceMs: paceMs(mailbox),
      providerLimit24h: limit,
      earlier: uses,
      lastMs: uses.at(-1)?.instant ?? -Infinity,
    };
    for (let i = 0; i < days.count; i++) {
      const cell = m * days.count + i;
      const messages = order.subarray(start[cell], start[cell + 1]);
      if (messages.length > 0) {
        const within = limit === null || before + book.used[cell]! <= limit;
        for (const k of this.timeDay(m, i, messages, rules, within)) this.spill(k, i, spilled);
        for (const k of messages) rules.lastMs = Math.max(rules.lastMs, this.instant[k]!);
      }
      if (limit === null) continue;
      // Only messages sent in the 24 hours before a day matter to it: on the day before, or before now.
      rules.earlier = Array.from(messages, (k) => ({
        instant: this.instant[k]!,
        units: book.people.units[Math.floor(k / width)]!,
      }))
        // The mailbox's own today is the plan's first day or, east of the others, its second.
        .concat(i <= 1 ? uses : [])
        .sort((a, b) => a.instant - b.instant);
      before = rules.earlier.reduce((sum, u) => sum + u.units, 0);
    }
  }

  /** @returns the messages for which there is no instant */
  private timeDay(m: number, i: number, messages: Int32Array, rules: DayRules, within: boolean): readonly number[] {
    const seed = cellSeed(this.input.seed, m, this.placements.days.base + i);
    if (this.hasTimed(messages)) return this.timeAroundOwn(m, i, messages, rules, seed);
    if (this.keeper && this.keepTimes(this.keeper, m, i, messages, rules, seed)) return [];
    const spans = this.placements.book.open.open(m, i, 0);
    if (within && spans[0]!.startMs >= rules.lastMs + rules.paceMs && this.isPlain(messages, spans)) {
      this.timeAlike(m, i, messages, seededRandom(seed));
      return [];
    }
    return this.timeEach(m, i, messages, rules, seed);
  }

  /** Whether message k has an instant of its own. */
  private isTimed(k: number): boolean {
    const { width, book } = this.placements;
    return book.people.at !== null && k % width === 0 && book.people.at[k / width]! >= 0;
  }

  private hasTimed(messages: Int32Array): boolean {
    return this.placements.book.people.at !== null && messages.some((k) => this.isTimed(k));
  }

  /** The instant before which message k may not leave whatever the hours; -Infinity for none. */
  private notBefore(k: number): number {
    const { width, book } = this.placements;
    if (k % width !== 0) return -Infinity;
    const p = k / width;
    const begins = book.people.startsAt[book.people.campaign[p]!]!;
    return book.people.at ? Math.max(begins, book.people.at[p]!) : begins;
  }

  /** Times a day on which some messages have an instant of their own. @returns those for which there is none */
  private timeAroundOwn(m: number, i: number, messages: Int32Array, rules: DayRules, seed: number): number[] {
    const all = this.listed(m, i, messages).map((l) => ({
      ...l,
      isTimed: this.isTimed(l.id),
      instant: this.keeper?.instantOf(l.id) ?? null,
    }));
    const { timed, spilled } = timeAround(
      all.filter((l) => l.open.length > 0),
      rules,
      seededRandom(seed),
    );
    for (const t of timed) this.instant[t.id] = t.instant;
    return [...spilled, ...all.filter((l) => l.open.length === 0).map((l) => l.id)];
  }

  /** Keeps the instants of messages that have not moved. @returns false if the day has to be timed anew */
  private keepTimes(
    keeper: Keeper,
    m: number,
    i: number,
    messages: Int32Array,
    rules: DayRules,
    seed: number,
  ): boolean {
    if (this.allStay(keeper, m, i, messages, rules)) return true;
    const list = this.listed(m, i, messages).map((l) => ({ ...l, instant: keeper.instantOf(l.id) }));
    if (list.every((l) => l.instant === null)) return false;
    const instants = timeIntoGaps(list, rules, seededRandom(seed));
    instants?.forEach((at, k) => (this.instant[messages[k]!] = at));
    return instants !== null;
  }

  /** Whether neither the messages of a day nor its rules have changed; its instants are then kept. */
  private allStay(keeper: Keeper, m: number, i: number, messages: Int32Array, rules: DayRules): boolean {
    const { book, width } = this.placements;
    const { stepClass } = book.people;
    const instants = new Float64Array(messages.length);
    for (let k = 0; k < messages.length; k++) {
      const at = keeper.instantOf(messages[k]!);
      if (at === null || at < this.notBefore(messages[k]!)) return false;
      if (!isInside(book.open.open(m, i, stepClass(Math.floor(messages[k]! / width), messages[k]! % width)), at))
        return false;
      instants[k] = at;
    }
    const inOrder = instants.slice().sort();
    let last = rules.lastMs;
    for (const at of inOrder) {
      if (at - last < rules.paceMs) return false;
      last = at;
    }
    if (rules.providerLimit24h !== null) return false;
    for (let k = 0; k < messages.length; k++) this.instant[messages[k]!] = instants[k]!;
    return true;
  }

  private listed(m: number, i: number, messages: Int32Array): DayMessage[] {
    const { book, width } = this.placements;
    return Array.from(messages, (id) => {
      const p = Math.floor(id / width);
      const open = cropSpans(book.open.open(m, i, book.people.stepClass(p, id % width)), this.notBefore(id));
      // On a day that lies behind the end it is timed as if there were none, and taken out at last.
      const within = cropSpans(open, -Infinity, book.people.endsAt[book.people.campaign[p]!]!);
      return { id, units: book.people.units[p]!, open: within.length > 0 ? within : open };
    });
  }

  private isPlain(messages: Int32Array, spans: readonly Span[]): boolean {
    const { width, book } = this.placements;
    const { stepClass, hasStepHours, hours, startsAt, endsAt, campaign } = book.people;
    const [opensMs, closesMs] = [spans[0]!.startMs, spans.at(-1)!.endMs];
    const beginsLater = (k: number) => k % width === 0 && startsAt[campaign[k / width]!]! > opensMs;
    if (startsAt.some((at) => at > opensMs) && messages.some(beginsLater)) return false;
    const ends = (k: number) => isBetween(endsAt[campaign[Math.floor(k / width)]!]!, opensMs, closesMs);
    if (endsAt.some((at) => isBetween(at, opensMs, closesMs)) && messages.some(ends)) return false;
    return (
      (hours.length === 1 && !hasStepHours) || messages.every((k) => stepClass(Math.floor(k / width), k % width) === 0)
    );
  }

  /**
   * Times messages that may be sent at any open minute: the window, less the minimum gaps, is divided by random weights,
   * so that the whole day is used and no two gaps are alike.
   */
  private timeAlike(m: number, i: number, messages: Int32Array, random: Random): void {
    shuffle(messages, random);
    const spans = this.placements.book.open.open(m, i, 0);
    const pace = paceMs(this.input.mailboxes[m]!);
    const n = messages.length;
    const length = spans.reduce((sum, s) => sum + s.endMs - s.startMs, 0);
    const slack = Math.max(0, length - 1 - (n - 1) * pace);
    const weights = new Float64Array(n + 1);
    let sum = 0;
    for (let k = 0; k <= n; k++) {
      const weight = (0.35 - Math.log(1 - random())) * (k === 0 || k === n ? 0.5 : 1);
      sum += weight;
      weights[k] = weight;
    }
    const { instant } = this;
    let [passed, at, offset] = [0, 0, 0];
    for (let k = 0; k < n; k++) {
      passed += weights[k]!;
      const position = Math.floor((slack * passed) / sum) + k * pace;
      while (position - offset >= spans[at]!.endMs - spans[at]!.startMs)
        offset += spans[at]!.endMs - spans[at++]!.startMs;
      instant[messages[k]!] = spans[at]!.startMs + position - offset;
    }
  }

  /** @returns the messages for which there is no instant */
  private timeEach(m: number, i: number, messages: Int32Array, rules: DayRules, seed: number): number[] {
    const all = this.listed(m, i, messages);
    const closed = all.filter((l) => l.open.length === 0).map((l) => l.id);
    const { timed, spilled } = assignInstants(
      closed.length === 0 ? all : all.filter((l) => l.open.length > 0),
      rules,
      seed,
    );
    for (const t of timed) this.instant[t.id] = t.instant;
    spilled.push(...closed);
    for (const k of spilled) this.instant[k] = 0;
    return spilled;
  }

  private spill(k: number, i: number, spilled: Map<number, number>): void {
    const p = Math.floor(k / this.placements.width);
    spilled.set(p, Math.min(spilled.get(p) ?? Infinity, i));
  }
}

const isBetween = (at: number, after: number, before: number): boolean => at > after && at < before;

/** Shuffles the order, so that nobody is always written to at the same hour because of their place in the list. */
function shuffle(messages: Int32Array, random: Random): void {
  for (let k = messages.length - 1; k > 0; k--) {
    const other = Math.floor(random() * (k + 1));
    const message = messages[k]!;
    messages[k] = messages[other]!;
    messages[other] = message;
  }
}

interface ByCell {
  /** Messages (p * width + s) in order of mailbox and day. */
  order: Int32Array;
  /** Where each mailbox-day begins in it. */
  start: Int32Array;
}

export const everyMailbox = ({ book }: Placements): ReadonlySet<number> =>
  new Set(Array.from({ length: book.mailboxes }, (_, m) => m));

/** A counting sort of the messages of some mailboxes. */
function messagesByCell({ book, days, day, mailbox, width }: Placements, mailboxes: ReadonlySet<number>): ByCell {
  const { count, nextStep } = book.people;
  // The first cell of each chosen mailbox; none for the others.
  const cellsOf = new Int32Array(book.mailboxes).fill(-1);
  for (const m of mailboxes) cellsOf[m] = m * days.count;
  const start = new Int32Array(book.mailboxes * days.count + 1);
  for (let p = 0; p < count; p++) {
    const from = mailbox[p]! < 0 ? -1 : cellsOf[mailbox[p]!]!;
    if (from < 0) continue;
    const end = (p + 1) * width;
    for (let k = p * width + nextStep[p]!; k < end; k++) if (day[k]! >= 0) start[from + day[k]! + 1]!++;
  }
  for (let cell = 0; cell < start.length - 1; cell++) start[cell + 1]! += start[cell]!;
  const order = new Int32Array(start.at(-1)!);
  const next = start.slice();
  for (let p = 0; p < count; p++) {
    const from = mailbox[p]! < 0 ? -1 : cellsOf[mailbox[p]!]!;
    if (from < 0) continue;
    const end = (p + 1) * width;
    for (let k = p * width + nextStep[p]!; k < end; k++) if (day[k]! >= 0) order[next[from + day[k]!]!++] = k;
  }
  return { order, start };
}

/** A seed of its own for each day of each mailbox. */
function cellSeed(seed: number, m: number, day: number): number {
  let h = Math.imul(seed ^ Math.imul(m + 1, 0x9e3779b1), 0x85ebca6b) ^ Math.imul(day, 0xc2b2ae35);
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
  return (h ^ (h >>> 13)) >>> 0;
}
