import { connect as connectTcp, isIP, type Socket } from 'node:net';
import { hostname } from 'node:os';
import { connect as connectTls } from 'node:tls';
import { MINUTE_MS, needsUtf8, type SendOutcome } from '@baton/core';
import type { Server } from '../../store/schema/schema';
import { SOCKET_TIMEOUT_MS, tlsOf } from '../connection';
import { ReplyReader, replyText, type Reply } from './reply-reader';

type Stage = SendOutcome['stage'];

/** What a message is handed over with. */
export interface Envelope {
  from: string;
  /** The recipient, then those of copies. */
  to: string[];
}

/** How long a server may take for the answer to a command (RFC 5321, 4.5.3.2: five minutes for most). */
const ANSWER_MS = 5 * MINUTE_MS;
/** RFC 5321 4.5.3.2.6: the answer behind the final dot may take ten minutes. Whoever gives up before sends the message twice. */
const FINAL_ANSWER_MS = 10 * MINUTE_MS;
/** A server that takes a message more slowly than this is not waited for. */
const SLOWEST_BYTES_PER_MS = 8;
/** How long a farewell is waited for. */
const QUIT_MS = 5000;

/** Why a conversation came to its end: what the server said, or what became of the connection. */
export class SmtpFailure extends Error {
  constructor(
    readonly stage: Stage,
    /** Null where there was no answer. */
    readonly code: number | null,
    answer: string,
  ) {
    super(answer);
  }
}

interface Waiting {
  resolve(reply: Reply): void;
  reject(error: Error): void;
  ms: number;
}

/**
 * A conversation with a submission server (RFC 6409): one command at a time, or a whole envelope at once where the server
 * offers PIPELINING (RFC 2920). What is wrong with the connection ends it; every later command then fails the same way.
 */
export class SmtpConnection {
  /** What the server can do besides (RFC 5321, 4.1.1.1): keywords in capitals, and their parameters. */
  extensions: ReadonlyMap<string, string> = new Map();
  private reader = new ReplyReader();
  private readonly waiting: Waiting[] = [];
  private timer: NodeJS.Timeout | null = null;
  private ended: Error | null = null;

  /** @param onEnd called once when the connection has come to its end */
  private constructor(
    private socket: Socket,
    private readonly onEnd: () => void,
  ) {
    this.attach(socket);
  }

  /**
   * Connects, greets, and begins TLS as the server's settings want it.
   *
   * @throws SmtpFailure of stage `connect`
   */
  static async open(server: Server, onEnd: () => void): Promise<SmtpConnection> {
    const { host, port, security } = server;
    const at = { host, port, ...nameOf(server) };
    const socket = security === 'tls' ? connectTls({ ...at, ...tlsOptions(server) }) : connectTcp(at);
    const connection = new SmtpConnection(socket, onEnd);
    try {
      const greeting = await connection.reply(SOCKET_TIMEOUT_MS);
      if (greeting.code !== 220) throw refusal('connect', greeting);
      await connection.hello();
      if (security === 'starttls') await connection.startTls(server);
      return connection;
    } catch (error) {
      connection.destroy();
      throw error instanceof SmtpFailure ? error : lost('connect', error);
    }
  }

  /**
   * One command and its answer, whatever that is.
   *
   * @param stage of what failed, where the connection does
   * @throws SmtpFailure without a code where the connection breaks, or no answer comes
   */
  async ask(line: string, stage: Stage): Promise<Reply> {
    try {
      return await this.send([line])[0];
    } catch (error) {
      throw lost(stage, error);
    }
  }

  /** Hands a message over. Never throws for what a server or connection does: that is the outcome. */
  async handOver(envelope: Envelope, message: Buffer): Promise<SendOutcome> {
    let stage: Stage = 'mail';
    let bodyStarted = false;
    try {
      const answers = this.askInTurn([mailFrom(envelope), ...envelope.to.map((a) => `RCPT TO:<${a}>`), 'DATA']);
      const mail = await answers.next();
      if (!isPositive(mail)) return await this.withdraw(answers, refusal(stage, mail));
      stage = 'rcpt';
      const recipients: Reply[] = [];
      while (recipients.length < envelope.to.length) recipients.push(await answers.next());
      const own = recipients[0] as Reply;
      if (!recipients.some(isPositive)) return await this.withdraw(answers, refusal(stage, own));
      stage = 'data';
      const data = await answers.next();
      // An answer too many means that those before were answers to something else.
      if (data.code !== 354 || this.reader.isAmidReply) return outcomeOf(refusal(stage, data));
      stage = 'body';
      bodyStarted = true;
      const taken = await this.body(message);
      if (!isPositive(taken)) return outcomeOf(refusal(stage, taken), true);
      // What becomes of a person is told by their own answer.
      if (!isPositive(own)) return { ...outcomeOf(refusal('rcpt', own)), copiesTaken: true };
      return { code: 250, answer: oneLine(replyText(taken)), stage, bodyStarted };
    } catch (error) {
      return outcomeOf(lost(stage, error), bodyStarted);
    }
  }

