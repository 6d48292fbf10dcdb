import { DomainError } from '@baton/core';
import type { Context } from 'koa';

/** Largest file taken in one piece. */
export const MAX_IMPORT_BYTES = 32 * 1024 * 1024;

/** The name under which a file was sent. */
export function uploadName(ctx: Context): string {
  const header = ctx.get('x-file-name');
  try {
    return decodeURIComponent(header) || 'pasted rows';
  } catch {
    return header;
  }
}

/** @throws DomainError `too_large` as soon as the limit is passed, without reading the rest */
export async function readUpload(ctx: Context): Promise<Buffer> {
  const tooLarge = (bytes: number) =>
    new DomainError(
      'too_large',
      `The file has ${Math.ceil(bytes / 1024 / 1024)} MB or more; Baton takes up to ${MAX_IMPORT_BYTES / 1024 / 1024} MB at once. Split it, or take out columns nobody needs; nothing has been taken.`,
    );
  const announced = Number(ctx.get('content-length') || 0);
  if (announced > MAX_IMPORT_BYTES) {
    ctx.req.resume();
    throw tooLarge(announced);
  }
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of ctx.req) {
    size += (chunk as Buffer).length;
    if (size > MAX_IMPORT_BYTES) throw tooLarge(size);
    chunks.push(chunk as Buffer);
  }
  return Buffer.concat(chunks);
}
