import { DomainError } from '../errors';
import { decodeText, utf16Order, type Utf16Order } from './decode-text';
import { DelimitedRows, guessForm, type RowsRead } from './read-delimited';
import { jsonLineCells, NO_OBJECT } from './read-json-lines';
import { readPeopleFile, type PeopleFile } from './read-people-file';
import { isPlainText, rowFitter } from './table-of-rows';

/** Files up to this size are read whole, and shown whole before they are taken. */
export const WHOLE_FILE_BYTES = 8 * 1024 * 1024;
/** What is read of a larger file to show it and to guess its columns. */
export const HEAD_BYTES = 1024 * 1024;

/**
 * Reads the head of a file that is too large to be read whole, as if it were the file.
 *
 * @param head its first bytes; what follows the last line break is not looked at
 * @throws DomainError `too_large` for what cannot be read piece by piece; whatever {@link readPeopleFile} throws
 */
export function readHead(head: Uint8Array): PeopleFile {
  const { lines } = wholeLines(head, utf16Order(head));
  if (lines.length === 0)
    throw new DomainError(
      'not_text',
      `The first line of this file has more than ${(head.length / 1024 / 1024).toFixed(0)} MB. Expected CSV: a header row and one row per person.`,
    );
  const file = readPeopleFile(lines);
  if (file.kind !== 'delimited' && file.kind !== 'json_lines')
    throw new DomainError(
      'too_large',
      `A file of this size can be read as CSV or JSON lines only, and this is ${file.kind === 'vcard' ? 'vCards' : 'something else'}. Split it, or save it as CSV; nothing has been taken.`,
    );
  return file;
}

/** Rows of a large file as its pieces come, in bounded memory. Lines and reasons are those of the file read whole. */
export class PeopleStream {
  private waiting: Uint8Array = new Uint8Array();
  private readonly read: (text: string, isLast: boolean) => RowsRead;
  private wasPlain = true;
  private readonly fit: ReturnType<typeof rowFitter>;
  private readonly firstLine: number;
  private readonly utf16: Utf16Order | null;

  /** @param head the first bytes of the file, which are pushed again */
  constructor(
    head: Uint8Array,
    readonly file: PeopleFile = readHead(head),
  ) {
    const { table, kind } = file;
    this.utf16 = utf16Order(head);
    const text = decodeText(wholeLines(head, this.utf16).lines).text;
    this.read = kind === 'json_lines' ? jsonLines(table.header) : delimited(text);
    this.fit = rowFitter(table.header.length);
    this.firstLine = kind === 'json_lines' ? 1 : ((table.rows[0] ?? table.aside[0])?.line ?? 1);
  }

  push(bytes: Uint8Array): RowsRead {
    const all = this.waiting.length === 0 ? bytes : concat(this.waiting, bytes);
    const { lines, rest } = wholeLines(all, this.utf16);
    this.waiting = rest.slice();
    return lines.length === 0 ? { rows: [], aside: [] } : this.next(this.decoded(lines), false);
  }

  end(): RowsRead {
    const text = this.waiting.length === 0 ? '' : this.decoded(this.waiting);
    return this.next(text, true);
  }

  private next(text: string, isLast: boolean): RowsRead {
    const isPlain = isPlainText(text);
    // A row may have begun in the piece before.
    const read = this.fitted(this.read(text, isLast), isPlain && this.wasPlain);
    this.wasPlain = isPlain;
    return read;
  }

  private decoded(bytes: Uint8Array): string {
    return decodeText(bytes, this.utf16).text.replace(/^\ufeff/, '');
  }

  private fitted(read: RowsRead, isPlain: boolean): RowsRead {
    const out: RowsRead = { rows: [], aside: read.aside.filter((a) => a.line >= this.firstLine) };
    for (const row of read.rows) {
      if (row.line < this.firstLine) continue;
      const fitted = this.fit(row, isPlain);
      if ('reason' in fitted) out.aside.push(fitted);
      else out.rows.push(fitted);
    }
    return out;
  }
}

function delimited(head: string): (text: string, isLast: boolean) => RowsRead {
  const rows = new DelimitedRows(guessForm(head));
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
    // What follows the last line break is no line of its own.
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
