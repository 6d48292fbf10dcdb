import { spawnSync } from 'node:child_process';
import { closeSync, openSync, rmSync, writeSync } from 'node:fs';
import { join } from 'node:path';

/** Room for a database through an hour; it is in memory, and takes what is written. */
const SIZE = '1g';
const PIECE_BYTES = 4 * 1024 * 1024;
const SMALLEST_BYTES = 4096;

/** A disk that is a folder's alone and can be filled up without harm to anybody else. */
export class OwnDisk {
  isFull = false;

  private constructor(private readonly dir: string) {}

  /** @returns null where this process may not have one */
  static at(dir: string): OwnDisk | null {
    const mounted = spawnSync('mount', ['-t', 'tmpfs', '-o', `size=${SIZE},mode=755`, 'tmpfs', dir]).status === 0;
    return mounted ? new OwnDisk(dir) : null;
  }

  /** Leaves no room, to the last page. */
  fill(): void {
    this.isFull = true;
    const file = openSync(this.filler, 'a');
    for (let bytes = PIECE_BYTES; bytes >= SMALLEST_BYTES;) {
      try {
        writeSync(file, Buffer.alloc(bytes));
      } catch (error) {
        if ((error as NodeJS.ErrnoException).code !== 'ENOSPC') throw error;
        bytes /= 2;
      }
    }
    closeSync(file);
  }

  free(): void {
    rmSync(this.filler, { force: true });
    this.isFull = false;
  }

  leave(): void {
    spawnSync('umount', ['--lazy', this.dir]);
  }

  private get filler(): string {
    return join(this.dir, 'filler');
  }
}
