import type Router from '@koa/router';
import { DomainError, isZone } from '@baton/core';
import type { WorkspaceSettings } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { exactRouter } from '../http/exact-router';
import { parse } from '../http/validate';
import { wantFreshPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import { readWorkspace, updateWorkspace } from '../store/workspace-rows';

const settingsBody = Joi.object<WorkspaceSettings>({
  name: Joi.string().trim().min(1).max(120).required().label('the name'),
  postalAddress: Joi.string().trim().allow('').max(500).required().label('the postal address'),
  zone: Joi.string().trim().min(1).max(60).required().label('the time zone'),
});

export function settingsRoutes({ store, clock }: ServerParts): Router {
  const router = exactRouter();
  router.get('/settings', async (ctx) => {
    const { name, postalAddress, zone } = await readWorkspace(store.db);
    ctx.body = { name, postalAddress, zone } satisfies WorkspaceSettings;
  });
  router.put('/settings', async (ctx) => {
    const settings = parse(settingsBody, ctx.request.body);
    if (!isZone(settings.zone))
      throw new DomainError(
        'invalid',
        `There is no time zone “${settings.zone}”. Expected a name such as Europe/Lisbon.`,
      );
    const nowMs = await clock.now();
    await store.db.transaction(async (tx) => {
      const before = await readWorkspace(tx);
      await updateWorkspace(tx, settings);
      // Days begin elsewhere now.
      if (before.zone !== settings.zone) await wantFreshPlan(tx, nowMs);
      await announce(tx, 'today', 'campaigns', 'clock');
    });
    ctx.status = 204;
  });
  return router;
}
