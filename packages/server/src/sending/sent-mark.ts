import { readFileSync, renameSync, writeFileSync } from 'node:fs';

/** Workspaces whose marks are kept; of more, those that were noted last. */
const MOST = 20;

/** A mark is written at most this often. */
const EVERY_MS = 1000;

/**
 * How far this machine has sent, by workspace: the highest number of a try. Kept beside the key and not in the database, so
 * that a database from a backup is known to be one. The last second of it may be lost with the machine: whatever is later
 * than the backup tells as much.
 */
export class SentMark {
  private readonly noted = new Map<string, number>();
  private timer: NodeJS.Timeout | null = null;

  /** @param path null keeps it in memory only */
  constructor(private readonly path: string | null) {}

  /** The highest number that is known; 0 for none. */
  read(workspace: string): number {
    return Math.max(this.noted.get(workspace) ?? 0, this.kept()[workspace] ?? 0);
  }

  note(workspace: string, attemptId: number): void {
    if (attemptId <= (this.noted.get(workspace) ?? 0)) return;
    this.noted.set(workspace, attemptId);
    if (this.path !== null) this.timer ??= setTimeout(() => this.write(), EVERY_MS).unref();
  }

  /** Writes what has been noted since. */
  close(): void {
    if (this.timer) this.write();
  }

  private write(): void {
    if (this.timer) clearTimeout(this.timer);
    this.timer = null;
    if (this.path === null) return;
    const kept = this.kept();
    for (const [workspace, id] of this.noted) {
      const highest = Math.max(id, kept[workspace] ?? 0);
      // The last ones stand last.
      delete kept[workspace];
      kept[workspace] = highest;
    }
    const last = Object.fromEntries(Object.entries(kept).slice(-MOST));
    try {
      // Written whole under another name: nobody ever reads half of it.
      writeFileSync(`${this.path}.${process.pid}`, JSON.stringify(last), { mode: 0o600 });
      renameSync(`${this.path}.${process.pid}`, this.path);
    } catch {
      // A full disk keeps nobody from sending; the Sent folders tell as well.
    }
  }

  /** What is in the file; nothing where it cannot be read. */
  private kept(): Record<string, number> {
    try {
      const kept = JSON.parse(readFileSync(this.path ?? '', 'utf8')) as unknown;
      if (typeof kept !== 'object' || kept === null) return {};
      return Object.fromEntries(Object.entries(kept).filter((e): e is [string, number] => Number.isInteger(e[1])));
    } catch {
      return {};
    }
  }
}
