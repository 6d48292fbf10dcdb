import type { AddressNote, PieceRow, TakenRow } from '@baton/core';

/** A row ready to be stored: its values as fields under the keys of the list it goes to, or as cells that are bytes. */
export type StagedRow = Pick<TakenRow, 'line' | 'address' | 'key' | 'domain' | 'zone' | 'sendOn'> &
  Pick<PieceRow, 'plain' | 'at'> & {
    fields: Readonly<Record<string, string>>;
    notes: readonly AddressNote['kind'][];
  };

const ESCAPED: Readonly<Record<string, string>> = { '\\': '\\\\', '\n': '\\n', '\r': '\\r', '\t': '\\t' };

/** A value as the text form of COPY has it. */
const copied = (value: string | null): string =>
  value === null ? '\\N' : /[\\\n\r\t]/.test(value) ? value.replace(/[\\\n\r\t]/g, (c) => ESCAPED[c] as string) : value;

/** What does not stand as it is in JSON, or in JSON in COPY's text form. */
// eslint-disable-next-line no-control-regex
const TO_ESCAPE = /["\\\u0000-\u001f\u007f-\u009f\ud800-\udfff]/;

const BUFFER_BYTES = 256 * 1024;
const [TAB, NEWLINE, QUOTE, COMMA, CLOSE] = [0x09, 0x0a, 0x22, 0x2c, 0x7d];
/** No zone, no day, no notes, and the begin of the fields. */
const NOTHING_ELSE = Buffer.from('\t\\N\t\\N\t[]\t{');
const DIGITS = 10;

/** Writes rows in COPY's text form: line, key, address, domain, zone, day, notes, and the fields as JSON. */
export class CopyWriter {
  private out = Buffer.allocUnsafe(BUFFER_BYTES);
  private at = 0;
  /** What stands in JSON before a value, by field key. */
  private readonly heads = new Map<string, string>();
  private readonly cellHeads: readonly (Uint8Array | null)[];
  private readonly cellHeadBytes: number;

  /** @param cellKeys field keys of the cells of rows that are bytes; null for one that is not kept */
  constructor(cellKeys: readonly (string | null)[]) {
    this.cellHeads = cellKeys.map((key) => (key === null ? null : Buffer.from(this.headOf(key))));
    this.cellHeadBytes = this.cellHeads.reduce((n, head) => n + (head?.length ?? 0) + 2, 2);
  }

  row(row: StagedRow): void {
    const { plain } = row;
    if (plain === null) {
      this.text(`${columnsOf(row)}{${this.jsonOf(row.fields)}}\n`);
      return;
    }
    if (row.key === row.address && row.zone === null && row.sendOn === null && row.notes.length === 0)
      this.plainColumns(row);
    else this.text(`${columnsOf(row)}{`);
    this.cells(plain, row.at);
  }

  /** What has been written since it was last taken. */
  take(): Buffer {
    const written = this.out.subarray(0, this.at);
    this.out = Buffer.allocUnsafe(BUFFER_BYTES);
    this.at = 0;
    return written;
  }

  private headOf(key: string): string {
    let head = this.heads.get(key);
    if (head === undefined) this.heads.set(key, (head = `${copied(JSON.stringify(key))}:"`));
    return head;
  }

  /** Fields as JSON without its braces; the letters of a row that has nothing odd are looked at once. */
  private jsonOf(fields: Readonly<Record<string, string>>): string {
    let [json, values] = ['', ''];
    for (const key in fields) {
      const value = fields[key] as string;
      values += value;
      json += `${json === '' ? '' : '",'}${this.headOf(key)}${value}`;
    }
    if (TO_ESCAPE.test(values)) return copied(JSON.stringify(fields)).slice(1, -1);
    return json === '' ? '' : `${json}"`;
  }

  private text(text: string): void {
    this.makeRoom(text.length * 3);
    this.at += this.out.write(text, this.at);
  }

  /** All columns but the fields, where the address is plain and in small letters, and there is nothing else. */
  private plainColumns({ line, key, domain }: StagedRow): void {
    this.makeRoom(3 * key.length + NOTHING_ELSE.length + DIGITS + 3);
    const { out } = this;
    let at = this.at + out.write(String(line), this.at, 'latin1');
    const from = at + 1;
    out[at++] = TAB;
    const end = from + key.length;
    for (let i = 0; i < key.length; i++) out[at++] = key.charCodeAt(i);
    out[at++] = TAB;
    // A loop is quicker than a call for so few bytes.
    let i = from;
    while (i < end) out[at++] = out[i++] as number;
    out[at++] = TAB;
    i = end - domain.length;
    while (i < end) out[at++] = out[i++] as number;
    i = 0;
    while (i < NOTHING_ELSE.length) out[at++] = NOTHING_ELSE[i++] as number;
    this.at = at;
  }

  /** The cells as JSON, and the end of the line. */
  private cells({ bytes, bounds }: NonNullable<StagedRow['plain']>, first: number): void {
    const { cellHeads } = this;
    const last = first + 2 * cellHeads.length - 1;
    this.makeRoom(this.cellHeadBytes + (bounds[last] as number) - (bounds[first] as number));
    const { out } = this;
    let { at } = this;
    const begin = at;
    for (let cell = 0; cell < cellHeads.length; cell++) {
      const head = cellHeads[cell] as Uint8Array | null;
      const end = bounds[first + 2 * cell + 1] as number;
      let from = bounds[first + 2 * cell] as number;
      if (head === null || from === end) continue;
      if (at > begin) out[at++] = COMMA;
      let i = 0;
      while (i < head.length) out[at++] = head[i++] as number;
      while (from < end) out[at++] = bytes[from++] as number;
      out[at++] = QUOTE;
    }
    out[at++] = CLOSE;
    out[at++] = NEWLINE;
    this.at = at;
  }

  private makeRoom(bytes: number): void {
    if (this.at + bytes <= this.out.length) return;
    const wider = Buffer.allocUnsafe(Math.max(2 * this.out.length, this.at + bytes));
    this.out.copy(wider, 0, 0, this.at);
    this.out = wider;
  }
}

/** All columns but the fields, each with the tab behind it. */
function columnsOf({ line, key, address, domain, zone, sendOn, notes }: StagedRow): string {
  const keyText = copied(key);
  // The domain is a part of the key.
  const domainText = keyText === key ? domain : copied(domain);
  const addressText = address === key ? keyText : copied(address);
  const notesText = notes.length === 0 ? '[]' : copied(JSON.stringify(notes));
  return `${line}\t${keyText}\t${addressText}\t${domainText}\t${copied(zone)}\t${copied(sendOn)}\t${notesText}\t`;
}
