import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { parse, parseId } from '../http/validate';
import { viewLine, viewLines, writeLine } from './line-service';

const lineBody = Joi.object<{ line: string; decision: 'approved' | 'rejected' | 'written' }>({
  line: Joi.string().allow('').max(2000).required(),
  decision: Joi.string().valid('approved', 'rejected', 'written').required(),
});
const place = Joi.number().integer().min(0).required().label('place in the list') as Joi.NumberSchema;

export function lineRoutes(parts: ServerParts): Router {
  const { db } = parts.store;
  const router = exactRouter();
  router.get('/lists/:id/lines', async (ctx) => {
    ctx.body = await viewLines(db, parseId(ctx.params['id']));
  });
  router.get('/lists/:id/lines/:index', async (ctx) => {
    ctx.body = await viewLine(db, parseId(ctx.params['id']), parse(place, ctx.params['index']));
  });
  router.put('/lists/:id/rows/:row/line', async (ctx) => {
    await writeLine(parts, parseId(ctx.params['id']), parseId(ctx.params['row']), parse(lineBody, ctx.request.body));
    ctx.status = 204;
  });
  return router;
}
