import { spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { brotliCompressSync, gzipSync } from 'node:zlib';
import { inRoot, ROOT, STATE } from './paths.mjs';
import { preparePackages } from './prepare.mjs';
import { say, UserError } from './say.mjs';

/** Built files, and what they are made of. */
const SERVER = {
  name: 'server',
  from: [
    'packages/core/src',
    'packages/contract/src',
    'packages/server/src',
    'packages/simulator/src',
    'package-lock.json',
  ],
  out: 'packages/server/dist/main.mjs',
};
const WEB = {
  name: 'web',
  from: [
    'packages/core/src',
    'packages/contract/src',
    'packages/web/src',
    'packages/web/public',
    'packages/web/angular.json',
    'packages/web/tsconfig.app.json',
    'package-lock.json',
  ],
  out: 'packages/web/dist/browser/index.html',
};

export const WEB_DIR = inRoot('packages/web/dist/browser');
export const SERVER_MAIN = inRoot('packages/server/dist/main.mjs');
/** Beside the server's program, which starts it as a thread. */
export const READER_THREAD = inRoot('packages/server/dist/reader-thread.mjs');
export const DEMO_MAIN = inRoot('packages/server/dist/demo.mjs');
export const COMMANDS_MAIN = inRoot('packages/server/dist/commands.mjs');
export const SIMULATOR_MAIN = inRoot('packages/simulator/dist/main.mjs');

/** Builds what has changed since it was last built. */
export async function build({ web = true } = {}) {
  await unlessFresh(SERVER, bundleServer);
  if (web) await unlessFresh(WEB, buildWeb);
}

export async function buildCommand() {
  preparePackages();
  await build();
}

async function unlessFresh(part, make) {
  const stamp = join(STATE, `built-${part.name}`);
  const hash = hashOf(part.from);
  if (existsSync(inRoot(part.out)) && existsSync(stamp) && readFileSync(stamp, 'utf8') === hash) return;
  say(`Building the ${part.name} …`);
  await make();
  mkdirSync(STATE, { recursive: true });
  writeFileSync(stamp, hash);
}

function hashOf(paths) {
  const hash = createHash('sha256');
  const add = (path) => {
    if (!existsSync(path)) return;
    for (const entry of readdirSync(path, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const inside = join(path, entry.name);
      if (entry.isDirectory()) add(inside);
      else if (!entry.name.includes('.spec.')) hash.update(inside).update(readFileSync(inside));
    }
  };
  for (const p of paths) {
    if (/\.\w+$/.test(p)) hash.update(readFileSync(inRoot(p)));
    else add(inRoot(p));
  }
  return hash.digest('hex');
}

async function bundleServer() {
  await bundle('packages/server/src/main.ts', SERVER_MAIN);
  await bundle('packages/server/src/bounded/reader-thread.ts', READER_THREAD);
  await bundle('packages/server/src/demo/main.ts', DEMO_MAIN);
  await bundle('packages/server/src/commands/main.ts', COMMANDS_MAIN);
  await bundle('packages/simulator/src/main.ts', SIMULATOR_MAIN);
}

/** Makes one file of a program for Node.js and everything it imports. */
export async function bundle(entry, outfile) {
  const esbuild = await import('esbuild');
  await esbuild.build({
    entryPoints: [entry],
    outfile,
    bundle: true,
    platform: 'node',
    target: 'node20',
    format: 'esm',
    // Some CommonJS dependencies call require for Node's own modules.
    banner: {
      js: "import { createRequire as _cr } from 'node:module'; import { fileURLToPath as _fu } from 'node:url'; const require = _cr(import.meta.url); const __filename = _fu(import.meta.url); const __dirname = _fu(new URL('.', import.meta.url));",
    },
    // mjml brings 25 MB of its own, and is loaded when the first layout is set; highs finds its program beside itself.
    external: ['pg-native', 'mjml', 'highs'],
    sourcemap: true,
    logLevel: 'error',
    absWorkingDir: ROOT,
  });
}

/** In a process of its own, so that a caller can go on meanwhile. */
async function buildWeb() {
  const child = spawn(process.execPath, [inRoot('node_modules/@angular/cli/bin/ng.js'), 'build'], {
    cwd: inRoot('packages/web'),
    env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  const output = [];
  for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => output.push(chunk));
  const [status] = await once(child, 'close');
  if (status !== 0) throw new UserError(`The web app could not be built:\n${Buffer.concat(output).toString()}`);
  compress(WEB_DIR);
}

/** Puts a Brotli and a gzip form beside each file of text that is worth it; the server sends what the browser takes. */
function compress(dir) {
  for (const entry of readdirSync(dir, { recursive: true, withFileTypes: true })) {
    if (!entry.isFile() || !/\.(?:js|css|html|svg|json|txt)$/.test(entry.name)) continue;
    const path = join(entry.parentPath ?? entry.path, entry.name);
    const content = readFileSync(path);
    if (content.length < 1024) continue;
    writeFileSync(`${path}.br`, brotliCompressSync(content));
    writeFileSync(`${path}.gz`, gzipSync(content, { level: 9 }));
  }
}
