import {
  createZones,
  dayNumber,
  intersectSpans,
  isoWeekday,
  rampQuota,
  spansOfDay,
  workingCalendar,
  type PlanInput,
  type PlanMailbox,
} from '@baton/core';
import highsLoader from 'highs';

/** What the linear program that knows no whole numbers and no minutes of the day can reach at best. */
export interface Optimum {
  /** Working-day index of first messages, weighted by units times steps; the first working day from today is 0. */
  meanStart: number;
  lastStart: number;
  late: number;
}

/** People alike in everything that the day-level program knows. */
interface PeopleClass {
  campaign: number;
  notBefore: number;
  units: number;
  zone: number;
  domain: number;
  group: number;
  nextStep: number;
  dueDay: number;
  count: number;
}

interface MailboxGroup {
  members: number[];
  capacity: Float64Array;
}

/**
 * The day-level program: for each class of people, group of like mailboxes and step the cumulative messages
 * by day; see docs/planning.md. Solved by HiGHS.
 */
export async function optimum(input: PlanInput): Promise<Optimum> {
  // Where campaigns may use some mailboxes only, these take longer than all together would.
  for (let longer = 1; longer <= 8; longer *= 2) {
    const found = await optimumWithin(input, calendarOf(input, longer));
    if (found) return found;
  }
  throw new Error('The yardstick found no optimum.');
}

async function optimumWithin(input: PlanInput, days: Days): Promise<Optimum | null> {
  const groups = groupMailboxes(input, days);
  const classes = classesOf(input, groups);
  const model = new Text();
  for (const [k, c] of classes.entries()) describeClass(model, input, days, groups, c, k);
  describeDays(model, input, days, groups, classes);
  const highs = await highsLoader();
  const result = highs.solve(model.text(), { presolve: 'on', solver: 'ipm', run_crossover: 'off' } as never);
  if (result.Status !== 'Optimal') return null;
  const value = (name: string) => (result.Columns[name] as { Primal: number } | undefined)?.Primal ?? 0;
  return readOptimum(input, days, groups, classes, value);
}

interface Days {
  first: number;
  count: number;
  /** Working-day index of each day, -1 before the first. */
  workday: number[];
}

function calendarOf(input: PlanInput, longer: number): Days {
  const first = Math.floor(input.now / 86_400_000);
  const calendar = workingCalendar(input.calendar.weekdays, input.calendar.holidays);
  const need = input.recipients.units.reduce(
    (sum, u, p) =>
      sum + u * (input.campaigns[input.recipients.campaign[p]!]!.steps.length - input.recipients.nextStep[p]!),
    0,
  );
  let [count, room] = [0, 0];
  while (room < need * 1.1 && count < input.horizonDays) {
    for (const m of input.mailboxes) room += capacityOf(input, m, first + count, calendar);
    count++;
  }
  count = Math.min(input.horizonDays + 1, count * longer + 70);
  const workday: number[] = [];
  let n = -1;
  for (let i = 0; i < count; i++) {
    if (calendar.isWorking(first + i)) n++;
    workday.push(n);
  }
  return { first, count, workday };
}

const zones = createZones();

function capacityOf(
  input: PlanInput,
  m: PlanMailbox,
  day: number,
  calendar: ReturnType<typeof workingCalendar>,
): number {
  if (m.held || m.daysOff.some((d) => dayNumber(d) === day)) return 0;
  if (m.restUntil !== null && day < dayNumber(m.restUntil)) return 0;
  const open = spansOfDay(m.windows, day, zones.get(m.zone)).reduce((sum, s) => sum + s.endMs - s.startMs, 0);
  if (open === 0) return 0;
  const today = zones.get(m.zone).toLocal(input.now).day;
  const quota =
    'days' in m.capacity
      ? (m.capacity.days[Math.min(day - today, m.capacity.days.length - 1)] ?? 0)
      : m.capacity.ramp
        ? rampQuota(m.capacity.quota, m.capacity.ramp, Math.max(0, calendar.between(m.capacity.ramp.day, day)))
        : m.capacity.quota;
  const room = m.paceSeconds === 0 ? Infinity : open / (m.paceSeconds * 1000);
  return Math.min(quota, m.providerLimit24h ?? Infinity, room);
}

function groupMailboxes(input: PlanInput, days: Days): MailboxGroup[] {
  const calendar = workingCalendar(input.calendar.weekdays, input.calendar.holidays);
  const groups = new Map<string, MailboxGroup>();
  const hasBound = new Set(input.recipients.boundMailbox);
  input.mailboxes.forEach((m, at) => {
    const capacity = Float64Array.from({ length: days.count }, (_, i) =>
      capacityOf(input, m, days.first + i, calendar),
    );
    const bound = hasBound.has(at) ? at : -1;
    const key = `${bound} ${capacity.join()} ${input.campaigns.map((c) => c.mailboxes.includes(at)).join()}`;
    const group = groups.get(key) ?? { members: [], capacity: new Float64Array(days.count) };
    group.members.push(at);
    for (let i = 0; i < days.count; i++) group.capacity[i]! += capacity[i]!;
    groups.set(key, group);
  });
  return [...groups.values()];
}

