import { DomainError } from '@baton/core';
import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import { checkList } from './check-list';
import { mailsIn } from './mail-files';
import { planFile } from './plan-file';
import { readMail } from './read-mail';
import { systemClock } from '../time/system-clock';

/** `commands.mjs COMMAND FILE…`: tools that take and give open formats, without a database. */
const [command, ...rest] = process.argv.slice(2);

function stop(words: string): never {
  console.error(words);
  process.exit(1);
}

async function bytesOf(path: string): Promise<Buffer> {
  try {
    return await readFile(path);
  } catch {
    return stop(`There is no file ${path} that can be read.`);
  }
}

async function checkLists(files: readonly string[]): Promise<void> {
  if (files.length === 0) stop('Expected: baton check-list FILE');
  for (const path of files) {
    const lines = checkList(basename(path), await bytesOf(path));
    for (const line of lines) console.log(JSON.stringify(line));
    if ('error' in (lines[0] ?? {})) process.exitCode = 1;
  }
}

async function readMails(paths: readonly string[]): Promise<void> {
  if (paths.length === 0) stop('Expected: baton read-mail FILE…');
  for (const path of paths) {
    try {
      for await (const mail of mailsIn(path)) console.log(JSON.stringify(await readMail(mail, systemClock.now())));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).syscall === undefined) throw error;
      console.log(JSON.stringify({ file: path, error: `There is no file ${path} that can be read.` }));
      process.exitCode = 1;
    }
  }
}

async function plan(args: string[]): Promise<void> {
  const usage = 'Expected: baton plan FILE.json [--tier quick|full]';
  const { values, positionals } = parsePlanArgs(args) ?? stop(usage);
  const [file] = positionals;
  if (file === undefined || positionals.length > 1) stop(usage);
  if (values.tier !== 'quick' && values.tier !== 'full') stop(`There is no tier “${values.tier}”. ${usage}`);
  try {
    const result = planFile((await bytesOf(file)).toString('utf8'), values.tier);
    process.stdout.write(`${JSON.stringify(result)}\n`);
  } catch (error) {
    if (!(error instanceof DomainError)) throw error;
    stop(`${basename(file)}: ${error.message}`);
  }
}

function parsePlanArgs(args: string[]) {
  try {
    return parseArgs({ args, options: { tier: { type: 'string', default: 'full' } }, allowPositionals: true });
  } catch {
    return null;
  }
}

if (command === 'check-list') await checkLists(rest);
else if (command === 'plan') await plan(rest);
else if (command === 'read-mail') await readMails(rest);
else stop('Expected: baton check-list FILE, baton plan FILE.json, or baton read-mail FILE…');
