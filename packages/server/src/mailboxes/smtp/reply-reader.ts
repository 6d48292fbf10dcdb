/** What a server answers to one command (RFC 5321, 4.2). */
export interface Reply {
  code: number;
  /** Its lines without their codes. */
  lines: string[];
}

/** A line is 512 octets at most (RFC 5321, 4.5.3.1.5); real servers say more. */
const MOST_LINE_BYTES = 8192;
/** As much as an answer may have, whatever its lines. */
const MOST_REPLY_BYTES = 65_536;

/** Puts replies together from the bytes of a connection, however these are cut. */
export class ReplyReader {
  private rest = '';
  private open: Reply | null = null;
  private openBytes = 0;

  /** Whether some of a reply is there, and not yet all of it. */
  get isAmidReply(): boolean {
    return this.open !== null || this.rest !== '';
  }

  /**
   * The replies that are whole now, each as soon as it is found: what comes behind one takes nothing from it.
   *
   * @throws Error where it is none, or has no end
   */
  *read(bytes: Buffer): Generator<Reply> {
    this.rest += bytes.toString('latin1');
    for (let end = this.rest.indexOf('\n'); end >= 0; end = this.rest.indexOf('\n')) {
      const line = this.rest.slice(0, end).replace(/\r$/, '');
      this.rest = this.rest.slice(end + 1);
      const reply = this.line(line);
      if (reply) yield reply;
    }
    if (this.rest.length > MOST_LINE_BYTES) throw new Error('The server answers with a line that does not end.');
  }

  private line(line: string): Reply | null {
    const [, digits, more, text = ''] = /^([2-5]\d\d)(?:([ -])(.*))?$/s.exec(line) ?? [];
    const code = Number(digits);
    if (digits === undefined || (this.open && this.open.code !== code)) throw new Error(asText(line) || NO_REPLY);
    this.openBytes += line.length;
    if (this.openBytes > MOST_REPLY_BYTES) throw new Error('The server answers without end.');
    this.open ??= { code, lines: [] };
    this.open.lines.push(asText(text));
    if (more === '-') return null;
    const whole = this.open;
    this.open = null;
    this.openBytes = 0;
    return whole;
  }
}

const NO_REPLY = 'The server answers with an empty line.';

/** Words of a server: UTF-8 where they are (RFC 6531, 3.7.4), else the bytes as they are. */
function asText(latin1: string): string {
  if (!/[\u0080-\u00ff]/.test(latin1)) return latin1;
  const text = Buffer.from(latin1, 'latin1').toString('utf8');
  return text.includes('\ufffd') ? latin1 : text;
}

/** A reply in one text: its code, and what its lines say; the code of RFC 3463 that some repeat in each line only once. */
export function replyText({ code, lines }: Reply): string {
  const enhanced = /^[245]\.\d{1,3}\.\d{1,3} /.exec(lines[0] ?? '')?.[0] ?? '';
  const said = lines.map((line, i) =>
    i > 0 && enhanced !== '' && line.startsWith(enhanced) ? line.slice(enhanced.length) : line,
  );
  return `${code} ${said.join(' ')}`.trim();
}
