/** One client command: its words, with quoted strings unquoted, literals put in and lists kept as text. */
export interface ImapCommand {
  tag: string;
  name: string;
  args: string[];
}

/** Longest literal taken. */
const MAX_LITERAL = 30 * 1024 * 1024;

/**
 * Takes complete commands off the front of what a client has sent (RFC 3501 2.2.1, 4.3).
 *
 * @returns the next command and how many bytes it was; `wantsLiteral` when the client waits to be asked for
 *   a literal; null when more must come
 */
export function readCommand(buffer: Buffer): { command: ImapCommand; length: number } | 'wants_literal' | null {
  let text = '';
  for (let at = 0; ;) {
    const end = buffer.indexOf('\r\n', at);
    if (end < 0) return null;
    const line = buffer.toString('latin1', at, end);
    const literal = /\{(\d{1,9})(\+?)\}$/.exec(line);
    if (!literal) return { command: parse(text + line), length: end + 2 };
    const size = Math.min(Number(literal[1]), MAX_LITERAL);
    const from = end + 2;
    if (buffer.length < from + size) return literal[2] === '+' || buffer.length > from ? null : 'wants_literal';
    text += `${line.slice(0, -literal[0].length)}"${buffer.toString('latin1', from, from + size).replace(/[\\"]/g, '\\$&')}"`;
    at = from + size;
  }
}

function parse(line: string): ImapCommand {
  const words = [
    ...line.matchAll(
      /"((?:[^"\\]|\\.)*)"|(\((?:[^()]|\((?:[^()]|\([^()]*\))*\))*\))|([^\s"]+(?:\[[^\]]*\])?(?:<[^>]*>)?)/gs,
    ),
  ].map((m) => (m[1] !== undefined ? m[1].replace(/\\(.)/gs, '$1') : (m[0] as string)));
  return { tag: words[0] ?? '*', name: (words[1] ?? '').toUpperCase(), args: words.slice(2) };
}
