import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { STATE } from './paths.mjs';
import { UserError } from './say.mjs';

/** Makes sure that only one Baton of a kind runs in this folder. @returns what gives the place free again */
export function claimInstance(kind, address) {
  mkdirSync(STATE, { recursive: true });
  const path = join(STATE, `${kind}.pid`);
  if (existsSync(path)) {
    const [pid, where] = readFileSync(path, 'utf8').split('\n');
    if (isAlive(Number(pid)))
      throw new UserError(
        `Baton is running here already (process ${pid}): ${where}\nStop that one first, with Ctrl+C in its terminal.`,
      );
  }
  writeFileSync(path, `${process.pid}\n${address}`);
  return () => rmSync(path, { force: true });
}

function isAlive(pid) {
  try {
    process.kill(pid, 0);
    // Numbers come round again: only a Node.js process can be ours.
    return !existsSync(`/proc/${pid}/cmdline`) || readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('baton');
  } catch {
    return false;
  }
}
