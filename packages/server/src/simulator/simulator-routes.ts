import Router from '@koa/router';
import { DomainError } from '@baton/core';
import type { SimulatedMail, SimulatedPerson } from '@baton/contract';
import Joi from 'joi';
import sanitizeHtml from 'sanitize-html';
import type { ServerParts } from '../http/context';
import { isoDay, parse } from '../http/validate';

const answerBody = Joi.object({
  id: Joi.number().integer().required(),
  text: Joi.string().trim().min(1).max(10_000).required(),
});
const actBody = Joi.object({
  id: Joi.number().integer().required(),
  kind: Joi.string().valid('unsubscribe_link', 'one_click', 'complaint').required(),
});
const awayBody = Joi.object({
  awayUntil: isoDay.allow(null).required(),
});

/** The demo's way to the simulated recipients. */
export function simulatorRoutes({ simulator }: ServerParts): Router {
  const router = new Router({ prefix: '/simulator' });
  const desk = () => {
    if (!simulator) throw new DomainError('not_found', 'There is no simulator here.');
    return simulator;
  };
  const person = (address: string | undefined) => `/people/${encodeURIComponent(address ?? '')}`;

  router.get('/people', async (ctx) => {
    ctx.body = (await desk().call('GET', '/people')) as SimulatedPerson[];
  });
  router.get('/ports', async (ctx) => {
    ctx.body = await desk().call('GET', '/ports');
  });
  router.get('/counts', async (ctx) => {
    ctx.body = await desk().call('GET', '/counts');
  });
  router.get('/people/:address/inbox', async (ctx) => {
    const mails = (await desk().call('GET', `${person(ctx.params['address'])}/inbox`)) as SimulatedMail[];
    ctx.body = mails.map((m) => ({
      ...m,
      html: sanitizeHtml(m.html, {
        allowedTags: [
          ...['p', 'br', 'a', 'b', 'i', 'u', 'strong', 'em', 'span', 'ul', 'ol', 'li', 'blockquote', 'h1', 'h2', 'h3'],
          ...['div', 'table', 'tbody', 'tr', 'td', 'img'],
        ],
        allowedAttributes: {
          '*': ['style', 'align', 'width', 'height', 'bgcolor', 'role'],
          a: ['href'],
          img: ['src', 'alt'],
        },
        // Pictures that came with the message; none is fetched.
        allowedSchemesByTag: { img: ['data'] },
      }),
    }));
  });
  router.post('/people/:address/reply', async (ctx) => {
    ctx.body = await desk().call('POST', `${person(ctx.params['address'])}/reply`, parse(answerBody, ctx.request.body));
  });
  router.post('/people/:address/read', async (ctx) => {
    ctx.body = await desk().call('POST', `${person(ctx.params['address'])}/read`, ctx.request.body);
  });
  router.post('/people/:address/act', async (ctx) => {
    ctx.body = await desk().call('POST', `${person(ctx.params['address'])}/act`, parse(actBody, ctx.request.body));
  });
  router.put('/people/:address', async (ctx) => {
    ctx.body = await desk().call('PUT', person(ctx.params['address']), parse(awayBody, ctx.request.body));
  });
  return router;
}
