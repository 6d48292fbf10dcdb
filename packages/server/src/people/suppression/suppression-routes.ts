import type Router from '@koa/router';
import { exactRouter } from '../../http/exact-router';
import { writeCsv } from '@baton/core';
import Joi from 'joi';
import type { ServerParts } from '../../http/context';
import { sendCsv } from '../../http/send-csv';
import { parse, parseId } from '../../http/validate';
import { allSuppressions, findSuppressions } from '../../store/people/person/people-rows';
import { readUpload, uploadName } from '../import/read-upload';
import { importSuppressions, suppress, unsuppress } from './suppression-service';

const suppressBody = Joi.object<{ what: string; reason: string }>({
  what: Joi.string().trim().min(3).max(320).required(),
  reason: Joi.string().trim().allow('').max(300).default(''),
});

const MOST_SHOWN = 500;
const searchQuery = Joi.object<{ search: string }>({ search: Joi.string().trim().allow('').max(320).default('') });

export function suppressionRoutes({ store, clock }: ServerParts): Router {
  const router = exactRouter();
  router.get('/suppressions', async (ctx) => {
    const { search } = parse(searchQuery, ctx.query);
    ctx.body = await findSuppressions(store.db, search, MOST_SHOWN);
  });
  router.post('/suppressions', async (ctx) => {
    await suppress(store.db, parse(suppressBody, ctx.request.body), await clock.now());
    ctx.status = 204;
  });
  router.get('/suppressions.csv', async (ctx) => {
    const rows = (await allSuppressions(store.db)).map((s) => [
      s.key,
      s.reason,
      s.source,
      new Date(s.createdAt).toISOString().slice(0, 10),
    ]);
    sendCsv(ctx, 'suppression-list.csv', writeCsv([['address or domain', 'reason', 'source', 'since'], ...rows]));
  });
  router.post('/suppressions/import', async (ctx) => {
    const name = uploadName(ctx);
    ctx.body = await importSuppressions(store.db, name, await readUpload(ctx), await clock.now());
  });
  router.delete('/suppressions/:id', async (ctx) => {
    await unsuppress(store.db, parseId(ctx.params['id']));
    ctx.status = 204;
  });
  return router;
}
