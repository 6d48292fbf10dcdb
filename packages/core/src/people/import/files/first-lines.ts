/** Entries a table begins with; it doubles when it is two thirds full. */
const AT_FIRST = 1024;
/** Numbers an entry; what is looked at together stands together. */
const ENTRY = 3;

/**
 * On which line each key occurred first, for very many keys. Of a key only its hash is kept (64 bits), so that a
 * million keys take some 20 MB whatever their length; that two of a million different keys are taken for one has a
 * chance of one in forty million. A `Map` of the keys themselves made an import of a million rows take 281 MB above
 * idle, where this takes about 105 (`npm run bench importing`).
 */
export class FirstLines {
  /** Entries of {@link ENTRY} numbers: both halves of a hash and the line, 0 where nothing stands. */
  private table = new Int32Array(AT_FIRST * ENTRY);
  private mask = AT_FIRST - 1;
  private count = 0;

  /**
   * @param line 1-based
   * @returns the line on which the key stood before; null when this is the first, which is then remembered
   */
  firstOf(key: string, line: number): number | null {
    // FNV-1a and a multiplicative hash beside it, each stirred at its end (the last steps of MurmurHash3).
    let h = 0x811c9dc5;
    let l = key.length;
    for (let i = 0; i < key.length; i++) {
      const code = key.charCodeAt(i);
      h = Math.imul(h ^ code, 0x01000193);
      l = Math.imul(l, 31) + code;
    }
    return this.place(stirred(h), stirred(l ^ (h << 7)), line);
  }

  /** Lines of the keys that stand here and in another: here, and there. */
  *inBoth(other: FirstLines): Generator<[line: number, there: number]> {
    const { table } = this;
    for (let at = 0; at < table.length; at += ENTRY) {
      if (table[at + 2] === 0) continue;
      const there = other.table[other.placeOf(table[at] as number, table[at + 1] as number) + 2] as number;
      if (there > 0) yield [table[at + 2] as number, there];
    }
  }

  /** Where the entry of a hash stands, or would stand. */
  private placeOf(high: number, low: number): number {
    const { table, mask } = this;
    for (let slot = high & mask; ; slot = (slot + 1) & mask) {
      const at = slot * ENTRY;
      if (table[at + 2] === 0 || (table[at] === high && table[at + 1] === low)) return at;
    }
  }

  private place(high: number, low: number, line: number): number | null {
    const { table } = this;
    const at = this.placeOf(high, low);
    const there = table[at + 2] as number;
    if (there !== 0) return there;
    put(table, at, high, low, line);
    if (++this.count * 3 > (this.mask + 1) * 2) this.grow();
    return null;
  }

  private grow(): void {
    const { table } = this;
    const wider = new Int32Array(table.length * 2);
    const mask = 2 * (this.mask + 1) - 1;
    for (let at = 0; at < table.length; at += ENTRY) {
      if (table[at + 2] === 0) continue;
      const high = table[at] as number;
      let slot = high & mask;
      while (wider[slot * ENTRY + 2] !== 0) slot = (slot + 1) & mask;
      put(wider, slot * ENTRY, high, table[at + 1] as number, table[at + 2] as number);
    }
    this.table = wider;
    this.mask = mask;
  }
}

function put(table: Int32Array, at: number, high: number, low: number, line: number): void {
  table[at] = high;
  table[at + 1] = low;
  table[at + 2] = line;
}

function stirred(hash: number): number {
  let h = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return h ^ (h >>> 16);
}
