import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import type { ServerParts } from '../http/context';
import { hereAnswer } from '../sending/signed-links';

/** By which Baton finds out whether its public address leads to itself. */
export function hereRoutes({ secrets, ownMachine }: ServerParts): Router {
  const router = exactRouter();
  router.get('/here/:nonce', (ctx) => {
    const nonce = ctx['params']['nonce'] ?? '';
    if (!/^[\w-]{8,64}$/.test(nonce)) return;
    ownMachine.wasAsked(nonce, ctx);
    ctx.set('Cache-Control', 'no-store');
    ctx.type = 'text';
    ctx.body = hereAnswer(secrets, nonce);
  });
  return router;
}
