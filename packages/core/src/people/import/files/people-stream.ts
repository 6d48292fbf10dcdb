import { DomainError } from '../../../errors';
import { decodeAscii, decodeLines, decodeText, rejectBinary, utf16Order, type Utf16Order } from './decode-text';
import { encodingNamed, type Encoding } from './guess-encoding';
import { PlainLines } from './plain-lines';
import { DelimitedRows, guessForm, hasMixedEnds, withOneLineEnd, type RowsRead } from './read-delimited';
import { jsonLineCells, NO_OBJECT } from './read-json-lines';
import { readPeopleFile, type PeopleFile, type ReadingChoices } from './read-people-file';
import type { PieceRow, RowAside, TableRow } from './table';
import { isPlainText, rowFitter } from './table-of-rows';

/** Files up to this size are read whole, and shown whole before they are taken. */
export const WHOLE_FILE_BYTES = 8 * 1024 * 1024;
/** What is read of a larger file to show it and to guess its columns. */
export const HEAD_BYTES = 1024 * 1024;

/**
 * Reads the head of a file that is too large to be read whole, as if it were the file.
 *
 * @param head its first bytes; what follows the last line break is not looked at
 * @param choices its encoding, where it is said
 * @throws DomainError `too_large` for what cannot be read piece by piece; whatever {@link readPeopleFile} throws
 */
export function readHead(head: Uint8Array, choices: Pick<ReadingChoices, 'encoding'> = {}): PeopleFile {
  const { lines } = wholeLines(head, utf16Order(head));
  if (lines.length === 0)
    throw new DomainError(
      'not_text',
      `The first line of this file has more than ${(head.length / 1024 / 1024).toFixed(0)} MB. Expected CSV: a header row and one row per person.`,
    );
  const file = readPeopleFile(lines, choices);
  if (file.kind !== 'delimited' && file.kind !== 'json_lines')
    throw new DomainError(
      'too_large',
      `A file of this size can be read as CSV or JSON lines only, and this is ${file.kind === 'vcard' ? 'vCards' : 'something else'}. Split it, or save it as CSV; nothing has been imported.`,
    );
  return file;
}

/** Room for the bounds of cells, which grows. */
const BOUNDS = 16_384;

/** Rows of a piece of a file, and those that could not be read. */
export interface PieceRead {
  rows: PieceRow[];
  aside: RowAside[];
}

/** Rows of a large file as its pieces come, in bounded memory. Lines and reasons are those of the file read whole. */
export class PeopleStream {
  private waiting: Uint8Array = new Uint8Array();
  /** Where the head has line ends of several kinds, so has the file. */
  private readonly ends: OneLineEnd | null;
  private readonly read: (text: string, isLast: boolean) => RowsRead;
  /** Whether a row has begun that has not ended yet. */
  private readonly isWaiting: () => boolean;
  /** Null where every line is read as text. */
  private readonly plainly: { rows: DelimitedRows; lines: PlainLines } | null = null;
  private wasPlain = true;
  private readonly fit: ReturnType<typeof rowFitter>;
  private readonly firstLine: number;
  private readonly utf16: Utf16Order | null;
  /** The encoding of what is not UTF-8: that of the head, whatever a piece alone would look like. */
  private readonly other: Encoding;
  /** The columns whose plain cells are made into text at once, in order. */
  private readonly wanted: readonly number[];
  private readonly blank: readonly string[];
  /** Where the cells of a run of plain lines begin and end. */
  private bounds: Int32Array;

  /**
   * @param head the first bytes of the file, which are pushed again
   * @param isWanted whether a column's plain cells ({@link PlainLines}) are made into text at once
   */
  constructor(
    head: Uint8Array,
    readonly file: PeopleFile = readHead(head),
    isWanted: (column: number) => boolean = () => true,
  ) {
    const { table, kind } = file;
    this.utf16 = utf16Order(head);
    this.other = encodingNamed(file.encoding) ?? 'windows-1252';
    const own = decodeText(wholeLines(head, this.utf16).lines).text;
    this.ends = this.utf16 === null && kind === 'delimited' && hasMixedEnds(own) ? new OneLineEnd() : null;
    const text = this.ends ? withOneLineEnd(own) : own;
    const columns = table.header.map((_, i) => i);
    this.wanted = columns.filter(isWanted);
    this.blank = columns.map(() => '');
    this.bounds = new Int32Array(Math.max(BOUNDS, 4 * columns.length));
    if (kind === 'json_lines') {
      this.read = jsonLines(table.header);
      this.isWaiting = () => false;
    } else {
      const form = guessForm(text);
      const rows = new DelimitedRows(form);
      this.read = delimited(rows);
      this.isWaiting = () => rows.isWaiting;
      if (this.utf16 === null && PlainLines.canRead(form))
        this.plainly = { rows, lines: new PlainLines(form, table.header.length) };
    }
    this.fit = rowFitter(table.header.length);
    this.firstLine = kind === 'json_lines' ? 1 : ((table.rows[0] ?? table.aside[0])?.line ?? 1);
  }

