import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { build } from './build.mjs';
import { inRoot, ROOT, STATE } from './paths.mjs';
import { startCluster } from './postgres.mjs';
import { prepareChromium, preparePackages, preparePostgres } from './prepare.mjs';
import { say } from './say.mjs';
import { bundleTorture, tortureCommand } from './torture.mjs';

const bin = (name) => inRoot('node_modules/.bin', name);
const node = (script, ...args) => [process.execPath, inRoot('node_modules', script), ...args];

/** What is read without being run; done while the web is built, which leaves a processor idle. */
const READINGS = [
  { title: 'Lint', command: [bin('eslint'), '.', '--max-warnings=0'] },
  { title: 'Format', command: [bin('prettier'), '--check', '--log-level=warn', '.'] },
  { title: 'Unused code', command: [bin('knip')] },
  { title: 'Types', command: [bin('tsc'), '-p', 'tsconfig.json'] },
  { title: 'Purity of core', command: [bin('tsc'), '-p', 'packages/core/tsconfig.build.json'] },
];

/** What is run, in order; `counts` reads passed and failed from what a runner printed. */
const RUNS = [
  {
    title: 'Core, simulator, server',
    command: node('vitest/vitest.mjs', 'run', '--reporter=dot'),
    counts: countsOfVitest,
  },
  {
    title: 'Web',
    command: node('@angular/cli/bin/ng.js', 'test', '--watch=false'),
    cwd: inRoot('packages/web'),
    counts: countsOfVitest,
  },
  {
    title: 'End to end',
    command: [bin('playwright'), 'test', '-c', 'e2e/playwright.config.ts'],
    counts: countsOfPlaywright,
  },
];

/** Beside the first of them: it waits more than it computes. */
const TORTURE = {
  title: 'Torture',
  command: tortureCommand(['--seconds', '120']),
};

/** `npm test`: all that CI runs, on a machine where nothing was installed by hand. */
export async function test() {
  preparePackages();
  const postgres = preparePostgres();
  const chromium = prepareChromium();
  const dir = join(STATE, 'test-postgres');
  const cluster = await startCluster({ bin: postgres, dir, fast: true });
  const env = {
    ...process.env,
    CI: 'true',
    NG_CLI_ANALYTICS: 'false',
    BATON_TEST_POSTGRES: cluster.url('postgres'),
    CHROME_BIN: chromium,
    FORCE_COLOR: '0',
  };
  const total = { passed: 0, failed: 0 };
  let failedStep = null;
  /** One step after another, until one fails. */
  const go = async (steps, shown) => {
    for (const step of steps) {
      if (failedStep !== null) return;
      if (shown) say(`\n== ${step.title}`);
      const { code, output } = await run(step.command, { env, cwd: step.cwd ?? ROOT, shown });
      if (!shown) say(`\n== ${step.title}\n${output}`);
      const counts = step.counts?.(output) ?? { passed: code === 0 ? 1 : 0, failed: code === 0 ? 0 : 1 };
      total.passed += counts.passed;
      total.failed += counts.failed;
      if (code === 0) continue;
      if (counts.failed === 0) total.failed++;
      failedStep ??= step.title;
    }
  };
  try {
    await Promise.all([build(), go(READINGS, false)]);
    await bundleTorture();
    const [first, ...others] = RUNS;
    await Promise.all([go([first], true), go([TORTURE], false)]);
    await go(others, true);
  } finally {
    await cluster.stop();
    rmSync(dir, { recursive: true, force: true });
  }
  if (failedStep) say(`\n${failedStep} failed.`);
  say(`\n${total.passed} passed, ${total.failed} failed`);
  process.exit(total.failed === 0 ? 0 : 1);
}

function run([program, ...args], { env, cwd, shown }) {
  return new Promise((resolve) => {
    const child = spawn(program, args, { env, cwd, stdio: ['ignore', 'pipe', 'pipe'] });
    let output = '';
    const take = (chunk) => {
      output += chunk;
      if (shown) process.stdout.write(chunk);
    };
    child.stdout.on('data', take);
    child.stderr.on('data', take);
    child.on('close', (code) => resolve({ code, output }));
  });
}

const number = (text, pattern) => Number(pattern.exec(text)?.[1] ?? 0);
// eslint-disable-next-line no-control-regex
const plain = (text) => text.replace(/\u001b\[[0-9;]*m/g, '');

function countsOfVitest(output) {
  const line =
    plain(output)
      .split('\n')
      .filter((l) => /^\s*Tests\s/.test(l))
      .at(-1) ?? '';
  return { passed: number(line, /(\d+) passed/), failed: number(line, /(\d+) failed/) };
}

function countsOfPlaywright(output) {
  const text = plain(output);
  return { passed: number(text, /(\d+) passed/), failed: number(text, /(\d+) failed/) };
}
