import { randomBytes } from 'node:crypto';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';

/** Reads the 32-byte key, making the file (readable by its owner only) the first time. */
export async function readKeyFile(path: string): Promise<Buffer> {
  await mkdir(dirname(path), { recursive: true });
  try {
    // `wx`: of two processes that start at once, one makes the key and both read it.
    await writeFile(path, randomBytes(32), { mode: 0o600, flag: 'wx' });
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  }
  return readFile(path);
}
