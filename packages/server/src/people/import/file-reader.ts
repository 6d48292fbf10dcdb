import { fileURLToPath } from 'node:url';
import { Worker } from 'node:worker_threads';
import { DomainError, type PeopleFile, type ReadingChoices } from '@baton/core';
import type { ReadingAnswer, ReadingAsked } from './reader-thread';

/** What reading a file may cost. */
export interface ReadingLimits {
  /** Megabytes of memory of the thread that reads. */
  memoryMb: number;
  timeMs: number;
}

export const READING_LIMITS: ReadingLimits = { memoryMb: 280, timeMs: 90_000 };
/** A thread that has read nothing for so long is ended. */
const IDLE_MS = 30_000;

/** The built program of the thread: beside the server's, or where that is built when it runs from its sources. */
const PROGRAM = fileURLToPath(
  new URL(import.meta.url.endsWith('.ts') ? '../../../dist/reader-thread.mjs' : './reader-thread.mjs', import.meta.url),
);

/**
 * Reads files that somebody brought in a thread of its own, one after another. What is in a file can take the thread's
 * memory and time, never the server's: past the limits the thread is ended, and the file gets a sentence.
 */
export class FileReader {
  private thread: Worker | null = null;
  private idle: NodeJS.Timeout | null = null;
  private last: Promise<unknown> = Promise.resolve();

  constructor(private readonly limits: ReadingLimits = READING_LIMITS) {}

  /** @throws DomainError as `readPeopleFile` of core; `too_large` when it took too much memory or time */
  read(bytes: Uint8Array, choices: ReadingChoices = {}): Promise<PeopleFile> {
    const reading = this.last.then(() => this.readNow(bytes, choices));
    this.last = reading.catch(() => undefined);
    return reading;
  }

  private async readNow(bytes: Uint8Array, choices: ReadingChoices): Promise<PeopleFile> {
    if (this.idle) clearTimeout(this.idle);
    const thread = (this.thread ??= this.start());
    thread.ref();
    try {
      const answer = await this.answerOf(thread, { bytes, choices });
      if ('file' in answer) return answer.file;
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
        reject(error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? tooMuch('memory') : error);
      };
      const ended = () => failed(tooMuch('memory'));
      const timer = setTimeout(() => failed(tooMuch('time')), this.limits.timeMs);
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

const tooMuch = (what: 'memory' | 'time'): DomainError =>
  new DomainError(
    'too_large',
    `Reading this file takes more ${what} than a list of people needs. Save it as CSV, which is read piece by piece; nothing has been imported.`,
  );

/** The server's own. */
export const fileReader = new FileReader();
