import type { Address } from './address';

/** What may be worth a look about an address that is otherwise fine. */
export const ADDRESS_NOTES = ['misspelt', 'shared', 'throw_away', 'doubled', 'no_server'] as const;

export interface AddressNote {
  kind: (typeof ADDRESS_NOTES)[number];
  words: string;
  /** The address as it probably should be; null where nothing can be proposed. */
  mend: string | null;
}

/** Names of functions, not of people, in several European languages. */
const SHARED = new Set(
  'info office contact kontakt contacto contatto sales verkauf ventes ventas vendite hello hallo mail email post support service admin billing accounts buchhaltung compta marketing press team shop orders bestellung commande pedidos reception secretariat sekretariat enquiries inquiries office1 noreply no-reply webmaster postmaster abuse'.split(
    ' ',
  ),
);

const LONGEST_SHARED = Math.max(...[...SHARED].map((name) => name.length));
/**
 * Which first letters and lengths they have, at code * (longest + 1) + length: what most addresses begin with has
 * others.
 */
const SHAPES = new Uint8Array(128 * (LONGEST_SHARED + 1));
for (const name of SHARED) SHAPES[name.charCodeAt(0) * (LONGEST_SHARED + 1) + name.length] = 1;
const [DOT, PLUS, DASH, UNDERSCORE] = [0x2e, 0x2b, 0x2d, 0x5f];
const isDigit = (code: number): boolean => code >= 48 && code <= 57;

/** Ends of domains as fingers slip on them. */
const SLIPPED_ENDS: Readonly<Record<string, string>> = {
  con: 'com',
  cmo: 'com',
  ocm: 'com',
  comm: 'com',
  vom: 'com',
  xom: 'com',
  nte: 'net',
  met: 'net',
  ogr: 'org',
  rog: 'org',
};

/** A domain counts as a misspelling of another that is this many times as frequent in the same list. */
const TIMES_MORE = 3;
const LEAST = 3;
/** Shorter domains are one letter away from too much. */
const LEAST_LETTERS = 6;

/** What a list's addresses are checked against. */
export interface AddressesOfList {
  /** How often each domain occurs in the list. */
  domains: ReadonlyMap<string, number>;
  /** How often each {@link samenessKey} occurs; absent if not counted. */
  same?: ReadonlyMap<string, number>;
  isThrowAway?: (domain: string) => boolean;
}

/**
 * Makes the check of a list's addresses. A domain is likely misspelt when it ends as no domain does, or when it is one
 * slip (a letter more, less, other, or two exchanged) from one that the same list has far more often.
 */
export function addressCheck({
  domains,
  same,
  isThrowAway,
}: AddressesOfList): (address: Address) => readonly AddressNote[] {
  const meantBy = misspeltDomains(domains);
  return ({ address, domain, key }) => {
    const likely = meantBy(domain);
    const isDoubled = same !== undefined && (same.get(samenessKey(key)) ?? 0) > 1;
    // Most addresses have nothing to be noted, and get no list of their own.
    if (likely === null && !isDoubled && !isThrowAway?.(domain)) return isShared(key) ? SHARED_ALONE : NOTHING;
    const notes: AddressNote[] = [];
    if (likely !== null) {
      const mend = `${address.slice(0, address.indexOf('@'))}@${likely}`;
      notes.push({ kind: 'misspelt', words: `domain misspelt: ${likely}?`, mend });
    }
    if (isShared(key)) notes.push(SHARED_NOTE);
    if (isThrowAway?.(domain)) notes.push(THROW_AWAY_NOTE);
    if (isDoubled) notes.push(DOUBLED_NOTE);
    return notes;
  };
}

const SHARED_NOTE: AddressNote = { kind: 'shared', words: 'shared address', mend: null };
const THROW_AWAY_NOTE: AddressNote = { kind: 'throw_away', words: 'throw-away address', mend: null };
const DOUBLED_NOTE: AddressNote = { kind: 'doubled', words: 'same person twice?', mend: null };
const NOTHING: readonly AddressNote[] = [];
const SHARED_ALONE: readonly AddressNote[] = [SHARED_NOTE];

/** Whether an address, by its key, is that of a function (`info@`, `sales2@`). */
export function isShared(key: string): boolean {
  let end = key.indexOf('@');
  while (end > 0 && isDigit(key.charCodeAt(end - 1))) end--;
  const last = key.charCodeAt(end - 1);
  if (last === DOT || last === DASH || last === UNDERSCORE) end--;
  if (end <= 0 || end > LONGEST_SHARED || key.charCodeAt(0) >= 128) return false;
  return SHAPES[key.charCodeAt(0) * (LONGEST_SHARED + 1) + end] === 1 && SHARED.has(key.slice(0, end));
}

