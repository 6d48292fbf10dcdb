import { statfs } from 'node:fs/promises';
import { dirname } from 'node:path';
import type { Need } from '@baton/contract';

/** With less than this a few days of mail, or one import, fill the disk. */
const LITTLE_BYTES = 500 * 1024 * 1024;
const MB = 1024 * 1024;

/** Bytes that are free to users where a folder is. */
async function freeBytes(folder: string): Promise<number> {
  const { bavail, bsize } = await statfs(folder);
  return bavail * bsize;
}

/**
 * Says that the disk is about to be full: with a full one nothing can be written down, and so nothing is sent, without anybody
 * being told.
 *
 * @param keyFile lies where Baton keeps its data; '' keeps none
 */
export async function diskNeed(
  keyFile: string,
  free: (folder: string) => Promise<number> = freeBytes,
): Promise<Need[]> {
  if (keyFile === '') return [];
  // Where that cannot be told there is nothing to say.
  const bytes = await free(dirname(keyFile)).catch(() => Infinity);
  if (bytes >= LITTLE_BYTES) return [];
  return [
    {
      key: 'disk',
      kind: 'problem',
      title: `${Math.floor(bytes / MB)} MB are left on the disk where Baton keeps its data`,
      detail:
        'Once it is full, nothing is sent, read or kept until there is space again. Nothing that is there is lost.',
      action: '',
      link: '',
    },
  ];
}
