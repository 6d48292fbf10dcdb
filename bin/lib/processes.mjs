import { fork } from 'node:child_process';

/** Processes of ours that run together and end together. */
export class Processes {
  /** @type {import('node:child_process').ChildProcess[]} */
  children = [];
  stopping = false;

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
    const child = fork(main, args, { env: { ...process.env, ...env }, stdio: ['ignore', 'ignore', 'inherit', 'ipc'] });
    this.children.push(child);
    return new Promise((resolve, reject) => {
      child.once('message', () => resolve(child));
      child.once('exit', (code) => {
        reject(new Error(`${title} ended with code ${code}`));
        if (!this.stopping) onLost(code);
      });
    });
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
