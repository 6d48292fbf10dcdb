import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import { systemClock } from '../time/system-clock';
import { changeClock } from '../time/workspace-clock';
import type { ClockChange } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { parse } from '../http/validate';
import { wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import { updateWorkspace } from '../store/workspace-rows';
import { viewDraftNeeds, viewShell, viewToday } from './today-service';

const clockBody = Joi.object<ClockChange>({
  rate: Joi.number(),
  untilMs: Joi.number().integer(),
  toNextEvent: Joi.boolean().valid(true),
}).xor('rate', 'untilMs', 'toNextEvent');

export function todayRoutes(parts: ServerParts): Router {
  const { store, clock } = parts;
  const router = exactRouter();
  router.get('/shell', async (ctx) => {
    ctx.body = await viewShell(parts);
  });
  router.get('/today', async (ctx) => {
    ctx.body = await viewToday(parts);
  });
  router.get('/today/drafts', async (ctx) => {
    ctx.body = await viewDraftNeeds(parts);
  });
  router.put('/clock', async (ctx) => {
    await changeClock(store.db, parse(clockBody, ctx.request.body), systemClock);
    ctx.status = 204;
  });
  const setHeldAll = async (heldAll: boolean) => {
    await updateWorkspace(store.db, { heldAll });
    // What was due while everything was held gets new times.
    if (!heldAll) await wantPlan(store.db, await clock.now());
    await announce(store.db, 'clock', 'today');
  };
  router.post('/hold-all', async (ctx) => {
    await setHeldAll(true);
    ctx.status = 204;
  });
  router.post('/release-all', async (ctx) => {
    await setHeldAll(false);
    ctx.status = 204;
  });
  return router;
}
