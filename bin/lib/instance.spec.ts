import { spawn } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { join } from 'node:path';
import { afterEach, describe, expect, it } from 'vitest';
import { claimInstance, requireFree } from './instance.mjs';
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

describe('requireFree', () => {
  it('says which port is taken, for what it is needed, and how to choose another', async () => {
    const server = createServer();
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const { port } = server.address() as AddressInfo;
    await expect(requireFree(port, 'its web page', 'BATON_PORT')).rejects.toThrow(
      `Port ${port}, which Baton needs for its web page, is taken by another program. Stop that program, or choose another port:  BATON_PORT=${port + 1} npm run demo`,
    );
    await new Promise((resolve) => server.close(resolve));
    await expect(requireFree(port, 'its web page', 'BATON_PORT')).resolves.toBeUndefined();
  });
});
