import type Router from '@koa/router';
import { askedByProgram, storableText, type SignalKind } from '@baton/core';
import type { Context } from 'koa';
import type { ServerParts } from '../http/context';
import { exactRouter } from '../http/exact-router';
import { smallPage } from '../http/small-page';
import { forLog } from '../log/for-log';
import { signalOfLink, type SignalLink } from '../sending/signed-links';
import { cameFrom } from './came-from';
import { Countries } from './countries';
import { SignalRecorder } from './signal-recorder';

/** One transparent point (GIF89a). */
const POINT = Buffer.from('R0lGODlhAQABAIAAAAAAAP///yH5BAEAAAAALAAAAAABAAEAAAIBRAA7', 'base64');

/**
 * The picture by which a message tells that it was opened, and the links that lead on. A link leads only where Baton itself has
 * sealed it to lead; of who asks nothing is stored but, where a campaign wants it, the country.
 */
export function signalRoutes({ store, clock, secrets, log, ownMachine }: ServerParts): Router {
  const router = exactRouter();
  const recorder = new SignalRecorder(store, clock, (error, lost) =>
    log.warn({ lost, ...forLog(error) }, 'opens and clicks could not be written down'),
  );
  const countries = new Countries();
  // A click counts whatever becomes of its country.
  const countryOf = (ctx: Context) => countries.of(cameFrom(ctx)).catch(() => null);
  const note = async (ctx: Context, kind: SignalKind, { deliveryId, url, links }: SignalLink): Promise<void> => {
    if (ownMachine.isFromHere(ctx)) return;
    await recorder.record({
      ...{ deliveryId, kind, links, link: storableText(url) },
      country: kind === 'click' ? await countryOf(ctx) : null,
      told: askedByProgram({
        method: ctx.method,
        userAgent: ctx.get('User-Agent'),
        purpose: ['Sec-Purpose', 'Purpose', 'X-Moz'].map((name) => ctx.get(name)).join(' '),
      }),
    });
  };
  router.get('/o/:picture', async (ctx) => {
    ctx.set('Cache-Control', 'no-store, private');
    ctx.type = 'image/gif';
    // The same picture for what Baton did not make: a reader sees no broken one.
    ctx.body = POINT;
    const link = signalOfLink(secrets, (ctx['params']['picture'] ?? '').replace(/\.gif$/, ''));
    if (link !== null) await note(ctx, 'open', link);
  });
  router.get('/c/:sealed', async (ctx) => {
    const link = signalOfLink(secrets, ctx['params']['sealed'] ?? '');
    ctx.set('Cache-Control', 'no-store, private');
    ctx.set('X-Robots-Tag', 'noindex');
    ctx.set('Referrer-Policy', 'no-referrer');
    if (link === null || link.url === '') {
      ctx.status = 404;
      ctx.type = 'html';
      ctx.body = smallPage(
        { title: 'This link is incomplete', text: 'Please use it exactly as it is in the message.' },
        '',
      );
    } else {
      ctx.status = 302;
      ctx.set('Location', link.url);
      ctx.type = 'text';
      ctx.body = '';
    }
    if (link !== null) await note(ctx, link.url === '' ? 'hidden' : 'click', link);
  });
  return router;
}
