import { DomainError } from '@baton/core';
import type { Middleware } from 'koa';

/**
 * Keeps other sites out: the Host must be one we serve (a rebound name is not), and whatever changes something must
 * come from our own pages. It looks at no path: whatever comes after it is guarded, however its address is spelled.
 * Pages for recipients are served before it.
 *
 * @throws DomainError `forbidden`
 */
export function ownOriginOnly(hosts: readonly string[]): Middleware {
  const origins = new Set(hosts.flatMap((h) => [`http://${h}`, `https://${h}`]));
  return async (ctx, next) => {
    if (!hosts.includes(ctx.host))
      throw new DomainError('forbidden', `This server does not answer for ${ctx.hostname}.`);
    const origin = ctx.get('origin');
    const changes = ctx.method !== 'GET' && ctx.method !== 'HEAD';
    const isForeign = origin === '' ? changes && ctx.get('sec-fetch-site') === 'cross-site' : !origins.has(origin);
    if (isForeign) throw new DomainError('forbidden', 'The request comes from another site.');
    // Only a script of ours can set a header; a form on another site cannot.
    if (changes && ctx.get('x-baton') === '')
      throw new DomainError('forbidden', 'The request lacks the header X-Baton.');
    await next();
  };
}
