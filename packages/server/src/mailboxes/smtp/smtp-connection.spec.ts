import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import { judgeAnswer } from '@baton/core';
import { afterEach, describe, expect, it } from 'vitest';
import { kindBut, submissionServer, type Says, type SubmissionServer } from '../../testing/submission-server';
import { SmtpSender } from './smtp-sender';
import { withFinalDot } from './smtp-connection';

let server: SubmissionServer | null = null;
let raw: Server | null = null;
let rawSocket: Socket | null = null;
let sender: SmtpSender | null = null;
afterEach(() => {
  sender?.close();
  server?.close();
  raw?.close();
});

const MESSAGE = Buffer.from('Subject: x\r\n\r\nHi\r\n');

async function provider(says: Says, greeting?: string | null): Promise<SubmissionServer> {
  server = await submissionServer(says, greeting === undefined ? {} : { greeting });
  return server;
}

function senderTo(port: number, security: 'none' | 'starttls' = 'none'): SmtpSender {
  const at = { host: '127.0.0.1', port, security } as const;
  sender = new SmtpSender({ smtp: at, imap: at, username: 'ines', credential: { password: 'secret' } });
  return sender;
}

/** @param to the recipient, then those of copies */
const send = (to = ['ana@grove.example'], message = MESSAGE) =>
  (sender ?? senderTo(server?.port ?? 0)).send({ from: 'ines@kelp.example', to }, message);

/** A server that answers each piece of bytes as a test wants. */
async function rawServer(says: (piece: string) => string): Promise<number> {
  raw = createServer((socket) => {
    rawSocket = socket.on('error', () => undefined);
    socket.on('data', (bytes) => socket.write(says(bytes.toString('latin1'))));
    socket.write('220 hello\r\n');
  });
  await new Promise<void>((resolve) => raw?.listen(0, '127.0.0.1', resolve));
  return (raw.address() as AddressInfo).port;
}

const PIPELINING = ['PIPELINING'];

