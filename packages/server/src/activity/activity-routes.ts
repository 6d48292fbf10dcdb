import type Router from '@koa/router';
import { ACTIVITY_GROUP_NAMES, type ActivityGroup } from '@baton/core';
import type { ActivityList } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { exactRouter } from '../http/exact-router';
import { parse } from '../http/validate';
import { readActivity } from '../store/activity/activity-rows';

const askedQuery = Joi.object<{ group: ActivityGroup | null; search: string; limit: number }>({
  group: Joi.string()
    .valid(...ACTIVITY_GROUP_NAMES)
    .default(null),
  search: Joi.string().trim().allow('').max(320).default(''),
  limit: Joi.number().integer().min(1).max(2000).default(100),
});

export function activityRoutes({ store }: ServerParts): Router {
  const router = exactRouter();
  router.get('/activity', async (ctx) => {
    const asked = parse(askedQuery, ctx.query);
    const found = await readActivity(store.db, { ...asked, limit: asked.limit + 1 });
    ctx.body = { entries: found.slice(0, asked.limit), hasMore: found.length > asked.limit } satisfies ActivityList;
  });
  return router;
}
