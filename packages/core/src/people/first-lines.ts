/** Entries a table begins with; it doubles when it is two thirds full. */
const AT_FIRST = 1024;

/**
 * On which line each key stood first, for very many keys. Of a key only its hash is kept (64 bits), so that a million
 * keys take some 20 MB whatever their length; that two of a million different keys are taken for one has a chance of
 * one in forty million.
 */
export class FirstLines {
  private high = new Int32Array(AT_FIRST);
  private low = new Int32Array(AT_FIRST);
  /** 0 where nothing stands. */
  private lines = new Int32Array(AT_FIRST);
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

  private place(high: number, low: number, line: number): number | null {
    const mask = this.lines.length - 1;
    for (let at = high & mask; ; at = (at + 1) & mask) {
      const there = this.lines[at] as number;
      if (there === 0) {
        this.put(at, high, low, line);
        if (++this.count * 3 > this.lines.length * 2) this.grow();
        return null;
      }
      if (this.high[at] === high && this.low[at] === low) return there;
    }
  }

  private put(at: number, high: number, low: number, line: number): void {
    this.high[at] = high;
    this.low[at] = low;
    this.lines[at] = line;
  }

  private grow(): void {
    const { high, low, lines } = this;
    const size = lines.length * 2;
    this.high = new Int32Array(size);
    this.low = new Int32Array(size);
    this.lines = new Int32Array(size);
    for (let i = 0; i < lines.length; i++) {
      if (lines[i] === 0) continue;
      let at = (high[i] as number) & (size - 1);
      while (this.lines[at] !== 0) at = (at + 1) & (size - 1);
      this.put(at, high[i] as number, low[i] as number, lines[i] as number);
    }
  }
}

function stirred(hash: number): number {
  let h = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return h ^ (h >>> 16);
}
