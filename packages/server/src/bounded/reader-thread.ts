import { parentPort } from 'node:worker_threads';
import { DomainError } from '@baton/core';
import { READERS, type Readers } from './readers';

/** What the thread is asked: one reading at a time. */
export interface ReadingAsked {
  reader: keyof Readers;
  input: unknown[];
}

export type ReadingAnswer = { read: unknown } | { code: DomainError['code']; message: string } | { failed: unknown };

parentPort?.on(
  'message',
  (asked: ReadingAsked) => void answerTo(asked).then((answer) => parentPort?.postMessage(answer)),
);

async function answerTo({ reader, input }: ReadingAsked): Promise<ReadingAnswer> {
  try {
    return { read: await (READERS[reader] as (...input: unknown[]) => unknown)(...input) };
  } catch (error) {
    return error instanceof DomainError ? { code: error.code, message: error.message } : { failed: error };
  }
}
