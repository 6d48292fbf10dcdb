import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { extname, join, normalize, sep } from 'node:path';
import { DomainError } from '@baton/core';
import type { Middleware } from 'koa';

/** Compressed beside the file when the web app is built, best first. */
const ENCODINGS = [
  { name: 'br', ending: '.br' },
  { name: 'gzip', ending: '.gz' },
] as const;

/**
 * The built web app: its files, and its page for every other address of the application. Nothing is the page that is
 * spelled like an address of the API.
 */
export function staticFiles(dir: string): Middleware {
  return async (ctx, next) => {
    const asked = normalize(decoded(ctx.path)).replace(/^[/\\]+/, '');
    if ((ctx.method !== 'GET' && ctx.method !== 'HEAD') || /^api(?:[/\\]|$)/i.test(asked)) return next();
    const path = join(dir, asked);
    const isInside = path.startsWith(dir.endsWith(sep) ? dir : dir + sep);
    const file = isInside && extname(asked) !== '' && (await isFile(path)) ? path : join(dir, 'index.html');
    if (!(await isFile(file))) throw new DomainError('not_found', 'The web app is not there; it may be being built.');
    // Names with a hash never change; the page itself always may.
    ctx.set('Cache-Control', /-[A-Z0-9]{8}\.\w+$/.test(file) ? 'public, max-age=31536000, immutable' : 'no-cache');
    ctx.type = extname(file);
    ctx.vary('Accept-Encoding');
    for (const { name, ending } of ENCODINGS) {
      if (ctx.acceptsEncodings(name, 'identity') !== name || !(await isFile(file + ending))) continue;
      ctx.set('Content-Encoding', name);
      ctx.body = createReadStream(file + ending);
      return;
    }
    ctx.body = createReadStream(file);
  };
}

/** '' for what is not well encoded: the page itself answers. */
function decoded(path: string): string {
  try {
    const text = decodeURIComponent(path);
    return text.includes('\0') ? '' : text;
  } catch {
    return '';
  }
}

async function isFile(path: string): Promise<boolean> {
  return stat(path).then(
    (s) => s.isFile(),
    () => false,
  );
}
