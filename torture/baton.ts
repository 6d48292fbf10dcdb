import { spawn, type ChildProcess } from 'node:child_process';
import { createWriteStream, type WriteStream } from 'node:fs';
import { SERVER_MAIN } from '../bin/lib/build.mjs';

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Processes of Baton that are killed and started again. */
export class Tormented {
  private readonly children = new Map<string, ChildProcess>();
  private readonly log: WriteStream;
  private ending = false;
  kills = 0;

  constructor(
    private readonly env: NodeJS.ProcessEnv,
    logFile: string,
  ) {
    this.log = createWriteStream(logFile);
  }

  /** Runs one to its end. */
  async run(role: string): Promise<void> {
    const child = this.spawn(role);
    const code = await new Promise((resolve) => child.once('exit', resolve));
    if (code !== 0) throw new Error(`${role} ended with ${String(code)}`);
  }

  /** Starts one, and again whenever it is gone. @returns once it is ready for the first time */
  keep(name: string, role: 'serve' | 'work'): Promise<void> {
    return new Promise((resolve) => {
      const begin = () => {
        if (this.ending) return;
        const child = this.spawn(role);
        this.children.set(name, child);
        child.once('message', () => resolve());
        child.once('exit', () => void pause(150).then(begin));
      };
      begin();
    });
  }

  kill(name: string): void {
    if (this.children.get(name)?.kill('SIGKILL')) this.kills++;
  }

  /** Ends all as Ctrl+C does. */
  async stop(): Promise<void> {
    this.ending = true;
    await Promise.all(
      [...this.children.values()].map(async (child) => {
        if (child.exitCode !== null || child.signalCode !== null) return;
        const ended = new Promise((resolve) => child.once('exit', resolve));
        child.kill('SIGTERM');
        const timer = setTimeout(() => child.kill('SIGKILL'), 20_000);
        await ended;
        clearTimeout(timer);
      }),
    );
    this.log.end();
  }

  private spawn(role: string): ChildProcess {
    const child = spawn(process.execPath, [SERVER_MAIN, role], {
      env: { ...process.env, ...this.env },
      stdio: ['ignore', 'pipe', 'pipe', 'ipc'],
    });
    child.stdout?.pipe(this.log, { end: false });
    child.stderr?.pipe(this.log, { end: false });
    return child;
  }
}
