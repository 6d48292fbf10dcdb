import { samenessKey } from './check-address';
import { FirstLines } from './first-lines';

/** Finds, among very many addresses, those that may be one person's: they differ in dots and what follows a plus sign. */
export class SamePeople {
  private readonly first = new FirstLines();
  private readonly found = new Set<number>();

  /**
   * @param key of an address that has not been added before
   * @param line 1-based
   */
  add(key: string, line: number): void {
    const earlier = this.first.firstOf(samenessKey(key), line);
    if (earlier === null) return;
    this.found.add(earlier);
    this.found.add(line);
  }

  /** Lines of all that may be the same person as another. */
  lines(): number[] {
    return [...this.found];
  }
}
