import { createServer, type AddressInfo, type Server } from 'node:net';
import { DomainError, judgeAnswer } from '@baton/core';
import { afterEach, describe, expect, it } from 'vitest';
import { SmtpSender } from './smtp-sender';

let server: Server | null = null;
afterEach(() => server?.close());

/** A submission server of a few lines. @param answer what it says to each line after EHLO; null hangs up */
async function submission(auth: string, answer: (line: string) => string | null): Promise<number> {
  server = createServer((socket) => {
    socket.on('error', () => undefined);
    socket.write('220 mail.tidewaterkelp.example\r\n');
    socket.on('data', (bytes) => {
      for (const line of bytes.toString('latin1').split('\r\n').slice(0, -1)) {
        const said = line.startsWith('EHLO') ? `250-hello\r\n250 ${auth}` : answer(line);
        if (said === null) socket.destroy();
        else socket.write(`${said}\r\n`);
      }
    });
  });
  await new Promise<void>((resolve) => server?.listen(0, '127.0.0.1', resolve));
  return (server.address() as AddressInfo).port;
}

/** @param tokens those to be had, in order */
function sender(port: number, tokens: (string | Error)[], username = 'ines@tidewaterkelp.example'): SmtpSender {
  const next = () => {
    const token = tokens.shift() ?? 'none left';
    return token instanceof Error ? Promise.reject(token) : Promise.resolve(token);
  };
  const at = { host: '127.0.0.1', port, security: 'none' } as const;
  return new SmtpSender({ smtp: at, imap: at, username, credential: { token: next } });
}

const decoded = (line: string) => Buffer.from(line.split(' ')[2] ?? '', 'base64').toString('utf8');

describe('a token is shown to a submission server', () => {
  it('by the standard where it can', async () => {
    const heard: string[] = [];
    const port = await submission('AUTH PLAIN XOAUTH2 OAUTHBEARER', (line) => {
      heard.push(line);
      return '235 welcome';
    });
    expect(await sender(port, ['good'], 'a=b,c@d.example').check()).toMatchObject({ code: 235 });
    expect(heard[0]).toMatch(/^AUTH OAUTHBEARER /);
    expect(decoded(heard[0] ?? '')).toBe(
      `n,a=a=3Db=2Cc@d.example,\u0001host=127.0.0.1\u0001port=${port}\u0001auth=Bearer good\u0001\u0001`,
    );
  });

  it('or as it was before that', async () => {
    const heard: string[] = [];
    const port = await submission('AUTH LOGIN PLAIN XOAUTH2', (line) => {
      heard.push(line);
      return '235 welcome';
    });
    expect(await sender(port, ['good']).check()).toMatchObject({ code: 235 });
    expect(decoded(heard[0] ?? '')).toBe('user=ines@tidewaterkelp.example\u0001auth=Bearer good\u0001\u0001');
  });

  it.each(['OAUTHBEARER', 'XOAUTH2'])('a second one where the first is refused (%s)', async (mechanism) => {
    const heard: string[] = [];
    const port = await submission(`AUTH ${mechanism}`, (line) => {
      heard.push(line);
      if (!line.startsWith('AUTH')) return '535 5.7.8 refused';
      return decoded(line).includes('new')
        ? '235 welcome'
        : `334 ${Buffer.from('{"status":"401"}').toString('base64')}`;
    });
    expect(await sender(port, ['old', 'new']).check()).toMatchObject({ code: 235 });
    // What says that the refusal was heard (RFC 7628, 3.2.3).
    expect(heard[1]).toBe(mechanism === 'OAUTHBEARER' ? 'AQ==' : '');
  });

  it.each<[string, () => string | null, string, string]>([
    ['refused for good', () => '535 5.7.8 not you', 'mailbox_refused', '535 5.7.8 not you'],
    ['refused for now', () => '454 4.7.0 later', 'mailbox_later', '454 4.7.0 later'],
    ['hung up on', () => null, 'mailbox_later', ''],
  ])('and is %s', async (_, answer, verdict, words) => {
    const outcome = await sender(await submission('AUTH XOAUTH2', answer), ['a', 'b']).check();
    expect(judgeAnswer(outcome)).toBe(verdict);
    expect(outcome.answer).toContain(words);
  });

  it('is not shown where no way of it is taken', async () => {
    const outcome = await sender(await submission('AUTH PLAIN', () => '235 welcome'), ['good']).check();
    expect(judgeAnswer(outcome)).toBe('mailbox_refused');
    expect(outcome.answer).toContain('neither OAUTHBEARER nor XOAUTH2');
  });

  it.each([
    [new DomainError('refused', 'Sign in again.'), 'mailbox_refused', 'Sign in again.'],
    [new DomainError('unreachable', 'The provider is away.'), 'mailbox_later', 'The provider is away.'],
    [new Error('select secret from grants'), 'mailbox_later', 'could not be looked up'],
  ] as const)('is not to be had: %s', async (error, verdict, words) => {
    const outcome = await sender(await submission('AUTH XOAUTH2', () => '235 welcome'), [error]).check();
    expect(judgeAnswer(outcome)).toBe(verdict);
    expect(outcome.answer).toContain(words);
  });
});