describe.each([
  ['one command at a time', []],
  ['the envelope at once', PIPELINING],
])('a message, %s', (_, offers) => {
  it('goes to its recipient and those of copies', async () => {
    const { connections, bodies } = await provider(kindBut({}, offers));
    sender = senderTo(server?.port ?? 0);
    expect(await send(['ana@grove.example', 'bo@grove.example'])).toEqual({
      ...{ code: 250, answer: '250 2.0.0 Fine', stage: 'body', bodyStarted: true },
    });
    expect(connections).toEqual([['EHLO', 'AUTH', 'MAIL', 'RCPT', 'RCPT', 'DATA', '.']]);
    expect(bodies).toEqual([['Subject: x', '', 'Hi']]);
  });

  it.each<[string, Partial<Record<string, string | null>>, number | null, string, string]>([
    ['its sender', { MAIL: '550 5.7.1 No' }, 550, 'mail', 'mailbox_rests'],
    ['its recipient', { RCPT: '550 5.1.1 No' }, 550, 'rcpt', 'permanent'],
    ['the message before it comes', { DATA: '554 5.7.1 No' }, 554, 'data', 'permanent'],
    ['the message after it came', { '.': '554 5.7.1 No' }, 554, 'body', 'permanent'],
    ['its recipient for now', { RCPT: '451 4.7.1 Greylisted' }, 451, 'rcpt', 'transient'],
    ['to talk at MAIL', { MAIL: null }, null, 'mail', 'mailbox_later'],
    ['to talk at RCPT', { RCPT: null }, null, 'rcpt', 'transient'],
    ['to talk at DATA', { DATA: null }, null, 'data', 'transient'],
    ['to answer the message', { '.': null }, null, 'body', 'unknown'],
    // Success where there can be none, and what belongs elsewhere, is no answer to the question.
    ['sense at MAIL', { MAIL: '354 Go on' }, null, 'mail', 'mailbox_later'],
    ['sense at DATA', { DATA: '250 Fine' }, null, 'data', 'transient'],
    ['sense after the message', { '.': '354 Go on' }, null, 'body', 'unknown'],
    ['any sense after the message', { '.': 'oh well' }, null, 'body', 'unknown'],
  ])('the server refuses %s', async (_what, special, code, stage, verdict) => {
    await provider(kindBut(special, offers));
    sender = senderTo(server?.port ?? 0);
    const outcome = await send();
    expect(outcome).toMatchObject({ code, stage, bodyStarted: stage === 'body' });
    expect(judgeAnswer(outcome)).toBe(verdict);
  });

  it('is told of by its own recipient’s refusal where a copy was taken', async () => {
    const { bodies } = await provider(kindBut({ 'RCPT bad': '550 5.1.1 No' }, offers));
    sender = senderTo(server?.port ?? 0);
    const outcome = await send(['bad@grove.example', 'bo@grove.example']);
    expect(outcome).toMatchObject({ code: 550, stage: 'rcpt', copiesTaken: true });
    expect(bodies).toHaveLength(1);
  });

  it('is taken where the server talks nonsense behind saying so', async () => {
    await provider(kindBut({ '.': '250 2.0.0 Taken\r\nand what was the question' }, offers));
    sender = senderTo(server?.port ?? 0);
    expect(await send()).toMatchObject({ code: 250, answer: '250 2.0.0 Taken' });
  });

  it('is taken where only a copy is refused', async () => {
    await provider(kindBut({ 'RCPT bad': '550 5.1.1 No' }, offers));
    sender = senderTo(server?.port ?? 0);
    expect(await send(['ana@grove.example', 'bad@grove.example'])).toMatchObject({ code: 250, stage: 'body' });
  });

  it('keeps the dots at the head of its lines', async () => {
    const { bodies } = await provider(kindBut({}, offers));
    sender = senderTo(server?.port ?? 0);
    await send(undefined, Buffer.from('.first\r\n\r\n.\r\na.b\r\n..two\r\nno end'));
    expect(bodies).toEqual([['..first', '', '..', 'a.b', '...two', 'no end']]);
  });

  // The answers are one behind from here on: what is taken for that to DATA is none, and nothing of the message leaves.
  it.each(['EHLO', 'AUTH', 'MAIL', 'RCPT'])('is kept back where the server answers %s twice', async (twice) => {
    const { bodies } = await provider((command, times, line) => {
      const words = kindBut({}, offers)(command, times, line) ?? '';
      return command === twice ? `${words}\r\n250 2.0.0 Fine` : words;
    });
    sender = senderTo(server?.port ?? 0);
    const outcome = await send();
    expect(outcome.bodyStarted).toBe(false);
    expect(['transient', 'mailbox_later']).toContain(judgeAnswer(outcome));
    expect(bodies.flat()).toEqual([]);
  });
});

describe('the envelope', () => {
  it('goes out in one piece where the server takes that, and the message in another', async () => {
    const { pieces } = await provider(kindBut({}, PIPELINING));
    sender = senderTo(server?.port ?? 0);
    await sender.check();
    const before = pieces();
    await send(['ana@grove.example', 'bo@grove.example', 'cy@grove.example']);
    expect(pieces() - before).toBe(2);
  });

  it('that is refused whole gets no message, though the server asks for it, and the next one leaves', async () => {
    const { connections, bodies } = await provider(kindBut({ 'RCPT bad': '550 5.1.1 No' }, PIPELINING));
    sender = senderTo(server?.port ?? 0);
    expect(await send(['bad@grove.example'])).toMatchObject({ code: 550, stage: 'rcpt', bodyStarted: false });
    expect(bodies).toEqual([[]]);
    expect(await send()).toMatchObject({ code: 250 });
    expect(connections).toHaveLength(1);
  });

  it('says why it was refused also where the server hangs up then', async () => {
    await provider(kindBut({ MAIL: '421 4.7.0 Busy', RCPT: null }, PIPELINING));
    sender = senderTo(server?.port ?? 0);
    expect(await send()).toMatchObject({ code: 421, stage: 'mail', answer: '421 4.7.0 Busy' });
  });
});

