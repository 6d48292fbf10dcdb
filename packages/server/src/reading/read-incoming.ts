import { DomainError, EMPTY_MESSAGE } from '@baton/core';
import { BoundedReader, Choked, READING_LIMITS } from '../bounded/bounded-reader';
import { NO_PARTS } from './mail-parts';
import type { MailHead, ParsedMail } from './parse-mail';

/** A message that came in, and whether only its head could be read. */
export interface ReadMail extends ParsedMail {
  isHeadOnly: boolean;
}

/** Messages are read in a thread of their own: one that is made to take long stops no file that somebody brings. */
const reader = new BoundedReader({ ...READING_LIMITS, timeMs: 30_000 });

/** Of a message that cannot be read whole, what is read instead. */
const HEAD_BYTES = 64 * 1024;

const NOTHING: ParsedMail = { ...EMPTY_MESSAGE, messageId: '', parts: NO_PARTS };

/**
 * Reads a message whatever is in it. One that takes too much, or that no parser takes, is known by its head; where that
 * does not read either, by nothing.
 */
export async function readIncoming(raw: Uint8Array): Promise<ReadMail> {
  const whole = await unlessItsOwnFault(reader.read('mail', raw));
  if (whole) return { ...whole, isHeadOnly: false };
  const head = await unlessItsOwnFault(reader.read('mail', headOf(raw)));
  return { ...(head ?? NOTHING), isHeadOnly: true };
}

const NO_HEAD: MailHead = {
  ...{ messageId: '', from: '', recipients: 1, to: [], subject: '', replyTo: '', references: [] },
};

/** Reads who wrote a message to how many; of one that does not read, that it went to somebody. */
export async function readSentHead(raw: Uint8Array): Promise<MailHead> {
  return (await unlessItsOwnFault(reader.read('head', headOf(raw)))) ?? NO_HEAD;
}

/** @returns null where what was read is to blame; a thread that does not start blames no message */
async function unlessItsOwnFault<T>(reading: Promise<T>): Promise<T | null> {
  try {
    return await reading;
  } catch (error) {
    if (error instanceof DomainError || error instanceof Choked) return null;
    throw error;
  }
}

/** The header fields of a message (RFC 5322, 2.1), as many as are read. */
function headOf(raw: Uint8Array): Uint8Array {
  const head = Buffer.from(raw.subarray(0, HEAD_BYTES));
  const end = /\r?\n\r?\n/.exec(head.toString('latin1'))?.index;
  return end === undefined ? head : head.subarray(0, end + 2);
}
