import { dayNumber } from '../../time/days';
import type { HourClass } from '../workspace/mailbox-days';
import type { PlanDays } from '../workspace/plan-days';
import type { PlanInput, RecipientWindow } from '../workspace/plan-input';

/** What the planner needs to know about each recipient, in columns. */
export interface People {
  readonly count: number;
  readonly campaign: Int32Array;
  readonly units: Int32Array;
  readonly nextStep: Int32Array;
  readonly bound: Int32Array;
  /** Index of the first day on which anything may be sent. */
  readonly earliest: Int32Array;
  /** {@link PlanDays.workday} of the day on which the next message is due; people in progress only. */
  readonly dueWorkday: Int32Array;
  /** Instant of each person's first message, -1 for none; null where nobody has one. People who have not started only. */
  readonly at: Float64Array | null;
  /** By campaign: the instant before which it has no first message; -Infinity for none. */
  readonly startsAt: Float64Array;
  /** By campaign: the instant from which on it sends nothing; Infinity for none. */
  readonly endsAt: Float64Array;
  /** By campaign, the instant from which on each of its messages does not leave; null where none of a campaign has one. */
  readonly stepEnds: readonly (Float64Array | null)[];
  /** Index into {@link hours}. */
  readonly hourClass: Int32Array;
  /** The same for one message of a person, which may have hours of its own within those. */
  readonly stepClass: (p: number, step: number) => number;
  /** Whether any message of any campaign has. */
  readonly hasStepHours: boolean;
  readonly hours: (HourClass | null)[];
  /** People of one kind may be written to on the same days from the same mailboxes at the same cost; numbered from 0. */
  readonly kind: Int32Array;
  readonly kinds: number;
  /** Number of a domain that has more people than its daily cap, or -1. */
  readonly domain: Int32Array;
  readonly domains: number;
}

export function readPeople(input: PlanInput, days: PlanDays): People {
  const r = input.recipients;
  const [campaign, units, nextStep] = [columnOf(r.campaign), columnOf(r.units), columnOf(r.nextStep)];
  const [bound, notBefore, dueDay] = [columnOf(r.boundMailbox), columnOf(r.notBefore), columnOf(r.dueDay)];
  const { count } = r;
  const hours = new HourClasses(input, days);
  const startOf = input.campaigns.map((c) => days.index(dayNumber(c.startDate)));
  const earliest = new Int32Array(count);
  const hourClass = new Int32Array(count);
  const dueWorkday = new Int32Array(count);
  const workdays = new Map<number, number>();
  for (let p = 0; p < count; p++) {
    const begins = nextStep[p] === 0 ? startOf[campaign[p]!]! : days.index(dueDay[p]!);
    earliest[p] = notBefore[p]! < 0 ? begins : Math.max(begins, days.index(notBefore[p]!));
    if (nextStep[p]! > 0) {
      const due = dueDay[p]!;
      if (!workdays.has(due)) workdays.set(due, days.workdayOf(due));
      dueWorkday[p] = workdays.get(due)!;
    }
    hourClass[p] = hours.of(campaign[p]!, r.zone[p]!);
  }
  const { domain, domains } = crowdedDomains(input);
  const { kind, kinds } = findKinds(count, [campaign, units, bound, earliest, hourClass, domain]);
  // Written out: objects built by spreading have a different hidden class each time, though their fields are the same.
  return {
    count,
    campaign,
    units,
    nextStep,
    bound,
    earliest,
    dueWorkday,
    at: ownInstants(input),
    startsAt: Float64Array.from(input.campaigns, (c) => c.startInstant ?? -Infinity),
    endsAt: Float64Array.from(input.campaigns, (c) => c.endInstant ?? Infinity),
    stepEnds: input.campaigns.map(({ steps }) =>
      steps.some((s) => s.endInstant != null) ? Float64Array.from(steps, (s) => s.endInstant ?? Infinity) : null,
    ),
    hourClass,
    stepClass: (p, step) =>
      hours.narrows(campaign[p]!, step) ? hours.of(campaign[p]!, r.zone[p]!, step) : hourClass[p]!,
    hasStepHours: input.campaigns.some(({ steps }) => steps.some((s) => s.hours != null)),
    hours: hours.all,
    kind,
    kinds,
    domain,
    domains,
  };
}

function ownInstants({ recipients: { at, nextStep } }: PlanInput): Float64Array | null {
  if (!at?.some((instant, p) => instant >= 0 && nextStep[p] === 0)) return null;
  return Float64Array.from(at, (instant, p) => (nextStep[p] === 0 ? instant : -1));
}

