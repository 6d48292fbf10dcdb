import Joi from 'joi';
import type Router from '@koa/router';
import { exactRouter } from '../../http/exact-router';
import type { ServerParts } from '../../http/context';
import { parse, parseId } from '../../http/validate';
import { erasePerson, exportPerson, proofForPerson, viewPerson } from './person-service';

/** Which message of a campaign, from 0. */
const stepNumber = Joi.number().integer().min(0).max(100).required().label('step in the address') as Joi.NumberSchema;

export function personRoutes(parts: ServerParts): Router {
  const { store, clock } = parts;
  const router = exactRouter();
  router.get('/people/:id', async (ctx) => {
    ctx.body = await viewPerson(store.db, parseId(ctx.params['id']));
  });
  router.get('/people/:id/export.json', async (ctx) => {
    const id = parseId(ctx.params['id']);
    ctx.attachment(`person-${id}.json`);
    ctx.type = 'application/json; charset=utf-8';
    ctx.body = JSON.stringify(await exportPerson(store.db, id), null, 2);
  });
  router.get('/people/:id/campaigns/:campaign/messages/:step', async (ctx) => {
    const [id, campaign] = [parseId(ctx.params['id']), parseId(ctx.params['campaign'])];
    const step = parse(stepNumber, ctx.params['step']);
    ctx.body = await proofForPerson(parts, id, campaign, step);
  });
  router.delete('/people/:id', async (ctx) => {
    await erasePerson(store.db, parseId(ctx.params['id']), await clock.now());
    ctx.status = 204;
  });
  return router;
}