function classesOf(input: PlanInput, groups: MailboxGroup[]): PeopleClass[] {
  const r = input.recipients;
  const shared = new Map<number, number>();
  for (const d of r.domain) shared.set(d, (shared.get(d) ?? 0) + 1);
  const groupOf = new Map(groups.flatMap((g, at) => g.members.map((m) => [m, at] as const)));
  const classes = new Map<string, PeopleClass>();
  for (let p = 0; p < r.count; p++) {
    const campaign = r.campaign[p]!;
    const own: Omit<PeopleClass, 'count'> = {
      campaign,
      notBefore: r.notBefore[p]!,
      units: r.units[p]!,
      zone: input.campaigns[campaign]!.recipientWindow ? r.zone[p]! : -1,
      domain: input.domainCap !== null && shared.get(r.domain[p]!)! > input.domainCap ? r.domain[p]! : -1,
      group: r.boundMailbox[p]! < 0 ? -1 : groupOf.get(r.boundMailbox[p]!)!,
      nextStep: r.nextStep[p]!,
      dueDay: r.dueDay[p]!,
    };
    const key = JSON.stringify(own);
    const c = classes.get(key) ?? { ...own, count: 0 };
    c.count++;
    classes.set(key, c);
  }
  return [...classes.values()];
}

/** A linear program in the text form that HiGHS reads. */
class Text {
  readonly objective = new Map<string, number>();
  private readonly rows: string[] = [];

  cost(name: string, value: number): void {
    this.objective.set(name, (this.objective.get(name) ?? 0) + value);
  }

  row(terms: [factor: number, name: string | null][], relation: '<=' | '>=' | '=', bound: number): void {
    const sum = new Map<string, number>();
    for (const [f, name] of terms) if (name !== null) sum.set(name, (sum.get(name) ?? 0) + f);
    const words = [...sum].filter(([, f]) => f !== 0).map(([name, f]) => term(f, name));
    if (words.length > 0) this.rows.push(` ${words.join(' ')} ${relation} ${bound}`);
  }

  text(): string {
    const cost = [...this.objective].map(([name, f]) => term(f, name));
    return `Minimize\n ${cost.join('\n ')}\nSubject To\n${this.rows.join('\n')}\nEnd\n`;
  }
}

const term = (f: number, name: string) => `${f < 0 ? '-' : '+'} ${Math.abs(f)} ${name}`;
const name = (k: number, g: number, s: number, i: number) => (i < 0 ? null : `f${k}_${g}_${s}_${i}`);
const LATE_COST = 1e4;

const groupsOf = (input: PlanInput, groups: MailboxGroup[], c: PeopleClass): number[] =>
  [...groups.keys()].filter(
    (g) => (c.group < 0 || c.group === g) && input.campaigns[c.campaign]!.mailboxes.includes(groups[g]!.members[0]!),
  );

function describeClass(text: Text, input: PlanInput, days: Days, groups: MailboxGroup[], c: PeopleClass, k: number) {
  const campaign = input.campaigns[c.campaign]!;
  const { workday } = days;
  const last = days.count - 1;
  const own = groupsOf(input, groups, c);
  const begins = Math.max(c.notBefore, c.nextStep === 0 ? dayNumber(campaign.startDate) : c.dueDay) - days.first;
  text.row(
    own.map((g) => [1, name(k, g, c.nextStep, last)]),
    '=',
    c.count,
  );
  for (const g of own) {
    for (let s = c.nextStep; s < campaign.steps.length; s++) {
      const { delay, tolerance } = campaign.steps[s]!;
      text.row(
        [
          [1, name(k, g, s, last)],
          [-1, name(k, g, c.nextStep, last)],
        ],
        '=',
        0,
      );
      let [may, must] = [-1, -1];
      for (let i = 0; i < days.count; i++) {
        const at = name(k, g, s, i);
        text.row(
          [
            [1, at],
            [-1, name(k, g, s, i - 1)],
          ],
          '>=',
          0,
        );
        if (s === 0)
          text.cost(at!, -c.units * campaign.steps.length * ((workday[i + 1] ?? workday[i]! + 1) - workday[i]!));
        if (s === c.nextStep) {
          if (i < begins) text.row([[1, at]], '<=', 0);
          const due = c.dueDay - days.first;
          if (s > 0 && i === last) text.cost(`l${k}_${g}_${s}`, LATE_COST);
          if (s > 0 && i >= due && (workday[i + 1] ?? Infinity) - (due < 0 ? -1 : workday[due]!) > tolerance)
            text.row(
              [
                [1, at],
                [1, `l${k}_${g}_${s}`],
                [-1, name(k, g, s, last)],
              ],
              '>=',
              0,
            );
          continue;
        }
        while (may + 1 < i && workday[i]! - workday[may + 1]! >= delay) may++;
        while (must + 1 <= i && (workday[i + 1] ?? Infinity) - workday[must + 1]! > delay + tolerance) must++;
        text.row(
          [
            [1, at],
            [-1, name(k, g, s - 1, may)],
          ],
          '<=',
          0,
        );
        if (i < last)
          text.row(
            [
              [1, at],
              [-1, name(k, g, s - 1, must)],
              [1, `l${k}_${g}_${s}`],
            ],
            '>=',
            0,
          );
        if (i === 0) text.cost(`l${k}_${g}_${s}`, LATE_COST);
      }
    }
  }
}

