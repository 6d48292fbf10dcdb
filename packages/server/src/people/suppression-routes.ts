import Router from '@koa/router';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { parse, parseId } from '../http/validate';
import { listSuppressions } from '../store/people-rows';
import { suppress, unsuppress } from './suppression-service';

const suppressBody = Joi.object<{ what: string; reason: string }>({
  what: Joi.string().trim().min(3).max(320).required(),
  reason: Joi.string().trim().allow('').max(300).default(''),
});

export function suppressionRoutes({ store, clock }: ServerParts): Router {
  const router = new Router();
  router.get('/suppressions', async (ctx) => {
    ctx.body = await listSuppressions(store.db);
  });
  router.post('/suppressions', async (ctx) => {
    await suppress(store.db, parse(suppressBody, ctx.request.body), await clock.now());
    ctx.status = 204;
  });
  router.delete('/suppressions/:id', async (ctx) => {
    await unsuppress(store.db, parseId(ctx.params['id']));
    ctx.status = 204;
  });
  return router;
}
