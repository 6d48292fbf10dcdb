import { closeSync, existsSync, fstatSync, mkdirSync, openSync, renameSync, rmSync, writeSync } from 'node:fs';
import { join } from 'node:path';
import { STATE } from './paths.mjs';

/** A log is begun anew from here on, and so many old ones are kept. */
const MOST_BYTES = 5 * 1024 * 1024;
const KEPT = 3;

/** What one process says, in a file under `.baton/logs` that does not grow for ever. */
export class LogFile {
  /** @param {string} title of the process, as messages have it */
  constructor(title, dir = join(STATE, 'logs')) {
    mkdirSync(dir, { recursive: true, mode: 0o700 });
    const name = title.toLowerCase().replace(/^the /, '').replace(/\W+/g, '-');
    this.path = join(dir, `${name}.log`);
    this.open();
  }

  open() {
    this.file = openSync(this.path, 'a', 0o600);
    this.size = fstatSync(this.file).size;
  }

  /** @param {Buffer} words */
  write(words) {
    try {
      if (this.file === null) this.open();
      if (this.size + words.length > MOST_BYTES) this.rotate();
      this.size += writeSync(this.file, words);
    } catch {
      // A full disk loses words and stops nothing.
    }
  }

  rotate() {
    this.end();
    rmSync(`${this.path}.${KEPT}`, { force: true });
    for (let n = KEPT - 1; n > 0; n--)
      if (existsSync(`${this.path}.${n}`)) renameSync(`${this.path}.${n}`, `${this.path}.${n + 1}`);
    renameSync(this.path, `${this.path}.1`);
    this.open();
  }

  end() {
    if (this.file !== null) closeSync(this.file);
    this.file = null;
  }
}
