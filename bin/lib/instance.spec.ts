import { spawn } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, describe, expect, it } from 'vitest';
import { claimInstance } from './instance.mjs';
import { STATE } from './paths.mjs';

const kind = `spec-${process.pid}`;
let release: () => void = () => undefined;
afterEach(() => release());

describe('claimInstance', () => {
  it('says where another one runs, and takes the place of one that is gone', async () => {
    const other = spawn(process.execPath, ['-e', 'setTimeout(() => undefined, 60_000)', 'baton'], { stdio: 'ignore' });
    mkdirSync(STATE, { recursive: true });
    writeFileSync(join(STATE, `${kind}.pid`), `${other.pid}\nhttp://127.0.0.1:1`);
    expect(() => claimInstance(kind, 'http://127.0.0.1:2')).toThrow(
      `Baton is running here already (process ${other.pid}): http://127.0.0.1:1`,
    );
    other.kill();
    await new Promise((resolve) => other.once('exit', resolve));
    release = claimInstance(kind, 'http://127.0.0.1:2');
    expect(readFileSync(join(STATE, `${kind}.pid`), 'utf8')).toBe(`${process.pid}\nhttp://127.0.0.1:2`);
  });
});
