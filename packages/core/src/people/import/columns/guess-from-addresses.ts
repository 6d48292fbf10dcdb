import { parseAddress } from '../../address/address';
import type { ColumnRole } from './column-roles';
import { namedAddress } from '../cleaning/named-address';

/** What a column of no known header seems to be, and how surely (0 to 1). */
export interface ContentGuess {
  role: Extract<ColumnRole, 'given_name' | 'family_name' | 'full_name' | 'company'>;
  sureness: number;
}

/** Share of a column's values that must occur in the addresses. */
const SHARE = 0.35;
/** Fewer rows than this may agree by chance. */
const FEWEST = 2;
/** A shorter word stands in many an address. */
const SHORTEST = 2;

/** More is a sentence. */
const MOST_WORDS = 6;
/** An address or a website holds the words of the address beside it, and is neither name nor company. */
const LINK = /[@/]|^\S+\.\p{L}{2,}$/u;

interface Parts {
  local: string;
  domain: string;
}

/**
 * Finds names and companies by the addresses beside them, in whatever language the header is: `Ana` begins
 * `ana.reyes@harroworchards.example`, `Reyes` ends what stands before the @, `Harrow Orchards Ltd` follows it.
 *
 * @param addresses one cell of addresses per row
 * @param columns of the columns to be guessed, the cells of the same rows
 * @returns one guess per column; null where the addresses do not tell
 */
export function guessFromAddresses(
  addresses: readonly string[],
  columns: readonly (readonly string[])[],
): (ContentGuess | null)[] {
  const parts = addresses.map(partsOf);
  const found = columns.map((cells) => tally(cells, parts));
  const names = found.flatMap((f, i) => (f?.role === 'name' ? [i] : []));
  return found.map((f, i) => {
    if (!f) return null;
    const sureness = Math.min(0.85, 0.5 + f.share / 2);
    if (f.role !== 'name') return { role: f.role, sureness };
    // Of two columns of names, the given one comes first in more addresses.
    const rival = names.find((n) => n !== i);
    const isFirst = rival === undefined ? f.first >= 0.5 : f.first > (found[rival]?.first ?? 0);
    return { role: isFirst ? 'given_name' : 'family_name', sureness: rival === undefined ? sureness - 0.1 : sureness };
  });
}

interface Tally {
  role: 'name' | 'full_name' | 'company';
  /** Of the values, those that occur in their addresses. */
  share: number;
  /** Of these, the ones with which the address begins, and goes on. */
  first: number;
}

function tally(cells: readonly string[], parts: readonly (Parts | null)[]): Tally | null {
  const counts = { name: 0, full: 0, first: 0, company: 0, filled: 0 };
  const [inLocal, inDomain] = [new Set<string>(), new Set<string>()];
  cells.forEach((cell, i) => {
    const [part, words] = [parts[i], wordsOf(cell)];
    if (!part || words.length === 0 || words.length > MOST_WORDS || LINK.test(cell)) return;
    counts.filled++;
    const hits = words.filter((w) => w.length > SHORTEST && part.local.includes(w));
    if (hits.length > 0) inLocal.add(cell);
    if (words.length > 1 && hits.length > 0 && part.local.includes(words.at(-1) as string)) counts.full++;
    else if (words.length <= 2 && hits.length > 0) counts.name++;
    if (hits.length > 0 && part.local.startsWith(hits[0] as string)) counts.first++;
    const whole = words.join('');
    const isIn = whole.length > SHORTEST + 1 && part.domain.includes(whole);
    if (isIn || words.some((w) => w.length > SHORTEST + 1 && part.domain.startsWith(w))) {
      counts.company++;
      inDomain.add(cell);
    }
  });
  const enough = (n: number, different: Set<string>) => n >= SHARE * counts.filled && different.size >= FEWEST;
  const local = counts.name + counts.full;
  if (enough(local, inLocal) && local >= counts.company)
    return {
      role: counts.full > counts.name ? 'full_name' : 'name',
      share: local / counts.filled,
      first: counts.first / local,
    };
  return enough(counts.company, inDomain) ? { role: 'company', share: counts.company / counts.filled, first: 0 } : null;
}

function partsOf(cell: string): Parts | null {
  const parsed = parseAddress(namedAddress(cell)?.address ?? cell);
  if (!parsed.ok) return null;
  const { key, domain } = parsed.value;
  const plain = (text: string) => folded(text).replace(/[^\p{L}\p{N}]/gu, '');
  return { local: plain(key.slice(0, -domain.length - 1)), domain: plain(domain) };
}

/** The words of a name. */
const wordsOf = (cell: string): string[] =>
  folded(cell)
    .split(/[^\p{L}\p{N}]+/u)
    .filter((w) => w !== '' && !/^\d+$/.test(w));

/** A text as addresses have it, so that `Müller`, `mueller` and `muller` are one. */
function folded(text: string): string {
  return text
    .toLowerCase()
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/[øœ]/g, 'o')
    .replace(/æ/g, 'a')
    .replace(/ł/g, 'l')
    .replace(/ß/g, 's')
    .replace(/([aou])e/g, '$1')
    .replace(/ss/g, 's');
}