  push(written: Uint8Array): PieceRead {
    const bytes = this.ends ? this.ends.push(written) : written;
    const all = this.waiting.length === 0 ? bytes : concat(this.waiting, bytes);
    const { lines, rest } = wholeLines(all, this.utf16);
    this.waiting = rest.slice();
    if (lines.length === 0) return { rows: [], aside: [] };
    return this.plainly ? this.linesOf(lines, this.plainly) : this.next(this.decoded(lines), false);
  }

  end(): PieceRead {
    const text = this.waiting.length === 0 ? '' : this.decoded(this.waiting);
    return this.next(text, true);
  }

  /** A row with all its cells as text. */
  whole(row: PieceRow): TableRow {
    const { line, cells, plain, at } = row;
    if (plain === null) return { line, cells };
    const { bytes, bounds } = plain;
    return {
      line,
      cells: cells.map((_, i) => decodeAscii(bytes.subarray(bounds[at + 2 * i], bounds[at + 2 * i + 1]))),
    };
  }

  /** Whole lines: runs of plain ones by their bytes, the others as text. */
  private linesOf(bytes: Uint8Array, { rows, lines }: { rows: DelimitedRows; lines: PlainLines }): PieceRead {
    const out: PieceRead = { rows: [], aside: [] };
    let isText = false;
    const readText = (from: number, to: number) => {
      if (!isText) rejectBinary(bytes);
      isText = true;
      const { rows: read, aside } = this.next(
        withoutMark(decodeLines(bytes.subarray(from, to), this.other).text),
        false,
      );
      for (const row of read) out.rows.push(row);
      for (const row of aside) out.aside.push(row);
    };
    // What a row that waits for its end goes on with is never plain, whatever it looks like.
    let textFrom = rows.isWaiting ? 0 : -1;
    for (let at = rows.isWaiting ? bytes.length : 0; at < bytes.length;) {
      const run = this.plainRun(bytes, at, lines);
      if (run.rows === 0) {
        if (textFrom < 0) textFrom = at;
        const feed = bytes.indexOf(0x0a, at);
        at = feed < 0 ? bytes.length : feed + 1;
        continue;
      }
      if (textFrom >= 0) readText(textFrom, at);
      textFrom = rows.isWaiting ? at : -1;
      if (textFrom >= 0) break;
      this.takeRun(bytes, run, rows, out.rows);
      at = run.end;
    }
    if (textFrom >= 0) readText(textFrom, bytes.length);
    return out;
  }

  /** As many plain lines as follow one another. */
  private plainRun(bytes: Uint8Array, from: number, lines: PlainLines): PlainRun {
    const each = 2 * this.blank.length;
    let [end, rows, size] = [from, 0, 0];
    while (end < bytes.length) {
      if (size + each > this.bounds.length) this.widen();
      const next = lines.read(bytes, end, this.bounds, size);
      if (next === 0) break;
      end = next;
      rows++;
      size += each;
    }
    return { from, end, rows };
  }

  private takeRun(bytes: Uint8Array, { from, end, rows }: PlainRun, reader: DelimitedRows, out: PieceRow[]): void {
    const { wanted, blank } = this;
    const text = decodeAscii(bytes.subarray(from, end));
    const each = 2 * blank.length;
    const plain = { bytes, bounds: this.bounds.slice(0, rows * each) };
    const { bounds } = plain;
    const first = reader.nextLine;
    for (let row = Math.max(0, this.firstLine - first); row < rows; row++) {
      const cells = [...blank];
      const at = row * each;
      for (const i of wanted)
        cells[i] = text.slice((bounds[at + 2 * i] as number) - from, (bounds[at + 2 * i + 1] as number) - from);
      out.push({ line: first + row, cells, plain, at });
    }
    reader.skip(rows);
    this.wasPlain = true;
  }

