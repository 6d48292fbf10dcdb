import type Router from '@koa/router';
import { DomainError, RESULT_DIMENSIONS } from '@baton/core';
import type { ResultsBy } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { exactRouter } from '../http/exact-router';
import { isoDay, parse, parseId } from '../http/validate';
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

/** Both days of a period, or neither. */
const periodQuery = Joi.object<{ from?: string; to?: string }>({
  from: isoDay.label('first day'),
  to: isoDay.label('last day'),
}).and('from', 'to');

export function resultsRoutes(parts: ServerParts): Router {
  const router = exactRouter();
  router.get('/results', async (ctx) => {
    const { from, to } = parse(periodQuery, ctx.query);
    if (from !== undefined && to !== undefined && to < from)
      throw new DomainError('invalid', 'The period ends before it begins.');
    ctx.body = await viewResults(parts, from !== undefined && to !== undefined ? { from, to } : undefined);
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