describe('a server', () => {
  it.each<[string, string | null, number | null, string]>([
    ['that wants nobody', '554 No service here', 554, 'mailbox_rests'],
    ['that is busy', '421 Too many connections', 421, 'mailbox_later'],
    ['that hangs up', null, null, 'mailbox_later'],
    ['of another kind', 'SSH-2.0-something', null, 'mailbox_later'],
    ['that talks without end', `220-${'x'.repeat(1000)}\r\n`.repeat(70), null, 'mailbox_later'],
  ])('%s is about the mailbox', async (_, greeting, code, verdict) => {
    const { port } = await provider(kindBut(), greeting);
    const outcome = await senderTo(port).check();
    expect(outcome).toMatchObject({ code, stage: 'connect', bodyStarted: false });
    expect(judgeAnswer(outcome)).toBe(verdict);
  });

  it('that takes its leave between two messages says nothing about the next', async () => {
    const port = await rawServer((said) => {
      if (said.startsWith('AUTH')) return '235 welcome\r\n';
      return said.startsWith('DATA') ? '354 go on\r\n' : '250 fine\r\n';
    });
    sender = senderTo(port);
    expect(await send()).toMatchObject({ code: 250 });
    rawSocket?.end('421 4.4.2 Timeout\r\n');
    expect(await send()).toMatchObject({ code: 250 });
  });

  it('that does not begin TLS though it must is not told the password', async () => {
    const { port, connections } = await provider(kindBut({ STARTTLS: '454 4.7.0 Not now' }));
    expect(await senderTo(port, 'starttls').check()).toMatchObject({ code: 454, stage: 'connect' });
    expect(connections).toEqual([['EHLO', 'STARTTLS']]);
  });

  // CVE-2011-0411, the other way round: what somebody put in before TLS would count as said under it.
  it.each(['250 injected\r\n', '250-inj'])('that says more in clear where TLS begins is left (%j)', async (more) => {
    const port = await rawServer((said) => (said.startsWith('EHLO') ? '250 hello\r\n' : `220 Go on\r\n${more}`));
    expect(await senderTo(port, 'starttls').check()).toMatchObject({ code: null, stage: 'connect' });
  });
});

describe('a password', () => {
  const answers = (challenges: Record<string, string>, heard: string[]): Says => {
    return (command, times, line) => {
      if (command === 'EHLO') return `250-hello\r\n250-AUTH=${Object.keys(challenges)[0]}\r\n250 SIZE`;
      if (command !== 'MAIL') heard.push(line);
      return (
        challenges[line.replace(/^AUTH /, '')] ??
        (/^AUTH|^[\w+/=]+$/.test(line) ? '235 welcome' : kindBut()(command, times, line))
      );
    };
  };
  const base64 = (text: string) => Buffer.from(text).toString('base64');

  it('is shown in one line where that can be', async () => {
    const heard: string[] = [];
    await provider(answers({ PLAIN: '504 not alone' }, heard));
    expect(await senderTo(server?.port ?? 0).check()).toMatchObject({ code: 235 });
    expect(heard).toEqual([`AUTH PLAIN ${base64('\0ines\0secret')}`]);
  });

  it('is shown when it is asked for', async () => {
    const heard: string[] = [];
    await provider(answers({ LOGIN: '334 VXNlcm5hbWU6', [base64('ines')]: '334 UGFzc3dvcmQ6' }, heard));
    expect(await senderTo(server?.port ?? 0).check()).toMatchObject({ code: 235 });
    expect(heard).toEqual(['AUTH LOGIN', base64('ines'), base64('secret')]);
  });

  // Worked out with OpenSSL: printf '<1@kelp.example>' | openssl dgst -md5 -hmac secret
  it('is not shown, but proven, where the server wants that', async () => {
    const heard: string[] = [];
    await provider(answers({ 'CRAM-MD5': `334 ${base64('<1@kelp.example>')}` }, heard));
    expect(await senderTo(server?.port ?? 0).check()).toMatchObject({ code: 235 });
    expect(Buffer.from(heard[1] ?? '', 'base64').toString()).toBe('ines 65026cb1a477a2621c0ffef8fbbb1e40');
  });

  it.each([
    ['535 5.7.8 Wrong', 535, 'mailbox_refused'],
    ['454 4.7.0 Later', 454, 'mailbox_later'],
    ['334 more', null, 'mailbox_later'],
  ])('that is refused is about the mailbox (%s)', async (said, code, verdict) => {
    await provider(kindBut({ AUTH: said }));
    const outcome = await senderTo(server?.port ?? 0).check();
    expect(outcome).toMatchObject({ code, stage: 'auth' });
    expect(judgeAnswer(outcome)).toBe(verdict);
  });
});

it('an empty message ends at once', () => expect(withFinalDot(Buffer.from('')).toString()).toBe('.\r\n'));