/** The same numbers in a typed array; three times as fast as its constructor. */
function columnOf(values: readonly number[]): Int32Array {
  const out = new Int32Array(values.length);
  for (let i = 0; i < out.length; i++) out[i] = values[i]!;
  return out;
}

/**
 * Numbers the distinct rows of some columns in order of first occurrence.
 *
 * @param columns the first holds small whole numbers; most rows equal the last row with the same number there
 */
function findKinds(count: number, columns: readonly Int32Array[]): { kind: Int32Array; kinds: number } {
  const kind = new Int32Array(count);
  // A trie: each column leads from one branch to the next by its value; the leaves are the kinds.
  const branches: Map<number, number>[] = [new Map<number, number>()];
  const lastOf: number[] = [];
  let kinds = 0;
  for (let p = 0; p < count; p++) {
    const last = lastOf[columns[0]![p]!];
    lastOf[columns[0]![p]!] = p;
    if (last !== undefined && isAlike(columns, p, last)) {
      kind[p] = kind[last]!;
      continue;
    }
    let at = 0;
    columns.forEach((column, c) => {
      let next = branches[at]!.get(column[p]!);
      if (next === undefined) {
        next = c + 1 === columns.length ? kinds++ : branches.push(new Map<number, number>()) - 1;
        branches[at]!.set(column[p]!, next);
      }
      at = next;
    });
    kind[p] = at;
  }
  return { kind, kinds };
}

function isAlike(columns: readonly Int32Array[], p: number, other: number): boolean {
  for (const column of columns) if (column[p] !== column[other]) return false;
  return true;
}

const MOST_STEPS = 10_001;
const ALWAYS: RecipientWindow = { weekdays: [1, 2, 3, 4, 5, 6, 7], from: 0, to: 1440 };

class HourClasses {
  readonly all: (HourClass | null)[] = [null];
  /** By campaign and step, -1 standing for the campaign's own; then by zone. */
  private readonly known = new Map<number, Int32Array>();
  private readonly byName = new Map<string, number>();

  constructor(
    private readonly input: PlanInput,
    private readonly days: PlanDays,
  ) {}

  /** Whether a message of a campaign has hours of its own. */
  narrows(campaign: number, step: number): boolean {
    return this.input.campaigns[campaign]!.steps[step]?.hours != null;
  }

  of(campaign: number, zone: number, step = -1): number {
    const window = this.windowOf(campaign, step);
    if (!window) return 0;
    const key = campaign * MOST_STEPS + step + 1;
    let known = this.known.get(key);
    if (!known) this.known.set(key, (known = new Int32Array(this.input.zones.length).fill(-1)));
    if (known[zone] === -1) known[zone] = this.add(window, zone);
    return known[zone]!;
  }

  private windowOf(campaign: number, step: number): RecipientWindow | null {
    const { recipientWindow, steps } = this.input.campaigns[campaign]!;
    const hours = steps[step]?.hours;
    if (!hours) return recipientWindow;
    const { weekdays, from, to } = recipientWindow ?? ALWAYS;
    return { weekdays, from: Math.max(from, hours.from), to: Math.min(to, hours.to) };
  }

  private add(window: RecipientWindow, zone: number): number {
    const name = `${this.input.zones[zone]} ${window.weekdays.join()} ${window.from} ${window.to}`;
    let id = this.byName.get(name);
    if (id === undefined) {
      id = this.all.push({ window, zone: this.days.zones.get(this.input.zones[zone]!) }) - 1;
      this.byName.set(name, id);
    }
    return id;
  }
}

/** A domain's cap can only matter if more people share the domain than it allows a day. */
function crowdedDomains({ domainCap, recipients }: PlanInput): { domain: Int32Array; domains: number } {
  const domain = new Int32Array(recipients.count).fill(-1);
  if (domainCap === null) return { domain, domains: 0 };
  const people = new Map<number, number>();
  for (let p = 0; p < recipients.count; p++)
    people.set(recipients.domain[p]!, (people.get(recipients.domain[p]!) ?? 0) + 1);
  const crowded = new Map<number, number>();
  for (const [d, n] of people) if (n > domainCap) crowded.set(d, crowded.size);
  for (let p = 0; p < recipients.count; p++) domain[p] = crowded.get(recipients.domain[p]!) ?? -1;
  return { domain, domains: crowded.size };
}
