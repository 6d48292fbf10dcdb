import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { LogFile } from './log-file.mjs';
import { startCluster } from './postgres.mjs';
import { preparePostgres } from './prepare.mjs';
import { Processes } from './processes.mjs';

let dir: string;
beforeEach(() => {
  dir = mkdtempSync(join(tmpdir(), 'baton-processes-'));
});
afterEach(() => rmSync(dir, { recursive: true, force: true }));

const patiently = { timeout: 60_000, interval: 50 };

it('brings back a process that was killed, and no other once all are stopped', async () => {
  const pids = join(dir, 'pids');
  const program = join(dir, 'program.mjs');
  writeFileSync(
    program,
    `import { appendFileSync } from 'node:fs';
    appendFileSync(${JSON.stringify(pids)}, process.pid + '\\n');
    process.send({ ready: true });
    process.on('SIGTERM', () => process.exit(0));
    setInterval(() => undefined, 1000);`,
  );
  const started = () => readFileSync(pids, 'utf8').trim().split('\n').map(Number);
  const processes = new Processes();
  await processes.keep('The program of a test', program, [], {}, { againMs: 10 });
  for (let times = 1; times < 4; times++) {
    await vi.waitFor(() => expect(started()).toHaveLength(times), patiently);
    process.kill(started()[times - 1] as number, 'SIGKILL');
  }
  await vi.waitFor(() => expect(started()).toHaveLength(4), patiently);
  await processes.stop();
  expect(() => process.kill(started()[3] as number, 0)).toThrow();
  expect(started()).toHaveLength(4);
}, 60_000);

it('ends with the reason where a process cannot be started at all', async () => {
  const program = join(dir, 'broken.mjs');
  writeFileSync(program, 'process.exit(3);');
  await expect(new Processes().keep('The broken one', program, [], {})).rejects.toThrow('ended with code 3');
}, 60_000);

it('keeps what was said in a file that does not grow for ever', async () => {
  const log = new LogFile('The server', dir);
  const line = Buffer.alloc(1024 * 1024, 'x');
  for (let i = 0; i < 12; i++) log.write(line);
  log.end();
  await vi.waitFor(() => {
    const sizes = ['server.log', 'server.log.1', 'server.log.2'].map((name) => readFileSync(join(dir, name)).length);
    expect(sizes.reduce((a, b) => a + b, 0)).toBe(12 * line.length);
    expect(Math.max(...sizes)).toBeLessThanOrEqual(5 * line.length);
  }, patiently);
}, 60_000);

it('loses words while there is no room for them, and goes on with those behind', () => {
  const full = join(dir, 'full');
  const log = new LogFile('The server', full);
  log.write(Buffer.alloc(5 * 1024 * 1024, 'x'));
  // Nothing can be written where there is no folder any more.
  rmSync(full, { recursive: true });
  writeFileSync(full, '');
  log.write(Buffer.from('lost'));
  log.write(Buffer.from('lost'));
  rmSync(full);
  mkdirSync(full);
  log.write(Buffer.from('kept'));
  log.end();
  expect(readFileSync(join(full, 'server.log'), 'utf8')).toBe('kept');
});

it('starts PostgreSQL again where it was, after it was killed', async () => {
  const cluster = await startCluster({ bin: preparePostgres() as string, dir: join(dir, 'cluster'), fast: true });
  try {
    cluster.createDatabase('kept');
    expect(cluster.isRunning()).toBe(true);
    const { data } = cluster;
    process.kill(Number(readFileSync(join(data, 'postmaster.pid'), 'utf8').split('\n')[0]), 'SIGKILL');
    await vi.waitFor(() => expect(cluster.isRunning()).toBe(false), patiently);
    // What it had started ends a little later, and holds the place until then.
    await vi.waitFor(() => cluster.startAgain(), patiently);
    expect(cluster.isRunning()).toBe(true);
    cluster.createDatabase('kept');
  } finally {
    await cluster.stop();
    rmSync(join(cluster.data, '..'), { recursive: true, force: true });
  }
}, 120_000);
