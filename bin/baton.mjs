#!/usr/bin/env node
import { fail, UserError } from './lib/say.mjs';

const COMMANDS = {
  demo: () => import('./lib/demo.mjs').then((m) => m.demo()),
  start: () => import('./lib/start.mjs').then((m) => m.start()),
  worker: () => import('./lib/start.mjs').then((m) => m.worker()),
  build: () => import('./lib/build.mjs').then((m) => m.buildCommand()),
  test: () => import('./lib/test.mjs').then((m) => m.test()),
  'check-list': () => import('./lib/commands.mjs').then((m) => m.command()),
  'read-mail': () => import('./lib/commands.mjs').then((m) => m.command()),
  plan: () => import('./lib/commands.mjs').then((m) => m.command()),
  torture: () => import('./lib/torture.mjs').then((m) => m.torture()),
  'test:servers': () => import('./lib/test-servers.mjs').then((m) => m.testServers()),
  bench: () => import('./lib/bench.mjs').then((m) => m.bench()),
};

const command = COMMANDS[process.argv[2] ?? ''];
if (!command) fail(`Baton knows these commands: ${Object.keys(COMMANDS).join(', ')}.`);
try {
  await command();
} catch (error) {
  if (error instanceof UserError) fail(error.message);
  throw error;
}
