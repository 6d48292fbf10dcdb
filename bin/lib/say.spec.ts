import { execFileSync } from 'node:child_process';
import { expect, it } from 'vitest';

const run = (script: string) =>
  execFileSync(process.execPath, ['--input-type=module', '-e', script], {
    cwd: import.meta.dirname,
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'ignore'],
  });

it('keeps the output for data where there is any', () => {
  expect(run("import { say } from './say.mjs'; say('Building')")).toBe('Building\n');
  expect(run("import { say, keepOutputForData } from './say.mjs'; keepOutputForData(); say('Building')")).toBe('');
});
