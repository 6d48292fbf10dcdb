import { samenessKey } from './check-address';
import { FirstLines } from '../import/files/first-lines';

/** Finds, among very many addresses, those that may be one person's: they differ in dots and what follows a plus sign. */
export class SamePeople {
  /** Only of addresses that have dots or a plus sign, by what they are without: most have none. */
  private readonly first = new FirstLines();
  private readonly found = new Set<number>();

  /**
   * @param key of an address that has not been added before
   * @param line 1-based
   */
  add(key: string, line: number): void {
    const same = samenessKey(key);
    if (same === key) return;
    const earlier = this.first.firstOf(same, line);
    if (earlier === null) return;
    this.found.add(earlier);
    this.found.add(line);
  }

  /**
   * Lines of all that may be the same person as another.
   *
   * @param all every key that was added, on its line
   */
  lines(all: FirstLines): number[] {
    for (const [line, other] of this.first.inBoth(all)) this.found.add(line).add(other);
    return [...this.found];
  }
}
