import { DomainError } from '@baton/core';
import type { Context } from 'koa';

/** Largest file that is read whole: workbooks, vCards, suppressions. */
export const MAX_WHOLE_BYTES = 32 * 1024 * 1024;
/** Largest file read piece by piece. */
const MAX_BYTES = 2 * 1024 * 1024 * 1024;
const PIECE_BYTES = 1024 * 1024;

/** The name under which a file was sent. */
export function uploadName(ctx: Context): string {
  const header = ctx.get('x-file-name');
  try {
    return decodeURIComponent(header) || 'pasted rows';
  } catch {
    return header;
  }
}

const mb = (bytes: number): string => (bytes / 1024 / 1024).toLocaleString('en', { maximumFractionDigits: 0 });

export const tooLargeWhole = (bytes: number): DomainError =>
  new DomainError(
    'too_large',
    `The file has ${mb(bytes)} MB or more; workbooks, contact cards and JSON can have up to ${mb(MAX_WHOLE_BYTES)} MB. Save it as CSV, or split it; nothing has been imported.`,
  );

const tooLarge = (bytes: number): DomainError =>
  new DomainError(
    'too_large',
    `The file has ${mb(bytes)} MB or more; Baton imports up to ${mb(MAX_BYTES)} MB at once. Split it; nothing has been imported.`,
  );

/**
 * A file as it is sent, in pieces of about a megabyte.
 *
 * @throws DomainError `too_large` as soon as the limit is passed, without reading the rest
 */
export async function* readPiecesOf(ctx: Context): AsyncGenerator<Buffer> {
  const announced = Number(ctx.get('content-length') || 0);
  if (announced > MAX_BYTES) {
    ctx.req.resume();
    throw tooLarge(announced);
  }
  let chunks: Buffer[] = [];
  let [held, size] = [0, 0];
  for await (const chunk of ctx.req as AsyncIterable<Buffer>) {
    held += chunk.length;
    size += chunk.length;
    if (size > MAX_BYTES) throw tooLarge(size);
    chunks.push(chunk);
    if (held >= PIECE_BYTES) {
      yield Buffer.concat(chunks);
      [chunks, held] = [[], 0];
    }
  }
  if (held > 0) yield Buffer.concat(chunks);
}

/** A file that is read whole. @throws DomainError `too_large` as soon as the limit is passed */
export async function readUpload(ctx: Context): Promise<Buffer> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const piece of readPiecesOf(ctx)) {
    size += piece.length;
    if (size > MAX_WHOLE_BYTES) throw tooLargeWhole(size);
    chunks.push(piece);
  }
  return Buffer.concat(chunks);
}
