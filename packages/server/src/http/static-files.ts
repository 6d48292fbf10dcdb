import { createReadStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { extname, join, normalize } from 'node:path';
import type { Middleware } from 'koa';

/** The built web app: its files, and its page for every address that is not a file. */
export function staticFiles(dir: string): Middleware {
  return async (ctx, next) => {
    if ((ctx.method !== 'GET' && ctx.method !== 'HEAD') || ctx.path.startsWith('/api/')) return next();
    const asked = normalize(decoded(ctx.path)).replace(/^[/\\]+/, '');
    const path = join(dir, asked);
    const file = path.startsWith(dir) && extname(asked) !== '' && (await isFile(path)) ? path : join(dir, 'index.html');
    // Names with a hash never change; the page itself always may.
    ctx.set('Cache-Control', /-[A-Z0-9]{8}\.\w+$/.test(file) ? 'public, max-age=31536000, immutable' : 'no-cache');
    ctx.type = extname(file);
    ctx.body = createReadStream(file);
  };
}

/** '' for what is not well encoded: the page itself answers. */
function decoded(path: string): string {
  try {
    return decodeURIComponent(path);
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
