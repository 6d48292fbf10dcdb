/** What a byte of a line is. */
const OTHER = 0;
const LETTER = 1;
const SPACE = 2;
const DELIMITER = 3;
const QUOTE = 4;
const RETURN = 5;
const NEWLINE = 6;
/** A sign that means something in some places: an ampersand, an apostrophe. */
const DEPENDS = 7;

/**
 * Finds the cells of plain lines in bytes, without making text of them. A plain line has as many cells as expected, and
 * each is empty or printable ASCII with single spaces inside, in quotation marks or without, and has neither a
 * quotation mark nor a backslash in it, nor an apostrophe at its head, nor a sign written as in HTML. That is what nearly all lines of nearly all files are, and what no encoding,
 * cleaning of spaces or mending of letters changes.
 */
export class PlainLines {
  private readonly kinds = new Uint8Array(256);
  private readonly hasReturns: boolean;

  /**
   * @param form its delimiter is one ASCII character, its line break ends in a line feed
   * @param width cells of a line
   */
  constructor(
    form: { delimiter: string; newline: string },
    private readonly width: number,
  ) {
    this.kinds.fill(LETTER, 0x21, 0x7f);
    this.kinds[0x20] = SPACE;
    this.kinds[0x22] = QUOTE;
    this.kinds[0x5c] = OTHER;
    for (const sign of "'&") this.kinds[sign.charCodeAt(0)] = DEPENDS;
    this.kinds[0x0a] = NEWLINE;
    this.hasReturns = form.newline === '\r\n';
    if (this.hasReturns) this.kinds[0x0d] = RETURN;
    this.kinds[form.delimiter.charCodeAt(0)] = DELIMITER;
  }

  /** Whether lines of this form can be read so at all. */
  static canRead({ delimiter, newline }: { delimiter: string; newline: string }): boolean {
    return newline.endsWith('\n') && delimiter.length === 1 && delimiter.charCodeAt(0) < 0x80 && delimiter !== ' ';
  }

  /**
   * @param bytes with a line feed at or after `from`
   * @param from where a line begins
   * @param bounds gets where each of its cells begins and ends
   * @param size where it gets them
   * @returns where the next one begins, when this one is plain and not blank; 0 otherwise
   */
  read(bytes: Uint8Array, from: number, bounds: Int32Array, size = 0): number {
    const { kinds, width } = this;
    let at = from;
    let isBlank = true;
    for (let cell = 0; cell < width; cell++) {
      const isQuoted = kinds[bytes[at] as number] === QUOTE;
      if (isQuoted) at++;
      bounds[size + 2 * cell] = at;
      const end = isQuoted ? this.endOfQuoted(bytes, at) : this.endOfCell(bytes, at);
      if (end < 0) return 0;
      bounds[size + 2 * cell + 1] = end;
      if (end > at) isBlank = false;
      at = isQuoted ? end + 1 : end;
      if (cell < width - 1) {
        if (kinds[bytes[at] as number] !== DELIMITER) return 0;
        at++;
      }
    }
    if (this.hasReturns) {
      if (kinds[bytes[at] as number] !== RETURN) return 0;
      at++;
    }
    return bytes[at] === 0x0a && !isBlank ? at + 1 : 0;
  }

  /** Where a cell ends that begins here; −1 where it is not plain. */
  private endOfCell(bytes: Uint8Array, from: number): number {
    const { kinds } = this;
    let at = from;
    for (let word = from; ; word = ++at) {
      at = this.endOfWord(bytes, at, from);
      const kind = kinds[bytes[at] as number];
      if (kind === SPACE && at > word) continue;
      const isEnd = kind === DELIMITER || kind === NEWLINE || kind === RETURN;
      return isEnd && (at > word || at === from) ? at : -1;
    }
  }

  /** Where a word ends that begins here, of a cell that begins at `cell`. */
  private endOfWord(bytes: Uint8Array, from: number, cell: number): number {
    let at = this.endOfLetters(bytes, from);
    while (this.kinds[bytes[at] as number] === DEPENDS && isLetterAt(bytes, at, cell))
      at = this.endOfLetters(bytes, at + 1);
    return at;
  }

  /**
   * Where the letters end that begin here. What is done once in a turn of a loop takes longer than to look at a letter.
   */
  private endOfLetters(bytes: Uint8Array, from: number): number {
    const { kinds } = this;
    for (let at = from; ; at += 4) {
      if (kinds[bytes[at] as number] !== LETTER) return at;
      if (kinds[bytes[at + 1] as number] !== LETTER) return at + 1;
      if (kinds[bytes[at + 2] as number] !== LETTER) return at + 2;
      if (kinds[bytes[at + 3] as number] !== LETTER) return at + 3;
    }
  }

  private endOfQuoted(bytes: Uint8Array, from: number): number {
    const { kinds } = this;
    let at = from;
    for (let word = from; ; word = ++at) {
      at = this.endOfWord(bytes, at, from);
      // A tab is not a letter in any cell, wherever it is.
      while (kinds[bytes[at] as number] === DELIMITER && bytes[at] !== 0x09) at = this.endOfWord(bytes, at + 1, from);
      const kind = kinds[bytes[at] as number];
      if (kind === SPACE && at > word) continue;
      return kind === QUOTE && (at > word || at === from) ? at : -1;
    }
  }
}

/** An apostrophe within a cell, or an ampersand that begins no sign of HTML (`&amp;`). */
const isLetterAt = (bytes: Uint8Array, at: number, cell: number): boolean =>
  bytes[at] === 0x27 ? at > cell : !/[a-z\d#]/i.test(String.fromCharCode(bytes[at + 1] ?? 0));
