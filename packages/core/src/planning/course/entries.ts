import type { Placements } from '../placements/placements';

/** People of one campaign who wait to start, in the order given; where a domain's cap is narrow, those of one domain. */
export interface Entry {
  campaign: number;
  people: number[];
  steps: readonly { delay: number; tolerance: number }[];
  /** The mailboxes open to people who are not bound to one. */
  mailboxes: readonly number[];
  /** Units of one message to the people bound to each mailbox. */
  bound: ReadonlyMap<number, number>;
  /** First day index on which anybody may start. */
  begins: number;
  /** Share of the starts when entries compete. */
  weight: number;
  /** Units of one message to everybody. */
  units: number;
  /** Cumulative units of one message to everybody available by the end of each day. */
  available: Float64Array;
  /** Whether a daily limit or a domain's cap, rather than the mailboxes, decides how fast it is sent. */
  own: OwnLimit | null;
}

/** The limit of an entry that has a course of its own. */
export interface OwnLimit {
  /** Messages a day: per mailbox, or of all mailboxes together. */
  messages: number;
  of: 'each mailbox' | 'all mailboxes';
}

/** Most domains that get a course of their own. */
const MOST_DOMAINS = 12;

/** Everybody who has not started and is not placed yet. */
export function findEntries(placements: Placements, domainCap: number | null): Entry[] {
  const { campaigns, book } = placements;
  const { people } = book;
  const starters = campaigns.map((): number[] => []);
  for (let p = 0; p < people.count; p++) {
    const c = people.campaign[p]!;
    const waits = people.nextStep[p] === 0 && placements.mailbox[p]! < 0;
    if (waits && !campaigns[c]!.held && campaigns[c]!.steps.length > 0) starters[c]!.push(p);
  }
  const entries: Entry[] = [];
  const tight = tightDomains(placements, starters, domainCap);
  starters.forEach((all, c) => {
    const { dailyLimit } = campaigns[c]!;
    const limit: OwnLimit | null = dailyLimit === null ? null : { messages: dailyLimit, of: 'all mailboxes' };
    const own = new Map<number, number[]>([...tight].map((domain) => [domain, []]));
    const rest: number[] = own.size === 0 ? all : [];
    if (own.size > 0) for (const p of all) (own.get(people.domain[p]!) ?? rest).push(p);
    if (rest.length > 0) entries.push(entryOf(placements, c, rest, limit));
    const cap: OwnLimit = { messages: domainCap!, of: 'each mailbox' };
    for (const waiting of own.values()) if (waiting.length > 0) entries.push(entryOf(placements, c, waiting, cap));
  });
  for (const entry of entries) if (!isTight(placements, entry, entries)) entry.own = null;
  return entries;
}

function entryOf({ campaigns, book, days }: Placements, c: number, waiting: number[], own: OwnLimit | null): Entry {
  const { people } = book;
  const { steps, mailboxes, weight } = campaigns[c]!;
  const available = new Float64Array(days.count);
  const bound = new Map<number, number>();
  let [units, begins] = [0, Infinity];
  for (const p of waiting) {
    const from = people.earliest[p]!;
    begins = Math.min(begins, from);
    units += people.units[p]!;
    if (from < days.count) available[from]! += people.units[p]!;
    const m = people.bound[p]!;
    if (m >= 0) bound.set(m, (bound.get(m) ?? 0) + people.units[p]!);
  }
  for (let i = 1; i < available.length; i++) available[i]! += available[i - 1]!;
  return {
    campaign: c,
    people: waiting,
    steps,
    mailboxes,
    bound,
    begins,
    weight: Math.max(1e-9, weight),
    units,
    available,
    own,
  };
}

/** Mean capacity of some mailboxes per day, in units, over the first weeks. */
function dailyCapacity({ book, days }: Placements, mailboxes: readonly number[]): number {
  const n = Math.min(days.count, 56);
  let sum = 0;
  for (const m of mailboxes) for (let i = 0; i < n; i++) sum += Math.max(0, book.left(m, i));
  return sum / Math.max(1, n);
}

/** Domains whose cap needs more than half as long for their people as the mailboxes need for everybody. */
function tightDomains(placements: Placements, starters: number[][], domainCap: number | null): Set<number> {
  const { book, campaigns, days } = placements;
  const { people } = book;
  if (domainCap === null || people.domains === 0) return new Set();
  const messages = new Float64Array(people.domains);
  let all = 0;
  starters.forEach((waiting, c) => {
    for (const p of waiting) {
      all += people.units[p]! * campaigns[c]!.steps.length;
      if (people.domain[p]! >= 0) messages[people.domain[p]!]! += campaigns[c]!.steps.length;
    }
  });
  const open = Array.from({ length: book.mailboxes }, (_, m) => m);
  const n = Math.min(days.count, 56);
  let mailboxDays = 0;
  for (const m of open) for (let i = 0; i < n; i++) if (book.left(m, i) > 0) mailboxDays++;
  const needed = all / Math.max(1e-9, dailyCapacity(placements, open));
  const takes = (d: number) => messages[d]! / Math.max(1e-9, (domainCap * mailboxDays) / n);
  return new Set(
    [...messages.keys()]
      .filter((d) => takes(d) > 0.5 * needed)
      .sort((a, b) => takes(b) - takes(a))
      .slice(0, MOST_DOMAINS),
  );
}

/** Whether its own limit allows an entry less than its weight would. */
function isTight(placements: Placements, entry: Entry, all: readonly Entry[]): boolean {
  if (!entry.own || entry.own.of === 'each mailbox') return entry.own !== null;
  const rivals = all.filter((other) => other.mailboxes.some((m) => entry.mailboxes.includes(m)));
  const claims = rivals.reduce((sum, { weight, steps }) => sum + weight * steps.length, 0);
  const share = (entry.weight * entry.steps.length) / claims;
  return entry.own.messages < share * dailyCapacity(placements, entry.mailboxes);
}

/** Mean over all messages of the working days since the first of their sequence. */
export function meanOffset(entries: readonly Pick<Entry, 'steps' | 'units'>[]): number {
  let [sum, messages] = [0, 0];
  for (const { steps, units } of entries) {
    let offset = 0;
    for (const { delay } of steps) sum += (offset += delay) * units;
    messages += units * steps.length;
  }
  return messages === 0 ? 0 : sum / messages;
}