/** What addresses of one person share at most providers: dots and what follows a plus sign do not count. */
export function samenessKey(key: string): string {
  const at = key.indexOf('@');
  let i = 0;
  while (i < at && key.charCodeAt(i) !== DOT && key.charCodeAt(i) !== PLUS) i++;
  if (i >= at) return key;
  return (key.slice(0, at).split('+')[0] as string).replaceAll('.', '') + key.slice(at);
}

/** Returns a function that says which domain was meant by one of a list; null where nothing seems wrong. */
export function misspeltDomains(domains: ReadonlyMap<string, number>): (domain: string) => string | null {
  const neighbour = commonNeighbours(domains);
  const ends = tally([...domains].map(([domain, n]) => [domain.slice(domain.lastIndexOf('.') + 1), n]));
  const meant = new Map<string, string | null>();
  return (domain) => {
    let found = meant.get(domain);
    if (found === undefined) {
      found = whatWasMeant(domain, domains.get(domain) ?? 1, neighbour, ends);
      meant.set(domain, found);
    }
    return found;
  };
}

function whatWasMeant(
  domain: string,
  times: number,
  neighbour: (domain: string, least: number) => string | null,
  ends: ReadonlyMap<string, number>,
): string | null {
  const end = domain.slice(domain.lastIndexOf('.') + 1);
  const slipped = SLIPPED_ENDS[end];
  if (slipped !== undefined) return domain.slice(0, -end.length) + slipped;
  const other = neighbour(domain, times * TIMES_MORE);
  if (other !== null) return other;
  const otherEnd = [...ends].find(
    ([e, n]) => n >= LEAST && n >= (ends.get(end) ?? 1) * TIMES_MORE && e.length >= LEAST_LETTERS && isOneSlip(end, e),
  );
  return otherEnd ? domain.slice(0, -end.length) + otherEnd[0] : null;
}

/**
 * Returns a function that finds the most frequent domain that is one slip from another. One slip leaves the first or
 * the last part of a text as it was, so only those that share one of these are compared.
 */
function commonNeighbours(domains: ReadonlyMap<string, number>): (domain: string, least: number) => string | null {
  const [byHead, byTail] = [new Map<string, string[]>(), new Map<string, string[]>()];
  const common = [...domains].filter(([domain, n]) => n >= LEAST && domain.length >= LEAST_LETTERS);
  // The most frequent first, so that a look ends where none is frequent enough.
  common.sort((a, b) => b[1] - a[1]);
  for (const [domain] of common) {
    for (const length of partLengths(domain)) {
      addTo(byHead, domain.slice(0, length), domain);
      addTo(byTail, domain.slice(-length), domain);
    }
  }
  const highest = common[0]?.[1] ?? 0;
  return (domain, least) => {
    if (least > highest) return null;
    let best: string | null = null;
    let most = least - 1;
    const look = (sharing: readonly string[] = []) => {
      for (const other of sharing) {
        const n = domains.get(other) ?? 0;
        if (n <= most) break;
        if (isOneSlip(domain, other)) [best, most] = [other, n];
      }
    };
    for (const length of partLengths(domain)) {
      look(byHead.get(domain.slice(0, length)));
      look(byTail.get(domain.slice(-length)));
    }
    return best;
  };
}

/**
 * How much of a text's head and tail to compare: one slip leaves one of them, also in a text one letter longer or
 * shorter.
 */
function partLengths(text: string): [number, number] {
  const half = Math.max(1, (text.length >> 1) - 1);
  return [half, Math.max(1, half - 1)];
}

function addTo(map: Map<string, string[]>, key: string, value: string): void {
  const there = map.get(key);
  if (there) there.push(value);
  else map.set(key, [value]);
}

function tally(counted: [string, number][]): Map<string, number> {
  const out = new Map<string, number>();
  for (const [key, n] of counted) out.set(key, (out.get(key) ?? 0) + n);
  return out;
}

/** Whether two different texts are one letter more, less, other, or two neighbours exchanged, apart. */
export function isOneSlip(a: string, b: string): boolean {
  if (a === b || Math.abs(a.length - b.length) > 1) return false;
  let i = 0;
  while (i < a.length && i < b.length && a[i] === b[i]) i++;
  const restA = a.slice(i);
  const restB = b.slice(i);
  return (
    restA.slice(1) === restB.slice(1) ||
    restA.slice(1) === restB ||
    restA === restB.slice(1) ||
    (restA[0] === restB[1] && restA[1] === restB[0] && restA.slice(2) === restB.slice(2))
  );
}
