import type { PlainCells } from '@baton/core';

const ESCAPED: Readonly<Record<string, string>> = { '\\': '\\\\', '\n': '\\n', '\r': '\\r', '\t': '\\t' };

/** A value as the text form of COPY has it. */
export const copied = (value: string | null): string =>
  value === null ? '\\N' : /[\\\n\r\t]/.test(value) ? value.replace(/[\\\n\r\t]/g, (c) => ESCAPED[c] as string) : value;

/** What does not stand as it is in JSON, or in JSON in COPY's text form. */
// eslint-disable-next-line no-control-regex
const TO_ESCAPE = /["\\\u0000-\u001f\u007f-\u009f\ud800-\udfff]/;

const BUFFER_BYTES = 256 * 1024;
const [COMMA, QUOTE, CLOSE, NEWLINE] = [0x2c, 0x22, 0x7d, 0x0a];

/** Writes lines of COPY's text form whose last column is JSON of a row's fields; some of them are bytes already. */
export class CopyWriter {
  private out = Buffer.allocUnsafe(BUFFER_BYTES);
  private at = 0;
  /** What stands in JSON before a value, by field key. */
  private readonly heads = new Map<string, string>();
  private readonly plainHeads: readonly (Uint8Array | null)[];
  private readonly plainHeadBytes: number;

  /** @param plainKeys of the cells that rows bring as bytes, in order; null for one that is not kept */
  constructor(plainKeys: readonly (string | null)[]) {
    this.plainHeads = plainKeys.map((key) => (key === null ? null : Buffer.from(this.headOf(key))));
    this.plainHeadBytes = this.plainHeads.reduce((n, head) => n + (head?.length ?? 0) + 2, 2);
  }

  /**
   * @param columns before the last, as COPY has them, each with the tab behind it
   * @param plain cells of which nothing is escaped
   * @param first where their bounds begin
   */
  line(columns: string, fields: Readonly<Record<string, string>>, plain: PlainCells | null, first: number): void {
    const json = this.jsonOf(fields);
    if (plain === null) this.text(`${columns}{${json}}\n`);
    else {
      this.text(`${columns}{${json}`);
      this.plain(plain, first, json === '');
    }
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

  /** The cells, and the end of the line. */
  private plain({ bytes, bounds }: PlainCells, first: number, isFirst: boolean): void {
    const { plainHeads } = this;
    const last = first + 2 * plainHeads.length - 1;
    this.makeRoom(this.plainHeadBytes + (bounds[last] as number) - (bounds[first] as number));
    const { out } = this;
    let { at } = this;
    let needsComma = !isFirst;
    for (let cell = 0; cell < plainHeads.length; cell++) {
      const head = plainHeads[cell] as Uint8Array | null;
      const end = bounds[first + 2 * cell + 1] as number;
      let from = bounds[first + 2 * cell] as number;
      if (head === null || from === end) continue;
      if (needsComma) out[at++] = COMMA;
      needsComma = true;
      for (const byte of head) out[at++] = byte;
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
