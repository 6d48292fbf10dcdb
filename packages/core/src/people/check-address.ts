import { parseAddress } from './address';

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

/** A domain is taken for a slip of another that stands this often more in the same list. */
const TIMES_MORE = 3;
const LEAST = 3;
/** Shorter domains are one letter away from too much. */
const LEAST_LETTERS = 6;

/**
 * Makes the check of a list's addresses. A domain is likely misspelt when it ends as no domain does, or when it is one
 * slip (a letter more, less, other, or two exchanged) from one that the same list has far more often.
 *
 * @param domains of all addresses of the list, with how often each stands in it
 */
export function addressCheck(domains: ReadonlyMap<string, number>): (address: string) => AddressNote[] {
  const common = [...domains].filter(([, n]) => n >= LEAST);
  const ends = tally([...domains].map(([domain, n]) => [domain.slice(domain.lastIndexOf('.') + 1), n]));
  const meant = new Map<string, string | null>();
  const meantBy = (domain: string): string | null => {
    let found = meant.get(domain);
    if (found === undefined) {
      found = whatWasMeant(domain, domains.get(domain) ?? 1, common, ends);
      meant.set(domain, found);
    }
    return found;
  };
  return (address) => {
    const parsed = parseAddress(address);
    if (!parsed.ok) return [];
    const { domain } = parsed.value;
    const local = parsed.value.key.slice(0, parsed.value.key.indexOf('@'));
    const notes: AddressNote[] = [];
    const likely = meantBy(domain);
    if (likely !== null) {
      const mend = `${parsed.value.address.slice(0, parsed.value.address.indexOf('@'))}@${likely}`;
      notes.push({ kind: 'misspelt', words: `domain misspelt: ${likely}?`, mend });
    }
    if (SHARED.has(local.replace(/[._-]?\d*$/, '')))
      notes.push({ kind: 'shared', words: 'shared address', mend: null });
    return notes;
  };
}

function whatWasMeant(
  domain: string,
  times: number,
  common: readonly [string, number][],
  ends: ReadonlyMap<string, number>,
): string | null {
  const end = domain.slice(domain.lastIndexOf('.') + 1);
  const slipped = SLIPPED_ENDS[end];
  if (slipped !== undefined) return domain.slice(0, -end.length) + slipped;
  const other = common.find(([d, n]) => n >= times * TIMES_MORE && d.length >= LEAST_LETTERS && isOneSlip(domain, d));
  if (other) return other[0];
  const otherEnd = [...ends].find(
    ([e, n]) => n >= LEAST && n >= (ends.get(end) ?? 1) * TIMES_MORE && e.length >= LEAST_LETTERS && isOneSlip(end, e),
  );
  return otherEnd ? domain.slice(0, -end.length) + otherEnd[0] : null;
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
