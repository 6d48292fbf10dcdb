import { afterEach, describe, expect, it, vi } from 'vitest';
import type { MailboxAccess } from '../connection';
import { kindBut, submissionServer, type Says, type SubmissionServer } from '../../testing/submission-server';
import { SmtpSender } from './smtp-sender';

let server: SubmissionServer | null = null;
let sender: SmtpSender | null = null;
/** What each connection was asked. */
let connections: string[][] = [];

async function provider(says: Says): Promise<SmtpSender> {
  server = await submissionServer(says);
  ({ connections } = server);
  sender = new SmtpSender(access(server.port));
  return sender;
}

const access = (port: number): MailboxAccess => ({
  smtp: { host: '127.0.0.1', port, security: 'none' },
  imap: { host: '127.0.0.1', port: 1, security: 'none' },
  username: 'ines',
  credential: { password: 'secret' },
});

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
      return kindBut()(command, 1, '');
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
    sender = new SmtpSender(access(server?.port ?? 0), 20);
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
        return command === 'MAIL' && messages === 1 && connections.length === 1 ? said : kindBut()(command, 1, '');
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

  it('is named to the server as what it is where that is one that does', async () => {
    const lines: string[] = [];
    await provider((command, times, line) => {
      lines.push(line);
      return kindBut({}, ['SMTPUTF8'])(command, times, line);
    });
    expect(await send('josé@grove.example')).toMatchObject({ code: 250 });
    expect(lines).toContain('MAIL FROM:<ines@kelp.example> SMTPUTF8');
    expect(await send('ana@grove.example')).toMatchObject({ code: 250 });
    expect(lines).toContain('MAIL FROM:<ines@kelp.example>');
  });
});

describe('an address that would end the command it stands in', () => {
  it.each(['ana@grove.example>\r\nRCPT TO:<bo@grove.example', 'a<b@grove.example', 'a\0b@grove.example'])(
    'never gets into one (%j)',
    async (address) => {
      await provider(kindBut());
      expect(await send(address)).toMatchObject({ code: 553, stage: 'rcpt', bodyStarted: false });
      expect(connections[0]).toEqual(['EHLO', 'AUTH']);
    },
  );
});
