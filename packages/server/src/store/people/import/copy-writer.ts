import type { AddressNote, PieceRow, TakenRow } from '@baton/core';

/** A row ready to be stored: its values as fields under the keys of the list it goes to, or as cells that are bytes. */
export type StagedRow = Pick<TakenRow, 'line' | 'address' | 'key' | 'domain' | 'zone' | 'sendOn'> &
  Pick<PieceRow, 'plain' | 'at'> & {
    fields: Readonly<Record<string, string>>;
    notes: readonly AddressNote['kind'][];
  };

/** Characters that JSON escapes. */
// eslint-disable-next-line no-control-regex
const TO_ESCAPE = /["\\\u0000-\u001f\u007f-\u009f\ud800-\udfff]/;

const BUFFER_BYTES = 256 * 1024;
const [QUOTE, OPEN, CLOSE] = [0x22, 0x7b, 0x7d];
const INT_BYTES = 4;
/** Bytes of UTF-8 for a letter at most. */
const LETTER_BYTES = 3;
/** Read and written too much by what copies eight bytes at once. */
const SPARE = 7;
/** Before the text of JSON. */
const JSON_VERSION = 1;
const [PERSON_COLUMNS, ROW_COLUMNS] = [4, 8];
/** The most that the numbers take with which a row begins, and no value behind them. */
const HEAD_BYTES = 2 + 4 * 2 * INT_BYTES + INT_BYTES;

/** Before all rows in COPY's binary form: its signature, no flags, nothing added; and behind them. */
export const COPY_BEGIN = Buffer.concat([Buffer.from('PGCOPY\n\xff\r\n\0', 'latin1'), Buffer.alloc(2 * INT_BYTES)]);
export const COPY_END = Buffer.from([0xff, 0xff]);

/** Rows in COPY's binary form as they are written: how many columns, and before each value how many bytes it has. */
class Written {
  /** Memory to write into again: to collect new memory for each batch took a seventh of a large import's time. */
  private readonly free: Buffer[] = [];
  out: Buffer = Buffer.allocUnsafe(BUFFER_BYTES);
  /** The same bytes, several at once. */
  private words = wordsOf(this.out);
  at = 0;

  /** Sees to it that so many bytes fit behind what is written. */
  makeRoom(bytes: number): void {
    if (this.at + bytes <= this.out.length) return;
    const wider = Buffer.allocUnsafe(Math.max(2 * this.out.length, this.at + bytes));
    this.out.copy(wider, 0, 0, this.at);
    this.out = wider;
    this.words = wordsOf(wider);
  }

  /** Begins a row, with room for so many bytes of what is written without asking for any. */
  begin(columns: number, bytes: number): void {
    this.makeRoom(bytes);
    this.out[this.at++] = 0;
    this.out[this.at++] = columns;
  }

  /** A whole number, for which there is room. */
  int(n: number): void {
    const { words, at } = this;
    words.setInt32(at, INT_BYTES);
    words.setInt32(at + INT_BYTES, n);
    this.at = at + 2 * INT_BYTES;
  }

  /** A byte, for which there is room. */
  byte(byte: number): void {
    this.out[this.at++] = byte;
  }

  /** No value, for which there is room. */
  none(): void {
    this.length(-1);
  }

  text(text: string): void {
    this.makeRoom(INT_BYTES + text.length * LETTER_BYTES);
    const bytes = this.out.write(text, this.at + INT_BYTES);
    this.length(bytes);
    this.at += bytes;
  }

  json(text: string): void {
    this.makeRoom(INT_BYTES + 1 + text.length * LETTER_BYTES);
    const bytes = this.out.write(text, this.at + INT_BYTES + 1);
    this.length(bytes + 1);
    this.out[this.at] = JSON_VERSION;
    this.at += bytes + 1;
  }

  /** A text whose letters are a byte each. A loop is quicker than a call for so few. */
  letters(text: string): void {
    this.makeRoom(INT_BYTES + text.length);
    this.length(text.length);
    const { out, at } = this;
    for (let i = 0; i < text.length; i++) out[at + i] = text.charCodeAt(i);
    this.at = at + text.length;
  }

  /**
   * Copies bytes of letters, eight at once: up to seven more are read and written than there are, and are written over by
   * what follows. The room for them is there. As a number such eight bytes are never none (NaN, of which there are
   * several): the first is neither 127 nor 255, which no letter has.
   */
  copy(from: DataView, start: number, end: number): void {
    const { words, at } = this;
    for (let i = start, to = at; i < end; i += 8, to += 8) words.setFloat64(to, from.getFloat64(i));
    this.at = at + end - start;
  }

  /** Writes the last bytes of what was written so far once more. */
  again(bytes: number): void {
    this.makeRoom(INT_BYTES + bytes + SPARE);
    const end = this.at;
    this.length(bytes);
    this.copy(this.words, end - bytes, end);
  }

  take(): Buffer {
    const written = this.out.subarray(0, this.at);
    this.out = this.free.pop() ?? Buffer.allocUnsafe(BUFFER_BYTES);
    this.words = wordsOf(this.out);
    this.at = 0;
    return written;
  }

  /** @param bytes what {@link take} gave, whose memory may be written over */
  give({ buffer, byteOffset }: Buffer): void {
    this.free.push(Buffer.from(buffer, byteOffset, buffer.byteLength - byteOffset));
  }

  /** Four bytes, for which there is room. */
  length(n: number): void {
    this.words.setInt32(this.at, n);
    this.at += INT_BYTES;
  }

  /** Puts the length of a value before it, where room was left for it. */
  lengthOf(from: number): void {
    this.words.setInt32(from, this.at - from - INT_BYTES);
  }
}

const wordsOf = ({ buffer, byteOffset, byteLength }: Uint8Array) => new DataView(buffer, byteOffset, byteLength);

/** The order in which PostgreSQL keeps the keys of an object: it need not put them in order then. */
const inJsonb = (a: string, b: string): number =>
  Buffer.byteLength(a) - Buffer.byteLength(b) || Buffer.compare(Buffer.from(a), Buffer.from(b));

/** Bytes as {@link Written.copy} reads them: with a few more behind them. */
function withSpare(bytes: Uint8Array): DataView {
  const spacious = new Uint8Array(bytes.length + SPARE);
  spacious.set(bytes);
  return wordsOf(spacious);
}

/**
 * Writes people and their rows in COPY's binary form. A person: id, key, domain, and the address where it is not its
 * key. A row: id, list, the person's id, line, zone, day, notes, and the fields as JSON.
 */
export class CopyWriter {
  private readonly people = new Written();
  private readonly rows = new Written();
  /** The JSON before a value, by field key. */
  private readonly heads = new Map<string, string>();
  /** The cells that are kept: the place of their bounds among those of a row, and the JSON before them. */
  private readonly cells: readonly { at: number; head: DataView; headBytes: number }[];
  private readonly cellBytes: number;
  private readonly width: number;
  /** The piece of the file that was written from last. */
  private read: { plain: StagedRow['plain']; words: DataView } = { plain: null, words: wordsOf(new Uint8Array()) };

  /** @param cellKeys field keys of the cells of rows that are bytes; null for one that is not kept */
  constructor(
    private readonly listId: number,
    cellKeys: readonly (string | null)[],
  ) {
    this.cells = cellKeys
      .flatMap((key, cell) => (key === null ? [] : [{ key, cell }]))
      .sort((a, b) => inJsonb(a.key, b.key))
      .map(({ key, cell }) => {
        const head = Buffer.from(`,${this.headOf(key)}`);
        return { at: 2 * cell, head: withSpare(head), headBytes: head.length };
      });
    this.cellBytes = this.cells.reduce((n, { headBytes }) => n + headBytes + 1, 0);
    this.width = 2 * cellKeys.length;
  }

  /** Writes a row and its person under ids of their own. */
  row(row: StagedRow, id: number, personId: number): void {
    const { people, rows } = this;
    const { key, address, domain, zone, sendOn, notes, plain } = row;
    people.begin(PERSON_COLUMNS, HEAD_BYTES);
    people.int(personId);
    if (plain !== null && key === address) {
      people.letters(key);
      people.again(domain.length);
    } else {
      people.text(key);
      people.text(domain);
    }
    people.makeRoom(INT_BYTES);
    if (key === address) people.none();
    else people.text(address);
    rows.begin(ROW_COLUMNS, HEAD_BYTES);
    rows.int(id);
    rows.int(this.listId);
    rows.int(personId);
    rows.int(row.line);
    if (zone === null) rows.none();
    else rows.text(zone);
    rows.makeRoom(INT_BYTES);
    if (sendOn === null) rows.none();
    else rows.text(sendOn);
    rows.json(notes.length === 0 ? '[]' : JSON.stringify(notes));
    if (plain === null) rows.json(this.jsonOf(row.fields));
    else this.plainFields(plain, row.at);
  }

  /** What has been written since it was last taken. */
  take(): { people: Buffer; rows: Buffer } {
    return { people: this.people.take(), rows: this.rows.take() };
  }

  /** Gives back what was taken, to be written over: it has left. */
  give({ people, rows }: { people: readonly Buffer[]; rows: readonly Buffer[] }): void {
    for (const bytes of people) this.people.give(bytes);
    for (const bytes of rows) this.rows.give(bytes);
  }

  private headOf(key: string): string {
    let head = this.heads.get(key);
    if (head === undefined) this.heads.set(key, (head = `${JSON.stringify(key)}:"`));
    return head;
  }

  /** Fields as JSON; the letters of a row that has nothing odd are looked at once. */
  private jsonOf(fields: Readonly<Record<string, string>>): string {
    let [json, values] = ['', ''];
    for (const key in fields) {
      const value = fields[key] as string;
      values += value;
      json += `${json === '' ? '' : '",'}${this.headOf(key)}${value}`;
    }
    if (TO_ESCAPE.test(values)) return JSON.stringify(fields);
    return json === '' ? '{}' : `{${json}"}`;
  }

  /** The cells as JSON. */
  private plainFields(plain: NonNullable<StagedRow['plain']>, first: number): void {
    const { rows } = this;
    const { bytes, bounds } = plain;
    if (plain !== this.read.plain) this.read = { plain, words: wordsOf(bytes) };
    const { words } = this.read;
    const valueBytes = (bounds[first + this.width - 1] as number) - (bounds[first] as number);
    rows.makeRoom(INT_BYTES + 3 + this.cellBytes + valueBytes + SPARE);
    const from = rows.at;
    rows.at += INT_BYTES;
    rows.byte(JSON_VERSION);
    const open = rows.at;
    for (const { at, head, headBytes } of this.cells) {
      const start = bounds[first + at] as number;
      const end = bounds[first + at + 1] as number;
      if (start === end) continue;
      rows.copy(head, 0, headBytes);
      if (end + SPARE <= bytes.length) rows.copy(words, start, end);
      else for (let i = start; i < end; i++) rows.byte(bytes[i] as number);
      rows.byte(QUOTE);
    }
    // In place of the comma before the first.
    rows.out[open] = OPEN;
    rows.at = Math.max(rows.at, open + 1);
    rows.byte(CLOSE);
    rows.lengthOf(from);
  }
}
