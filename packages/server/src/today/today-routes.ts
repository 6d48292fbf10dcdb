import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import { systemClock } from '../time/system-clock';
import { changeClock } from '../time/workspace-clock';
import type { ClockChange, PutOffRequest } from '@baton/contract';
import { DomainError } from '@baton/core';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { isoDay, parse } from '../http/validate';
import { wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import { bringBack, putOff } from '../store/need-rows';
import { localToday } from '../time/local-today';
import { updateWorkspace } from '../store/workspace-rows';
import { viewDraftNeeds } from './needs';
import { viewShell, viewToday } from './today-service';

const clockBody = Joi.object<ClockChange>({
  rate: Joi.number(),
  untilMs: Joi.number().integer(),
  toNextEvent: Joi.boolean().valid(true),
}).xor('rate', 'untilMs', 'toNextEvent');

const putOffBody = Joi.object<PutOffRequest>({
  key: Joi.string().min(1).max(100).required(),
  until: isoDay.allow(null).required(),
});

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
  router.put('/today/put-off', async (ctx) => {
    const { key, until } = parse(putOffBody, ctx.request.body);
    const today = await localToday(parts);
    if (until !== null && until <= today)
      throw new DomainError('invalid', 'It can be put off until a day to come only.');
    await store.db.transaction(async (tx) => {
      if (until === null) await bringBack(tx, key);
      else await putOff(tx, { key, until }, today);
      await announce(tx, 'today', 'campaigns');
    });
    ctx.status = 204;
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
