import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { DomainError } from '@baton/core';
import type { ReadingAnswer, ReadingAsked } from './reader-thread';
import { TOO_MUCH, type Readers } from './readers';

/** What one reading may cost. */
export interface ReadingLimits {
  /** Megabytes of memory of the thread that reads. */
  memoryMb: number;
  timeMs: number;
}

export const READING_LIMITS: ReadingLimits = { memoryMb: 280, timeMs: 90_000 };
/** A thread that has read nothing for so long is ended. */
const IDLE_MS = 30_000;

/** What a reader that threw no sentence threw: it choked on what it read. */
export class Choked extends Error {}

/** The built program of the thread: beside the server's, or where that is built when it runs from its sources. */
const PROGRAM = fileURLToPath(
  new URL(import.meta.url.endsWith('.ts') ? '../../dist/reader-thread.mjs' : './reader-thread.mjs', import.meta.url),
);

/**
 * Reads what comes from outside in a thread of its own, one after another: files that somebody brought, messages that
 * came in. What is in them can take the thread's memory and time, never the server's: past the limits the thread is
 * ended, and what was read gets a sentence.
 */
export class BoundedReader {
  private thread: Worker | null = null;
  private idle: NodeJS.Timeout | null = null;
  private last: Promise<unknown> = Promise.resolve();

  constructor(private readonly limits: ReadingLimits = READING_LIMITS) {}

  /**
   * @param input is copied to the thread, and what it gives is copied back
   * @throws DomainError as the reader does; `too_large` when it took too much memory or time; Choked when the reader
   *   threw anything else. What else is thrown is about the thread, not about what it read
   */
  read<R extends keyof Readers>(reader: R, ...input: Parameters<Readers[R]>): Promise<Awaited<ReturnType<Readers[R]>>> {
    const reading = this.last.then(() => this.readNow({ reader, input }));
    this.last = reading.catch(() => undefined);
    return reading as Promise<Awaited<ReturnType<Readers[R]>>>;
  }

  private async readNow(asked: ReadingAsked): Promise<unknown> {
    if (this.idle) clearTimeout(this.idle);
    const thread = (this.thread ??= this.start());
    thread.ref();
    try {
      const answer = await this.answerOf(thread, asked);
      if ('read' in answer) return answer.read;
      if ('failed' in answer) throw new Choked('it could not be read', { cause: answer.failed });
      throw new DomainError(answer.code, answer.message);
    } finally {
      thread.unref();
      this.idle = setTimeout(() => this.end(), IDLE_MS).unref();
    }
  }

  private start(): Worker {
    const thread = new Worker(PROGRAM, {
      resourceLimits: { maxOldGenerationSizeMb: this.limits.memoryMb, maxYoungGenerationSizeMb: 32 },
    });
    // Whoever waits for it hears of an error too; with nobody waiting it is over with the thread.
    thread.on('error', () => undefined);
    thread.on('exit', () => {
      if (this.thread === thread) this.thread = null;
    });
    return thread;
  }

  private answerOf(thread: Worker, asked: ReadingAsked): Promise<ReadingAnswer> {
    return new Promise<ReadingAnswer>((resolve, reject) => {
      const stop = () => {
        clearTimeout(timer);
        thread.off('message', answered).off('error', failed).off('exit', ended);
      };
      const answered = (answer: ReadingAnswer) => {
        stop();
        resolve(answer);
      };
      const failed = (error: NodeJS.ErrnoException) => {
        stop();
        this.end();
        reject(error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? tooMuch(asked, 'memory') : error);
      };
      const ended = () => failed(tooMuch(asked, 'memory'));
      const timer = setTimeout(() => failed(tooMuch(asked, 'time')), this.limits.timeMs);
      thread.on('message', answered).on('error', failed).on('exit', ended);
      thread.postMessage(asked);
    });
  }

  /** Ends the thread; the next file gets another. */
  private end(): void {
    const { thread } = this;
    this.thread = null;
    void thread?.terminate();
  }
}

const tooMuch = ({ reader }: ReadingAsked, what: 'memory' | 'time'): DomainError =>
  new DomainError('too_large', TOO_MUCH[reader](what));

/** The process's own. */
export const boundedReader = new BoundedReader();
