import { fork } from 'node:child_process';
import { LogFile } from './log-file.mjs';
import { say } from './say.mjs';

/** Pauses before a process that has ended is started again: the first, and the longest. */
const AGAIN_MS = 1000;
const AGAIN_MOST_MS = 60_000;
/** One that has run for so long had no trouble in starting. */
const STEADY_MS = 5 * 60_000;

/** Processes of ours that run together and end together. */
export class Processes {
  /** @type {import('node:child_process').ChildProcess[]} */
  children = [];
  stopping = false;
  /** @type {NodeJS.Timeout[]} */
  timers = [];

  /**
   * Starts a Node.js program that says `{ ready: true }` over IPC when it is up.
   *
   * @param {string} title for messages
   * @param {string} main path of the program
   * @param {string[]} args
   * @param {NodeJS.ProcessEnv} env
   * @param {(code: number | null) => void} onLost called when it ends by itself
   */
  start(title, main, args, env, onLost) {
    const child = fork(main, args, { env: { ...process.env, ...env }, stdio: ['ignore', 'pipe', 'pipe', 'ipc'] });
    this.children.push(child);
    const log = new LogFile(title);
    child.stdout.on('data', (words) => {
      log.write(words);
      if (process.env.BATON_LOG === 'terminal') process.stdout.write(words);
    });
    child.stderr.on('data', (words) => {
      log.write(words);
      process.stderr.write(words);
    });
    return new Promise((resolve, reject) => {
      child.once('message', () => resolve(child));
      child.once('close', () => log.end());
      child.once('exit', (code) => {
        this.children = this.children.filter((other) => other !== child);
        reject(new Error(`${title} ended with code ${code}`));
        if (!this.stopping) onLost(code);
      });
    });
  }

  /**
   * Like {@link start}; one that ends by itself later on is started again, after pauses that grow.
   *
   * @param {string} title
   * @param {string} main
   * @param {string[]} args
   * @param {NodeJS.ProcessEnv} env
   * @param {{ againMs?: number }} [pauses] for tests
   */
  async keep(title, main, args, env, { againMs = AGAIN_MS } = {}) {
    let failures = 0;
    let hasRun = false;
    const begin = async () => {
      const from = Date.now();
      const child = await this.start(title, main, args, env, (code) => {
        if (!hasRun) return;
        failures = Date.now() - from > STEADY_MS ? 1 : failures + 1;
        const pause = Math.min(AGAIN_MOST_MS, againMs * 2 ** (failures - 1));
        say(`${title} ended (${code ?? 'killed'}) and is started again; what it said is in .baton/logs.`);
        // A start that fails tells of it in the same way.
        const timer = setTimeout(() => void (this.stopping || begin().catch(() => undefined)), pause);
        this.timers.push(timer);
      });
      hasRun = true;
      return child;
    };
    return begin();
  }

  /** Runs a program to its end. */
  run(title, main, args, env) {
    const child = fork(main, args, { env: { ...process.env, ...env }, stdio: ['ignore', 'inherit', 'inherit', 'ipc'] });
    this.children.push(child);
    return new Promise((resolve, reject) => {
      child.once('exit', (code) =>
        code === 0 ? resolve(undefined) : reject(new Error(`${title} ended with code ${code}`)),
      );
    });
  }

  /** Asks all to end, the last started first, and waits; one that does not within ten seconds is killed. */
  async stop() {
    this.stopping = true;
    for (const timer of this.timers) clearTimeout(timer);
    for (const child of [...this.children].reverse()) {
      if (child.exitCode !== null || child.signalCode !== null) continue;
      const ended = new Promise((resolve) => child.once('exit', resolve));
      child.kill('SIGTERM');
      const timer = setTimeout(() => child.kill('SIGKILL'), 10_000);
      await ended;
      clearTimeout(timer);
    }
  }
}
