import { randomBytes } from 'node:crypto';
import { link, mkdir, readFile, rm, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';

/** Reads the 32-byte key, making the file (readable by its owner only) the first time. */
export async function readKeyFile(path: string): Promise<Buffer> {
  const known = await readKey(path);
  if (known) return known;
  await mkdir(dirname(path), { recursive: true });
  // Written whole under another name, then given the right one: of two processes that start at once, one gets to name
  // its key, and neither ever reads half of one.
  const made = `${path}.${randomBytes(6).toString('hex')}`;
  try {
    await writeFile(made, randomBytes(32), { mode: 0o600, flag: 'wx' });
    await link(made, path);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  } finally {
    await rm(made, { force: true });
  }
  return readFile(path);
}

async function readKey(path: string): Promise<Buffer | null> {
  try {
    return await readFile(path);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
    return null;
  }
}
