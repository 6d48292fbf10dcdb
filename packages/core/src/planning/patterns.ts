import type { Placements } from './placements';

/** People of one campaign who wait to start, in the order given. */
export interface Entry {
  campaign: number;
  people: number[];
}

/** What a pattern that goes its own way may send. */
export interface OwnLimit {
  /** Messages a day: of each mailbox, or of all together. */
  messages: number;
  of: 'each mailbox' | 'all mailboxes';
}

/** People who share starts as one: the same steps, mailboxes and first day. */
export interface Pattern {
  entries: Entry[];
  mailboxes: readonly number[];
  steps: readonly { delay: number; tolerance: number }[];
  /** First day index on which its people may start. */
  begins: number;
  weight: number;
  /** Units of one message to everybody who has not started. */
  units: number;
  /** Units of one message to everybody who may have started by the end of each day. */
  available: Float64Array;
  /** Where a daily limit or a domain's cap, not the mailboxes, decides how fast it can go. */
  own: OwnLimit | null;
}

/** Most domains that get a course of their own. */
const MOST_DOMAINS = 12;

/** The patterns of everybody who has not started and is not placed yet. Those with limits of their own come first. */
export function findPatterns(placements: Placements, domainCap: number | null): Pattern[] {
  const { campaigns, book } = placements;
  const { people } = book;
  const starters = campaigns.map((): number[] => []);
  for (let p = 0; p < people.count; p++) {
    const c = people.campaign[p]!;
    const waits = people.nextStep[p] === 0 && placements.mailbox[p]! < 0;
    if (waits && !campaigns[c]!.held && campaigns[c]!.steps.length > 0) starters[c]!.push(p);
  }
  const patterns = new Map<string, Pattern>();
  const tight = tightDomains(placements, starters, domainCap);
  starters.forEach((all, c) => {
    if (all.length === 0) return;
    const { dailyLimit } = campaigns[c]!;
    const limit: OwnLimit | null = dailyLimit === null ? null : { messages: dailyLimit, of: 'all mailboxes' };
    const rest = tight.size === 0 ? all : all.filter((p) => !tight.has(people.domain[p]!));
    if (rest.length > 0) addEntry(patterns, placements, { campaign: c, people: rest }, limit);
    for (const domain of tight) {
      const own = all.filter((p) => people.domain[p] === domain);
      const cap: OwnLimit = { messages: domainCap!, of: 'each mailbox' };
      if (own.length > 0) addEntry(patterns, placements, { campaign: c, people: own }, cap);
    }
  });
  const found = [...patterns.values()];
  for (const pattern of found) if (!isTight(placements, pattern, found)) pattern.own = null;
  for (const { available } of found) for (let i = 1; i < available.length; i++) available[i]! += available[i - 1]!;
  return [...found.filter((p) => p.own), ...found.filter((p) => !p.own)];
}

function addEntry(patterns: Map<string, Pattern>, placements: Placements, entry: Entry, own: OwnLimit | null): void {
  const { campaigns, book, days } = placements;
  const { people } = book;
  const campaign = campaigns[entry.campaign]!;
  const begins = entry.people.reduce((first, p) => Math.min(first, people.earliest[p]!), Infinity);
  const key = own ? `own ${patterns.size}` : JSON.stringify([campaign.steps, campaign.mailboxes, begins]);
  const pattern = patterns.get(key) ?? {
    ...{ entries: [], mailboxes: campaign.mailboxes, steps: campaign.steps, begins, weight: 0, units: 0, own },
    available: new Float64Array(days.count),
  };
  pattern.entries.push(entry);
  pattern.weight += Math.max(1e-9, campaign.weight);
  for (const p of entry.people) {
    pattern.units += people.units[p]!;
    if (people.earliest[p]! < days.count) pattern.available[people.earliest[p]!]! += people.units[p]!;
  }
  patterns.set(key, pattern);
}

/** Units that some mailboxes take on a day, the mean of the first weeks. */
function dailyCapacity({ book, days }: Placements, mailboxes: readonly number[]): number {
  const n = Math.min(days.count, 56);
  let sum = 0;
  for (const m of mailboxes) for (let i = 0; i < n; i++) sum += Math.max(0, book.left(m, i));
  return sum / Math.max(1, n);
}

/** Domains with so many people that their cap takes more than half as long as the mailboxes do for everybody. */
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

/** Whether its own limit lets a pattern send less than its weight would. */
function isTight(placements: Placements, pattern: Pattern, all: readonly Pattern[]): boolean {
  if (!pattern.own || pattern.own.of === 'each mailbox') return pattern.own !== null;
  const rivals = all.filter((other) => other.mailboxes.some((m) => pattern.mailboxes.includes(m)));
  const claims = rivals.reduce((sum, { weight, steps }) => sum + weight * steps.length, 0);
  const share = (pattern.weight * pattern.steps.length) / claims;
  return pattern.own.messages < share * dailyCapacity(placements, pattern.mailboxes);
}

/** Mean over all messages of the working days since the first of their sequence. */
export function meanOffset(patterns: readonly Pattern[]): number {
  let [sum, messages] = [0, 0];
  for (const { steps, units } of patterns) {
    let offset = 0;
    for (const { delay } of steps) sum += (offset += delay) * units;
    messages += units * steps.length;
  }
  return messages === 0 ? 0 : sum / messages;
}
