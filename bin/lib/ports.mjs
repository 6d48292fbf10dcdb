import { randomInt } from 'node:crypto';
import { mkdirSync, readFileSync, statSync, utimesSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { STATE } from './paths.mjs';
import { UserError } from './say.mjs';

const TRIES = 500;
const FROM = 10_000;
const TO = 32_000;
/** A port that was given out is its taker's alone for so long, whether it listens by then or not. */
const CLAIM_MS = 3_600_000;

/**
 * A port of loopback that is free now and has lately been given to nobody else, in this process or another:
 * programs are told their ports before they begin to listen.
 *
 * @returns {Promise<number>}
 */
export async function freePort() {
  const below = Math.min(TO, firstOutgoing());
  for (let i = 0; i < TRIES; i++) {
    const port = randomInt(FROM, below);
    if (claim(port) && (await isFree(port))) return port;
  }
  throw new Error('There is no free port.');
}

/** Whether the port was nobody's, and is the caller's now. */
function claim(port) {
  const dir = join(STATE, 'ports');
  mkdirSync(dir, { recursive: true });
  const file = join(dir, String(port));
  try {
    writeFileSync(file, '', { flag: 'wx' });
    return true;
  } catch (error) {
    if (error.code !== 'EEXIST') throw error;
    const now = Date.now();
    if (now - statSync(file).mtimeMs < CLAIM_MS) return false;
    utimesSync(file, now / 1000, now / 1000);
    return true;
  }
}

/** The lowest port that connections going out are given: one of those could take a port before it is used. */
function firstOutgoing() {
  try {
    const first = Number(readFileSync('/proc/sys/net/ipv4/ip_local_port_range', 'utf8').split(/\s/)[0]);
    return first > FROM + TRIES ? first : TO;
  } catch {
    return TO;
  }
}

/** Stops with a sentence when a port is taken. */
export async function requireFree(port, purpose, variable) {
  if (!(await isFree(port)))
    throw new UserError(
      `Port ${port}, which Baton needs for ${purpose}, is taken by another program. Stop that program, or choose another port:  ${variable}=${port + 1} npm run demo`,
    );
}

/** @param {number} port */
function isFree(port) {
  return new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });
}
