import { createServer, type AddressInfo, type Server, type Socket } from 'node:net';
import type { Clock } from '@baton/core';
import { Faults } from '../packages/simulator/src/faults';
import { startImap } from '../packages/simulator/src/imap/imap-server';
import { MailStore } from '../packages/simulator/src/mail/mail-store';

/** One message that the sink took. */
export interface Taken {
  messageId: string;
  /** The mailbox that signed in. */
  from: string;
  /** Envelope recipients. */
  to: string[];
  isFollowUp: boolean;
  /** By the trial's clock. */
  at: number;
}

/** How ill the sink behaves: a factor on all its faults, 0 for none. */
export interface Mood {
  faults: number;
}

/** RFC 5321 4.5.3.2.6: whoever takes a message later than this breaks the rules, and no client can be right. */
const TAKES_WITHIN_MS = 9 * 60_000;

/** How often it does what to whom, of a thousand times. */
const ODDS = {
  connect: { drop: 12, garbage: 6, refuse: 6, later: 8, slow: 8 },
  auth: { drop: 5, later: 5 },
  mail: { drop: 6, later: 8, refuse: 1 },
  rcpt: { drop: 8, later: 25, refuse: 10 },
  data: { drop: 8, later: 8 },
  body: { cut: 15 },
  end: { dropBefore: 30, dropAfter: 35, later: 15, refuse: 6, garbage: 10, slow: 40, slowDrop: 12 },
} as const;

export interface Sink {
  smtpPort: number;
  imapPort: number;
  store: MailStore;
  imapFaults: Faults;
  taken: Taken[];
  /** How often it did what. */
  met: Record<string, number>;
  close(): Promise<void>;
}

/**
 * A mail provider of its own, on bare sockets, that keeps a ledger of what it took: it breaks off, stalls, refuses and
 * talks nonsense at every command. Accounts are those of `store`; copies go into their Sent folders late, or never.
 */
