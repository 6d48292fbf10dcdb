import { parentPort } from 'node:worker_threads';
import { DomainError, readPeopleFile, type PeopleFile, type ReadingChoices } from '@baton/core';

/** What the thread is asked: one file at a time. */
export interface ReadingAsked {
  bytes: Uint8Array;
  choices: ReadingChoices;
}

export type ReadingAnswer = { file: PeopleFile } | { code: DomainError['code']; message: string };

/** Reads files of people apart from the server, which goes on whatever is in them. */
parentPort?.on('message', ({ bytes, choices }: ReadingAsked) => parentPort?.postMessage(answerTo(bytes, choices)));

function answerTo(bytes: Uint8Array, choices: ReadingChoices): ReadingAnswer {
  try {
    return { file: readPeopleFile(bytes, choices) };
  } catch (error) {
    if (!(error instanceof DomainError)) throw error;
    return { code: error.code, message: error.message };
  }
}
