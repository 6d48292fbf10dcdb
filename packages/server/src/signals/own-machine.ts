import { cameFrom, isLoopback, type Asked } from './came-from';

/** Addresses of this machine that are remembered: it may have moved. */
const MOST_KEPT = 20;

/**
 * Knows requests of this machine's own among those of recipients: whoever works here looks at their own copies, and counts for
 * nobody.
 */
export class OwnMachine {
  private readonly own = new Set<string>();
  private readonly words = new Set<string>();

  /** @param isSimulated in the demo, whose recipients live on this machine */
  constructor(private readonly isSimulated: boolean) {}

  /** This machine is about to ask for itself at its public address, with this word. */
  asks(word: string): void {
    this.words.add(word);
    keepNewest(this.words);
  }

  /** Somebody has asked with a word: if it is one of this machine's, that is where it is seen. */
  wasAsked(word: string, by: Asked): void {
    if (!this.words.delete(word)) return;
    const from = cameFrom(by);
    this.own.delete(from);
    this.own.add(from);
    keepNewest(this.own);
  }

  isFromHere(by: Asked): boolean {
    const from = cameFrom(by);
    return !this.isSimulated && (isLoopback(from) || this.own.has(from));
  }
}

function keepNewest(of: Set<string>): void {
  const [oldest] = of;
  if (of.size > MOST_KEPT && oldest !== undefined) of.delete(oldest);
}