function describeDays(text: Text, input: PlanInput, days: Days, groups: MailboxGroup[], classes: PeopleClass[]): void {
  type Terms = [number, string | null][];
  const messages = (k: number, g: number, i: number, factor: number): Terms => {
    const c = classes[k]!;
    const out: Terms = [];
    for (let s = c.nextStep; s < input.campaigns[c.campaign]!.steps.length; s++)
      out.push([factor, name(k, g, s, i)], [-factor, name(k, g, s, i - 1)]);
    return out;
  };
  const users = groups.map((_, g) =>
    [...classes.keys()].filter((k) => groupsOf(input, groups, classes[k]!).includes(g)),
  );
  const crowded = new Set(classes.map((c) => c.domain).filter((d) => d >= 0));
  for (let i = 0; i < days.count; i++) {
    groups.forEach((group, g) => {
      const all = users[g]!;
      text.row(
        all.flatMap((k) => messages(k, g, i, classes[k]!.units)),
        '<=',
        group.capacity[i]!,
      );
      for (const d of crowded) {
        const own = all.filter((k) => classes[k]!.domain === d);
        text.row(
          own.flatMap((k) => messages(k, g, i, 1)),
          '<=',
          input.domainCap! * group.members.length,
        );
      }
      for (const k of all)
        if (!meets(input, group, classes[k]!, days.first + i)) text.row(messages(k, g, i, 1), '<=', 0);
    });
    input.campaigns.forEach((campaign, c) => {
      if (campaign.dailyLimit === null) return;
      const own = groups.flatMap((_, g) =>
        users[g]!.filter((k) => classes[k]!.campaign === c).flatMap((k) => messages(k, g, i, 1)),
      );
      text.row(own, '<=', campaign.dailyLimit);
    });
  }
}

function meets(input: PlanInput, group: MailboxGroup, c: PeopleClass, day: number): boolean {
  const window = input.campaigns[c.campaign]!.recipientWindow;
  if (!window) return true;
  const m = input.mailboxes[group.members[0]!]!;
  const zone = zones.get(input.zones[c.zone]!);
  const theirs = [day - 1, day, day + 1]
    .filter((d) => window.weekdays.includes(isoWeekday(d)))
    .map((d) => ({ startMs: zone.toInstant(d, window.from), endMs: zone.toInstant(d, window.to) }));
  return intersectSpans(spansOfDay(m.windows, day, zones.get(m.zone)), theirs).length > 0;
}

function readOptimum(
  input: PlanInput,
  days: Days,
  groups: MailboxGroup[],
  classes: PeopleClass[],
  value: (name: string) => number,
): Optimum {
  let [weight, sum, lastStart, late] = [0, 0, 0, 0];
  const starts = new Float64Array(days.count);
  classes.forEach((c, k) => {
    const { steps } = input.campaigns[c.campaign]!;
    for (const g of groupsOf(input, groups, c)) {
      for (let s = c.nextStep; s < steps.length; s++) late += value(`l${k}_${g}_${s}`);
      if (c.nextStep > 0) continue;
      for (let i = 0; i < days.count; i++) {
        const n = value(name(k, g, 0, i)!) - (i === 0 ? 0 : value(name(k, g, 0, i - 1)!));
        const w = n * c.units * steps.length;
        weight += w;
        sum += w * Math.max(0, days.workday[i]!);
        starts[i]! += n;
      }
    }
  });
  // The interior solution spreads crumbs; the last start is where all but a half have started.
  const total = starts.reduce((a, b) => a + b, 0);
  let done = 0;
  for (let i = 0; i < days.count && done < total - 0.5; i++) {
    done += starts[i]!;
    lastStart = Math.max(0, days.workday[i]!);
  }
  return { meanStart: weight === 0 ? 0 : sum / weight, lastStart, late };
}
