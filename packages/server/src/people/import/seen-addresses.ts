import { isShared, misspeltDomains, SamePeople, type AddressNote, type FirstLines, type TakenRow } from '@baton/core';
import { isThrowAway } from './throw-away';

/** A text of its own: a part of a text keeps the whole of it in memory. */
export const ownText = (text: string): string => Buffer.from(text).toString();

type Note = AddressNote['kind'];

const NOTHING: readonly Note[] = [];

/** Notes on the addresses of a file too large to be held: of each alone as it comes, of all together at the end. */
export class SeenAddresses {
  private readonly domains = new Map<string, { rows: number; isThrowAway: boolean }>();
  private readonly same = new SamePeople();

  /** Takes the next address, and says what can be said of it without the others. */
  add({ key, domain, line }: Pick<TakenRow, 'key' | 'domain' | 'line'>): readonly Note[] {
    this.same.add(key, line);
    let seen = this.domains.get(domain);
    if (!seen) this.domains.set(ownText(domain), (seen = { rows: 0, isThrowAway: isThrowAway(domain) }));
    seen.rows++;
    const shared = isShared(key);
    if (!shared && !seen.isThrowAway) return NOTHING;
    return [...(shared ? (['shared'] as const) : []), ...(seen.isThrowAway ? (['throw_away'] as const) : [])];
  }

  /** Domains that are likely slips of others. */
  misspelt(): string[] {
    const meant = misspeltDomains(new Map([...this.domains].map(([domain, { rows }]) => [domain, rows])));
    return [...this.domains.keys()].filter((d) => meant(d) !== null);
  }

  /**
   * Lines of addresses that may be the same person's as another's.
   *
   * @param lines where each that was added occurred first
   */
  doubled(lines: FirstLines): number[] {
    return this.same.lines(lines);
  }
}
