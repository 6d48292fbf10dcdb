import type Router from '@koa/router';
import { RESULT_DIMENSIONS } from '@baton/core';
import type { ResultsBy } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { exactRouter } from '../http/exact-router';
import { parse, parseId } from '../http/validate';
import { viewCampaignResults, viewMessageResults, viewResultGroups, viewResults } from './results-service';

const byQuery = Joi.object<{ by: ResultsBy }>({
  by: Joi.alternatives(
    Joi.string().valid(...RESULT_DIMENSIONS),
    Joi.string()
      .pattern(/^field:./, 'field: and the key of a column')
      .max(300),
  )
    .required()
    .label('by what it is told apart'),
});

export function resultsRoutes(parts: ServerParts): Router {
  const router = exactRouter();
  router.get('/results', async (ctx) => {
    ctx.body = await viewResults(parts);
  });
  router.get('/results/:id', async (ctx) => {
    ctx.body = await viewCampaignResults(parts, parseId(ctx.params['id']));
  });
  router.get('/results/messages/:id', async (ctx) => {
    ctx.body = await viewMessageResults(parts, parseId(ctx.params['id']));
  });
  router.get('/results/:id/groups', async (ctx) => {
    const { by } = parse(byQuery, ctx.query);
    ctx.body = await viewResultGroups(parts, parseId(ctx.params['id']), by);
  });
  return router;
}