  /** Ends the conversation as is polite (RFC 5321, 4.1.1.10), without keeping anybody waiting. */
  quit(): void {
    if (this.ended) return;
    this.send(['QUIT'], QUIT_MS)[0]
      .catch(() => undefined)
      .finally(() => this.destroy());
  }

  destroy(): void {
    this.end(new Error('The connection was closed.'));
  }

  private async hello(): Promise<void> {
    const reply = await this.ask(`EHLO ${ownName()}`, 'connect');
    if (!isPositive(reply)) throw refusal('connect', reply);
    const extensions = new Map<string, string>();
    for (const line of reply.lines.slice(1)) {
      // Older servers write AUTH=PLAIN, some beside the line that is right.
      const [, name = '', parameters = ''] = /^([a-z\d-]+)[\s=]*(.*)$/i.exec(line) ?? [];
      const keyword = name.toUpperCase();
      extensions.set(keyword, `${extensions.get(keyword) ?? ''} ${parameters}`.trim());
    }
    this.extensions = extensions;
  }

  /** RFC 3207; what came in clear behind the agreement was put there by somebody else. */
  private async startTls(server: Server): Promise<void> {
    const reply = await this.ask('STARTTLS', 'connect');
    if (reply.code !== 220) throw refusal('connect', reply);
    if (this.reader.isAmidReply) throw new Error('The server said something in clear where TLS was to begin.');
    const plain = this.socket.removeAllListeners().on('error', () => undefined);
    plain.setTimeout(0);
    const secured = this.reply(SOCKET_TIMEOUT_MS);
    this.socket = connectTls({ socket: plain, host: server.host, ...nameOf(server), ...tlsOptions(server) });
    this.attach(this.socket);
    this.socket.once('secureConnect', () => this.answered(reply));
    await secured;
    await this.hello();
  }

  private attach(socket: Socket): void {
    socket.setNoDelay(true);
    // Counts while nothing moves in either direction: a body that the server does not take stops here.
    socket.setTimeout(FINAL_ANSWER_MS, () => this.end(new Error(TIMED_OUT)));
    socket.on('data', (bytes) => this.heard(bytes));
    socket.on('error', (error) => this.end(error));
    socket.on('close', () => this.end(new Error('The connection was closed without an answer.')));
    socket.on('end', () => this.end(new Error('The server ended the conversation.')));
  }

  private heard(bytes: Buffer): void {
    try {
      for (const reply of this.reader.read(bytes)) this.answered(reply);
    } catch (error) {
      this.end(error as Error);
    }
  }

  private answered(reply: Reply): void {
    const waiting = this.waiting.shift();
    // Nobody asked: the server takes its leave, or is out of step, and no later answer could be trusted.
    if (!waiting) return this.end(new Error(replyText(reply)));
    this.watch();
    waiting.resolve(reply);
  }

  /** Writes lines at once. @returns the answer to each */
  private send(lines: readonly string[], ms = ANSWER_MS): [Promise<Reply>, ...Promise<Reply>[]] {
    const replies = lines.map(() => this.reply(ms));
    if (!this.ended) this.socket.write(`${lines.join('\r\n')}\r\n`);
    return replies as [Promise<Reply>, ...Promise<Reply>[]];
  }

  /** Answers to lines, one after another; the lines go out together where the server takes that, else each when it is asked for. */
  private askInTurn(lines: readonly string[]): Answers {
    const asked = this.extensions.has('PIPELINING') ? this.send(lines) : null;
    // Those behind one that failed are looked at no more.
    for (const reply of asked ?? []) reply.catch(() => undefined);
    let at = 0;
    return {
      next: () => {
        const line = lines[at++] ?? '';
        return asked?.[at - 1] ?? this.send([line])[0];
      },
      rest: () => asked?.slice(at) ?? [],
    };
  }

