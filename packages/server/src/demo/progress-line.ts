/** Where the line goes: a terminal, or a file that keeps what was written. */
export interface ProgressOutput {
  write(text: string): unknown;
  isTTY?: boolean;
}

const DAY = new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' });
const WIDTH = 24;
const LOGGED_EVERY = 0.25;

/**
 * How far the simulated weeks have come, on one line: rewritten in place on a terminal, one line for each quarter
 * elsewhere, where nothing can be rewritten.
 */
export class ProgressLine {
  private logged = 0;
  private finished = false;

  /** @param fromMs, toMs the span that is played, in simulated milliseconds since 1970 */
  constructor(
    private readonly out: ProgressOutput,
    private readonly fromMs: number,
    private readonly toMs: number,
  ) {}

  show(nowMs: number): void {
    if (this.finished) return;
    const done = Math.min(1, Math.max(0, (nowMs - this.fromMs) / (this.toMs - this.fromMs)));
    this.finished = done === 1;
    const bar = '█'.repeat(Math.floor(done * WIDTH)).padEnd(WIDTH, '░');
    const line = `  ${bar} ${`${Math.floor(done * 100)} %`.padStart(5)}  ${DAY.format(nowMs)}`;
    // The spaces cover what a longer line has left standing.
    if (this.out.isTTY === true) this.out.write(`\r${line}   ${done === 1 ? '\n' : ''}`);
    else if (done >= this.logged + LOGGED_EVERY) {
      this.logged = Math.floor(done / LOGGED_EVERY) * LOGGED_EVERY;
      this.out.write(`${line}\n`);
    }
  }
}