  private widen(): void {
    const wider = new Int32Array(2 * this.bounds.length);
    wider.set(this.bounds);
    this.bounds = wider;
  }

  private next(text: string, isLast: boolean): PieceRead {
    const isPlain = isPlainText(text);
    // A row may have begun in the piece before.
    const read = this.fitted(this.read(text, isLast), isPlain && this.wasPlain);
    this.wasPlain = isPlain && (this.wasPlain || !this.isWaiting());
    return read;
  }

  private decoded(bytes: Uint8Array): string {
    if (this.utf16 !== null) return withoutMark(decodeText(bytes, this.utf16).text);
    rejectBinary(bytes);
    return withoutMark(decodeLines(bytes, this.other).text);
  }

  private fitted(read: RowsRead, isPlain: boolean): PieceRead {
    const out: PieceRead = { rows: [], aside: read.aside.filter((a) => a.line >= this.firstLine) };
    for (const row of read.rows) {
      if (row.line < this.firstLine) continue;
      const fitted = this.fit(row, isPlain);
      if ('reason' in fitted) out.aside.push(fitted);
      else out.rows.push({ line: fitted.line, cells: fitted.cells, plain: null, at: 0 });
    }
    return out;
  }
}

/** Makes one line feed of every line end, as bytes of any encoding that has ASCII come. */
class OneLineEnd {
  private isAfterReturn = false;

  push(bytes: Uint8Array): Uint8Array {
    const out = new Uint8Array(bytes.length);
    let n = 0;
    for (const byte of bytes) {
      const isReturn = byte === 0x0d;
      if (byte !== 0x0a || !this.isAfterReturn) out[n++] = isReturn ? 0x0a : byte;
      this.isAfterReturn = isReturn;
    }
    return out.subarray(0, n);
  }
}

/** Plain lines that follow one another. */
interface PlainRun {
  from: number;
  end: number;
  rows: number;
}

const withoutMark = (text: string): string => text.replace(/^\ufeff/, '');

function delimited(rows: DelimitedRows): (text: string, isLast: boolean) => RowsRead {
  return (text, isLast) => {
    const read = text === '' ? { rows: [], aside: [] } : rows.push(text);
    const last = isLast ? rows.end() : { rows: [], aside: [] };
    return { rows: [...read.rows, ...last.rows], aside: [...read.aside, ...last.aside] };
  };
}

function jsonLines(header: readonly string[]): (text: string) => RowsRead {
  let line = 0;
  return (text) => {
    const out: RowsRead = { rows: [], aside: [] };
    const lines = text.split('\n');
    // What follows the last line break is not a line of its own.
    if (lines.at(-1) === '') lines.pop();
    for (const raw of lines) {
      line++;
      if (raw.trim() === '') continue;
      const cells = jsonLineCells(raw, header);
      if (cells) out.rows.push({ line, cells });
      else out.aside.push({ line, cells: [raw.slice(0, 200)], reason: NO_OBJECT });
    }
    return out;
  };
}

/** The bytes up to and with the last line break, and those after it; all of them where there is none at all. */
function wholeLines(bytes: Uint8Array, order: Utf16Order | null): { lines: Uint8Array; rest: Uint8Array } {
  let at = bytes.lastIndexOf(0x0a);
  if (order !== null) {
    // A line break is two bytes, the first of them at an even place.
    const isBreak = (i: number) =>
      order === 'utf-16le' ? bytes[i] === 0x0a && bytes[i + 1] === 0 : bytes[i] === 0 && bytes[i + 1] === 0x0a;
    let i = (bytes.length - 2) & ~1;
    while (i >= 0 && !isBreak(i)) i -= 2;
    at = i < 0 ? -1 : i + 1;
  }
  // Old files break lines with a carriage return alone.
  if (at < 0 && order === null) at = bytes.lastIndexOf(0x0d);
  return { lines: bytes.subarray(0, at + 1), rest: bytes.subarray(at + 1) };
}

function concat(a: Uint8Array, b: Uint8Array): Uint8Array {
  const out = new Uint8Array(a.length + b.length);
  out.set(a);
  out.set(b, a.length);
  return out;
}
