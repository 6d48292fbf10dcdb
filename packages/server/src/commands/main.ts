import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { checkList } from './check-list';

/** `commands.mjs check-list FILE…`: tools that take and give open formats, without a database. */
const [command, ...files] = process.argv.slice(2);

async function bytesOf(path: string): Promise<Uint8Array> {
  try {
    return await readFile(path);
  } catch {
    console.error(`There is no file ${path} that can be read.`);
    process.exit(1);
  }
}

if (command !== 'check-list' || files.length === 0) {
  console.error('Expected: baton check-list FILE');
  process.exit(1);
}
for (const path of files) {
  const lines = checkList(basename(path), await bytesOf(path));
  for (const line of lines) console.log(JSON.stringify(line));
  if ('error' in (lines[0] ?? {})) process.exitCode = 1;
}