export async function startSink(clock: Clock, random: () => number, mood: Mood): Promise<Sink> {
  const store = new MailStore(null);
  const imapFaults = new Faults();
  const imap = await startImap(store, imapFaults, 0);
  const taken: Taken[] = [];
  const met: Record<string, number> = {};
  const sockets = new Set<Socket>();
  const parts: Parts = { clock, random, mood, store, taken, met };
  const server = createServer((socket) => {
    sockets.add(socket);
    socket.on('error', () => undefined).on('close', () => sockets.delete(socket));
    new Conversation(socket, parts).greet();
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return {
    ...{ store, imapFaults, taken, met },
    smtpPort: portOf(server),
    imapPort: imap.port,
    async close() {
      for (const socket of sockets) socket.destroy();
      await new Promise((resolve) => server.close(resolve));
      await imap.close();
    },
  };
}

const portOf = (server: Server) => (server.address() as AddressInfo).port;

interface Parts {
  clock: Clock;
  random: () => number;
  mood: Mood;
  store: MailStore;
  taken: Taken[];
  met: Record<string, number>;
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** One connection of one client. */
class Conversation {
  private rest = '';
  private inBody = false;
  private account = '';
  private to: string[] = [];
  /** Commands are answered one after another, however long an answer takes. */
  private last: Promise<void> = Promise.resolve();

  constructor(
    private readonly socket: Socket,
    private readonly parts: Parts,
  ) {
    socket.on('data', (chunk) => this.read(chunk.toString('latin1')));
  }

  greet(): void {
    this.last = this.meet('connect', '220 sink.example ESMTP');
  }

  private say(words: string): void {
    if (!this.socket.destroyed) this.socket.write(`${words}\r\n`, 'latin1');
  }

  private read(text: string): void {
    this.rest += text;
    for (;;) {
      const end = this.rest.indexOf(this.inBody ? '\r\n.\r\n' : '\r\n');
      if (end < 0) break;
      const piece = this.rest.slice(0, end);
      this.rest = this.rest.slice(end + (this.inBody ? 5 : 2));
      if (this.inBody) {
        this.inBody = false;
        this.last = this.last.then(() => this.take(piece));
      } else this.command(piece);
    }
    if (this.inBody && this.draw('body')) this.socket.destroy();
  }

  private command(line: string): void {
    const verb = line.slice(0, 4).toUpperCase();
    this.last = this.last.then(() => this.answer(verb, line));
    // What follows DATA is read as a body at once: clients wait for 354.
    if (verb === 'DATA') this.inBody = true;
  }

  private answer(verb: string, line: string): Promise<void> | void {
    const { store } = this.parts;
    switch (verb) {
      case 'EHLO':
        return this.say('250-sink.example\r\n250-8BITMIME\r\n250 AUTH PLAIN');
      case 'AUTH': {
        const [, user = ''] = Buffer.from(line.split(' ')[2] ?? '', 'base64')
          .toString('utf8')
          .split('\0');
        this.account = user;
        return store.accounts.has(user) ? this.meet('auth', '235 2.7.0 Signed in') : this.say('535 5.7.8 Wrong');
      }
      case 'MAIL':
        this.to = [];
        return this.meet('mail', '250 2.1.0 Fine');
      case 'RCPT': {
        const address = /<([^>]*)>/.exec(line)?.[1]?.toLowerCase() ?? '';
        return this.meet('rcpt', '250 2.1.5 Fine', () => this.to.push(address));
      }
      case 'DATA':
        return this.meet(
          'data',
          '354 Go on',
          () => undefined,
          () => (this.inBody = false),
        );
      case 'QUIT':
        this.say('221 2.0.0 Bye');
        return void this.socket.end();
      default:
        return this.say('250 2.0.0 Fine');
    }
  }

  /** Which fault comes now, if any. */
  private draw<S extends keyof typeof ODDS>(stage: S): keyof (typeof ODDS)[S] | null {
    const { random, mood, met } = this.parts;
    let thousandth = random() * 1000;
    for (const [fault, odds] of Object.entries(ODDS[stage])) {
      thousandth -= (odds as number) * mood.faults;
      if (thousandth >= 0) continue;
      met[`${stage} ${fault}`] = (met[`${stage} ${fault}`] ?? 0) + 1;
      return fault as keyof (typeof ODDS)[S];
    }
    return null;
  }

  private async meet(
    stage: Exclude<keyof typeof ODDS, 'body' | 'end'>,
    kind: string,
    done: () => unknown = () => undefined,
    refused: () => unknown = () => undefined,
  ): Promise<void> {
    const fault = this.draw(stage) as string | null;
    if (fault !== null && fault !== 'slow') refused();
    if (fault === 'drop') return void this.socket.destroy();
    if (fault === 'garbage') return this.say('\0\u00ff\u00fehello, is it mail you look for');
    if (fault === 'later') return this.say(stage === 'connect' ? '421 4.3.2 Too busy' : '451 4.3.0 Not just now');
    if (fault === 'refuse')
      return this.say(stage === 'rcpt' ? '550 5.1.1 No such person' : '550 5.7.1 Not from your network');
    if (fault === 'slow') await pause(400);
    done();
    this.say(kind);
  }

  /** The message has come whole. */
  private async take(raw: string): Promise<void> {
    const fault = this.draw('end');
    if (fault === 'dropBefore') return void this.socket.destroy();
    if (fault === 'later') return this.say('451 4.3.0 Not just now');
    if (fault === 'refuse') return this.say('554 5.7.1 Not this one');
    const written = Date.parse(/^date:(.*)/im.exec(raw)?.[1]?.trim() ?? '');
    const age = this.parts.clock.now() - written;
    // A server that comes to it so late, or a clock that was set: nothing was taken, and the client cannot know.
    if (!(age < TAKES_WITHIN_MS)) return void this.socket.destroy();
    this.keep(raw);
    if (fault === 'dropAfter') return void this.socket.destroy();
    if (fault === 'garbage') return this.say('\0\u00ff what was the question');
    if (fault === 'slow' || fault === 'slowDrop') await pause(100 + this.parts.random() * 1500);
    if (fault === 'slowDrop') return void this.socket.destroy();
    this.say('250 2.0.0 Taken');
  }

  private keep(raw: string): void {
    const { clock, store, taken, random } = this.parts;
    const bytes = Buffer.from(`${raw}\r\n`.replace(/\r\n\.\./g, '\r\n.'), 'latin1');
    taken.push({
      messageId: /^message-id:\s*<([^>]+)>/im.exec(raw)?.[1] ?? '',
      ...{ from: this.account, to: this.to, at: clock.now() },
      isFollowUp: /^in-reply-to:/im.test(raw),
    });
    for (const address of this.to) if (store.accounts.has(address)) store.addMail(address, 'INBOX', bytes, clock.now());
    if (store.accounts.get(this.account)?.keepsSent === false) return;
    const from = this.account;
    // Most at once, some a while later.
    if (random() < 0.8) store.addMail(from, 'Sent', bytes, clock.now());
    else setTimeout(() => store.addMail(from, 'Sent', bytes, clock.now()), random() * 800);
  }
}