  /**
   * Nothing of the message leaves. Where the server has been asked for the body already and wants it, it gets none: with
   * nobody to send it to, it refuses that (RFC 2920, 3.1). Only a server that is in step is worth waiting for, and not long.
   */
  private async withdraw(answers: Answers, failure: SmtpFailure): Promise<SendOutcome> {
    try {
      for (const waiting of this.waiting) waiting.ms = SOCKET_TIMEOUT_MS;
      this.watch();
      const last = failure.code === null ? undefined : (await Promise.all(answers.rest())).at(-1);
      if (last?.code === 354) await this.send(['.'], SOCKET_TIMEOUT_MS)[0];
    } catch {
      // What was refused is said; the connection has ended, and tells so by itself.
    }
    return outcomeOf(failure);
  }

  /** The message with its final dot. @returns the answer */
  private body(message: Buffer): Promise<Reply> {
    const answer = this.reply(FINAL_ANSWER_MS + message.length / SLOWEST_BYTES_PER_MS);
    this.socket.write(withFinalDot(message));
    return answer;
  }

  /** The next answer that belongs to nobody yet. @param ms how long it may take from when it is the next one */
  private reply(ms: number): Promise<Reply> {
    return new Promise((resolve, reject) => {
      if (this.ended) return reject(this.ended);
      this.waiting.push({ resolve, reject, ms });
      if (this.waiting.length === 1) this.watch();
    });
  }

  /** From now on the next answer may take its time. */
  private watch(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    const [next] = this.waiting;
    if (next && !this.ended) this.timer = setTimeout(() => this.end(new Error(TIMED_OUT)), next.ms);
  }

  private end(error: Error): void {
    if (this.ended) return;
    this.ended = error;
    this.watch();
    this.socket.destroy();
    // Errors that come after the end concern nobody.
    this.socket.on('error', () => undefined);
    for (const waiting of this.waiting.splice(0)) waiting.reject(error);
    this.onEnd();
  }
}

interface Answers {
  next(): Promise<Reply>;
  /** Those that have been asked for and not been looked at. */
  rest(): Promise<Reply>[];
}

const TIMED_OUT = 'The server timed out: it did not answer.';

const isPositive = ({ code }: Reply): boolean => code >= 200 && code < 300;

/** What a server said instead of what was expected. Success where there can be none yet is no answer to the question. */
export const refusal = (stage: Stage, reply: Reply): SmtpFailure =>
  new SmtpFailure(stage, reply.code < 400 ? null : reply.code, replyText(reply));

const lost = (stage: Stage, error: unknown): SmtpFailure =>
  error instanceof SmtpFailure ? error : new SmtpFailure(stage, null, (error as Error).message);

export const outcomeOf = ({ stage, code, message }: SmtpFailure, bodyStarted = false): SendOutcome => ({
  ...{ code, answer: oneLine(message), stage, bodyStarted },
});

/** SMTPUTF8 where an address needs it (RFC 6531, 3.4). */
const mailFrom = ({ from, to }: Envelope): string =>
  `MAIL FROM:<${from}>${[from, ...to].some(needsUtf8) ? ' SMTPUTF8' : ''}`;

const DOT = 0x2e;

/** A message as it goes out: a dot at the head of a line is doubled, and one alone ends it (RFC 5321, 4.5.2). */
export function withFinalDot(message: Buffer): Buffer {
  const end = message.length === 0 || message.subarray(-2).equals(Buffer.from('\r\n')) ? '.\r\n' : '\r\n.\r\n';
  const hasDots = message[0] === DOT || message.includes('\n.');
  const body = hasDots ? Buffer.from(message.toString('latin1').replace(/(^|\n)\./g, '$1..'), 'latin1') : message;
  return Buffer.concat([body, Buffer.from(end)]);
}

/** Its own name where that is one that others may know, else its address (RFC 5321, 4.1.4). */
const ownName = (): string => (/^[\w-]+(?:\.[\w-]+)+$/.test(hostname()) ? hostname() : '[127.0.0.1]');

/** An address is no name to be asked for (RFC 6066, 3). */
const nameOf = ({ host }: Server): { servername?: string } => (isIP(host) ? {} : { servername: host });

const tlsOptions = (server: Server) => tlsOf(server).tls ?? {};

/** What a server said, on one line and as it can be stored. */
export const oneLine = (text: string) =>
  text
    .slice(0, 2000)
    .replace(/[\s\p{Cc}]+/gu, ' ')
    .replace(/\p{Surrogate}/gu, '\ufffd')
    .trim()
    .slice(0, 500);
