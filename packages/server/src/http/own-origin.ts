import { DomainError } from '@baton/core';
import type { Middleware } from 'koa';

/**
 * Keeps other sites out: the Host must be one we serve (a rebound name is not), and whatever changes
 * something must come from our own pages. Links that recipients press are outside of /api and exempt.
 */
export function ownOriginOnly(hosts: readonly string[]): Middleware {
  return async (ctx, next) => {
    if (ctx.path.startsWith('/api/')) {
      if (!hosts.includes(ctx.host))
        throw new DomainError('forbidden', `This server does not answer for ${ctx.hostname}.`);
      const origin = ctx.get('origin');
      const changes = ctx.method !== 'GET' && ctx.method !== 'HEAD';
      if (
        origin !== ''
          ? !hosts.some((h) => origin === `http://${h}` || origin === `https://${h}`)
          : changes && ctx.get('sec-fetch-site') === 'cross-site'
      ) {
        throw new DomainError('forbidden', 'The request comes from another site.');
      }
      // Only a script of ours can set a header; a form on another site cannot.
      if (changes && ctx.get('x-baton') === '')
        throw new DomainError('forbidden', 'The request lacks the header X-Baton.');
    }
    await next();
  };
}
