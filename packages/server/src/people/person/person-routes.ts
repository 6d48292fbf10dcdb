import type Router from '@koa/router';
import { exactRouter } from '../../http/exact-router';
import type { ServerParts } from '../../http/context';
import { parseId } from '../../http/validate';
import { erasePerson, exportPerson, proofForPerson, viewPerson } from './person-service';

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
    ctx.body = await proofForPerson(parts, id, campaign, Number(ctx.params['step']) || 0);
  });
  router.delete('/people/:id', async (ctx) => {
    await erasePerson(store.db, parseId(ctx.params['id']), await clock.now());
    ctx.status = 204;
  });
  return router;
}
