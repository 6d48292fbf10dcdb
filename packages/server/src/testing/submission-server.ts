import { createServer, type AddressInfo, type Socket } from 'node:net';

/**
 * What a submission server says to a command; null ends the connection without a word. `EHLO`, `MAIL`, `RCPT` and so on, `.`
 * for a message; `RCPT bad` for a recipient whose address begins with bad.
 *
 * @param times how often it has been said on this connection, this time included
 * @param line as it came
 */
export type Says = (command: string, times: number, line: string) => string | null;

export interface SubmissionServer {
  port: number;
  /** The commands of each connection, in order. */
  connections: string[][];
  /** The lines of messages as they came, dots and all. */
  bodies: string[][];
  /** How many pieces have come over the network. */
  pieces(): number;
  close(): void;
}

/** A submission server that speaks as a test wants, command by command, on a free port of this machine. */
export async function submissionServer(
  says: Says,
  { greeting = '220 provider.example ready' }: { greeting?: string | null } = {},
): Promise<SubmissionServer> {
  const connections: string[][] = [];
  const bodies: string[][] = [];
  let pieces = 0;
  const talk = (socket: Socket) => {
    const asked: string[] = [];
    connections.push(asked);
    let rest = '';
    let inBody = false;
    const answer = (command: string, line: string) => {
      asked.push(command);
      const words = says(command, asked.filter((c) => c === command).length, line);
      if (words === null) socket.destroy();
      else socket.write(`${words}\r\n`);
      return words?.startsWith('354') ?? false;
    };
    socket.on('error', () => undefined);
    socket.on('data', (chunk) => {
      pieces++;
      rest += chunk.toString('latin1');
      for (let end = rest.indexOf('\r\n'); end >= 0; end = rest.indexOf('\r\n')) {
        const line = rest.slice(0, end);
        rest = rest.slice(end + 2);
        if (inBody && line !== '.') bodies.at(-1)?.push(line);
        else if (inBody) inBody = answer('.', line);
        else if (
          (inBody = answer(line.replace(/ .*|:.*/, '').toUpperCase() + (/TO:<bad/.test(line) ? ' bad' : ''), line))
        )
          bodies.push([]);
      }
    });
    if (greeting === null) socket.destroy();
    else socket.write(`${greeting}\r\n`);
  };
  const server = createServer(talk);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  return { port, connections, bodies, pieces: () => pieces, close: () => server.close() };
}

/** A server that takes everything, but for what is said otherwise. @param offers what it offers beside AUTH PLAIN */
export const kindBut =
  (special: Partial<Record<string, string | null>> = {}, offers: readonly string[] = []): Says =>
  (command) => {
    if (command in special) return special[command] ?? null;
    if (command === 'EHLO')
      return ['250-provider.example', ...offers.map((o) => `250-${o}`), '250 AUTH PLAIN'].join('\r\n');
    if (command === 'AUTH') return '235 2.7.0 Signed in';
    return command === 'DATA' ? '354 Go on' : '250 2.0.0 Fine';
  };
