import { createServer, type Server, type Socket } from 'node:net';
import type { AddressInfo } from 'node:net';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { MailboxAccess } from './connection';
import { SmtpSender } from './smtp';

/** What a server says to a command; null ends the connection without a word. */
type Says = (command: string, sayings: number) => string | null;

let server: Server | null = null;
let sender: SmtpSender | null = null;
let connections: string[][] = [];

/** A provider that speaks as a test wants, command by command; `connections` has what each connection was asked. */
async function provider(says: Says): Promise<SmtpSender> {
  connections = [];
  server = createServer((socket) => talk(socket, says));
  await new Promise<void>((resolve) => server?.listen(0, '127.0.0.1', resolve));
  const { port } = server.address() as AddressInfo;
  sender = new SmtpSender(access(port));
  return sender;
}

const access = (port: number): MailboxAccess => ({
  smtp: { host: '127.0.0.1', port, security: 'none' },
  imap: { host: '127.0.0.1', port: 1, security: 'none' },
  username: 'ines',
  credential: { password: 'secret' },
});

function talk(socket: Socket, says: Says): void {
  const asked: string[] = [];
  connections.push(asked);
  let rest = '';
  let inBody = false;
  const answer = (command: string) => {
    asked.push(command);
    const words = says(command, asked.filter((c) => c === command).length) ?? null;
    if (words === null) socket.destroy();
    else socket.write(`${words}\r\n`);
    return words?.startsWith('354') ?? false;
  };
  socket.on('error', () => undefined);
  socket.on('data', (chunk) => {
    rest += chunk.toString('latin1');
    for (let end = rest.indexOf('\r\n'); end >= 0; end = rest.indexOf('\r\n')) {
      const line = rest.slice(0, end);
      rest = rest.slice(end + 2);
      if (inBody && line !== '.') continue;
      if (inBody) {
        inBody = false;
        answer('.');
      } else inBody = answer(line.replace(/ .*|:.*/, '').toUpperCase() + (/TO:<bad/.test(line) ? ' bad' : ''));
    }
  });
  socket.write('220 provider.example ready\r\n');
}

/** A provider that takes everything, but for what is said otherwise. */
const kindBut =
  (special: Partial<Record<string, string | null>> = {}): Says =>
  (command) => {
    if (command in special) return special[command] ?? null;
    if (command === 'EHLO') return '250-provider.example\r\n250 AUTH PLAIN';
    if (command === 'AUTH') return '235 2.7.0 Signed in';
    return command === 'DATA' ? '354 Go on' : '250 2.0.0 Fine';
  };

const send = (to: string) =>
  sender?.send({ from: 'ines@kelp.example', to: [to] }, Buffer.from('Subject: x\r\n\r\nHi\r\n'));

afterEach(() => {
  sender?.close();
  server?.close();
});

describe('a kept connection', () => {
  it('goes on after an address that is refused, without signing in again', async () => {
    await provider(kindBut({ 'RCPT bad': '550 5.1.1 No such person' }));
    expect(await send('ana@grove.example')).toMatchObject({ code: 250 });
    expect(await send('bad@grove.example')).toMatchObject({ code: 550, stage: 'rcpt', bodyStarted: false });
    expect(await send('bo@grove.example')).toMatchObject({ code: 250 });
    expect(connections).toHaveLength(1);
    expect(connections[0]?.filter((c) => c === 'AUTH')).toHaveLength(1);
    expect(connections[0]).toContain('RSET');
  });

  it('goes on after a message that is refused at its end', async () => {
    let messages = 0;
    await provider((command) => {
      if (command === '.' && ++messages === 2) return '554 5.7.1 Not this one';
      return kindBut()(command, 1);
    });
    expect(await send('ana@grove.example')).toMatchObject({ code: 250 });
    expect(await send('bo@grove.example')).toMatchObject({ code: 554, bodyStarted: true });
    expect(await send('cy@grove.example')).toMatchObject({ code: 250 });
    expect(connections).toHaveLength(1);
  });

  it('is given up where the server ends the conversation, and a new one is made', async () => {
    await provider(kindBut({ 'RCPT bad': '421 4.7.0 Come back later' }));
    expect(await send('bad@grove.example')).toMatchObject({ code: 421 });
    expect(await send('ana@grove.example')).toMatchObject({ code: 250 });
    expect(connections).toHaveLength(2);
    expect(connections[0]).not.toContain('RSET');
  });

  it.each([['503 5.5.1 Not now'], [null]])(
    'is given up when the refused message cannot be ended (%s)',
    async (said) => {
      await provider(kindBut({ 'RCPT bad': '550 5.1.1 No such person', RSET: said }));
      expect(await send('bad@grove.example')).toMatchObject({ code: 550, stage: 'rcpt' });
      expect(await send('ana@grove.example')).toMatchObject({ code: 250 });
      expect(connections).toHaveLength(2);
    },
  );

  it('is closed when it has been idle, as a client does that is polite', async () => {
    await provider(kindBut());
    sender?.close();
    const { port } = server?.address() as AddressInfo;
    sender = new SmtpSender({ ...access(port) }, 20);
    expect(await send('ana@grove.example')).toMatchObject({ code: 250 });
    await vi.waitFor(() => expect(connections.at(-1)).toContain('QUIT'), { timeout: 60_000 });
    expect(await send('bo@grove.example')).toMatchObject({ code: 250 });
    expect(connections).toHaveLength(2);
  });

  it.each([[null], ['421 4.4.2 mail.kelp.example Timeout exceeded']])(
    'that the server closed meanwhile says nothing about the message (%s)',
    async (said) => {
      let messages = 0;
      await provider((command) => {
        if (command === '.') messages++;
        return command === 'MAIL' && messages === 1 && connections.length === 1 ? said : kindBut()(command, 1);
      });
      expect(await send('ana@grove.example')).toMatchObject({ code: 250 });
      expect(await send('bo@grove.example')).toMatchObject({ code: 250 });
      expect(connections).toHaveLength(2);
      expect(messages).toBe(2);
    },
  );

  it('that is new and is put off at once puts the mailbox off, without a second try', async () => {
    await provider(kindBut({ MAIL: '421 4.7.0 Busy' }));
    expect(await send('ana@grove.example')).toMatchObject({ code: 421, stage: 'mail' });
    expect(connections).toHaveLength(1);
  });
});

describe('an address with letters beyond ASCII before the @', () => {
  it('is not sent to a provider that does not take it, and the next message leaves', async () => {
    await provider(kindBut());
    expect(await send('josé@grove.example')).toMatchObject({ code: 553, stage: 'rcpt', bodyStarted: false });
    expect(await send('ana@grove.example')).toMatchObject({ code: 250 });
    expect(connections).toHaveLength(1);
    expect(connections[0]?.filter((c) => c === 'RCPT')).toHaveLength(1);
  });

  it('is sent to one that does', async () => {
    await provider(kindBut({ EHLO: '250-provider.example\r\n250-SMTPUTF8\r\n250 AUTH PLAIN' }));
    expect(await send('josé@grove.example')).toMatchObject({ code: 250 });
  });
});
