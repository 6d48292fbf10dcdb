import type Router from '@koa/router';
import { exactRouter } from '../../http/exact-router';
import {
  CLEANINGS,
  COLUMN_KINDS,
  COLUMN_ROLES,
  ENCODINGS,
  type Cleaning,
  type ColumnKind,
  type ColumnRole,
} from '@baton/core';
import type { ImportInto, ImportReading } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../../http/context';
import { parse, parseId, rowId } from '../../http/validate';
import { importState, openLargeImports } from '../../store/people/import/import-rows';
import {
  beginImport,
  chooseCleanings,
  chooseInto,
  chooseReading,
  chooseRoles,
  chooseSheet,
  dropImport,
  keepImport,
  mendCell,
  mendDomains,
  viewImport,
} from './import-service';
import { over } from './take-import';
import { readPiecesOf, uploadName } from './read-upload';

const rolesBody = Joi.object<{ roles: ColumnRole[]; kinds: Record<number, ColumnKind> }>({
  roles: Joi.array()
    .items(Joi.string().valid(...COLUMN_ROLES))
    .required(),
  kinds: Joi.object()
    .pattern(/^\d+$/, Joi.string().valid(...COLUMN_KINDS))
    .default({}),
});
const sheetBody = Joi.object<{ sheet: number }>({ sheet: Joi.number().integer().min(0).required() });
const readingBody = Joi.object<ImportReading>({
  withHidden: Joi.boolean(),
  monthFirst: Joi.boolean(),
  encoding: Joi.string().valid(...Object.keys(ENCODINGS)),
});
const cleaningsBody = Joi.object<{ cleanings: Cleaning[] }>({
  cleanings: Joi.array()
    .unique()
    .items(Joi.string().valid(...CLEANINGS))
    .required(),
});
const cellBody = Joi.object<{ line: number; column: number; value: string }>({
  line: Joi.number().integer().min(1).required(),
  column: Joi.number().integer().min(0).required(),
  value: Joi.string().allow('').max(10_000).required(),
});
const keepBody = Joi.object<{ name: string | null }>({ name: Joi.string().allow('', null).max(120).default(null) });
const intoBody = Joi.object<{ into: ImportInto }>({
  into: Joi.alternatives(
    Joi.object({ kind: Joi.valid('new').required(), name: Joi.string().allow('').max(120).required() }),
    Joi.object({
      kind: Joi.valid('list').required(),
      listId: rowId.required(),
      how: Joi.valid('add', 'update', 'replace').required(),
    }),
  ).required(),
});

export function importRoutes({ store, clock }: ServerParts): Router {
  const router = exactRouter();
  const db = store.db;
  router.post('/imports', async (ctx) => {
    ctx.body = await beginImport(db, uploadName(ctx), readPiecesOf(ctx), await clock.now());
  });
  router.get('/large-imports', async (ctx) => {
    ctx.body = await openLargeImports(db);
  });
  router.get('/imports/:id/state', async (ctx) => {
    const state = await importState(db, parseId(ctx.params['id']));
    if (!state) throw over();
    ctx.body = state;
  });
  router.put('/imports/:id/into', async (ctx) => {
    const { into } = parse(intoBody, ctx.request.body);
    ctx.body = await chooseInto(db, parseId(ctx.params['id']), into);
  });
  router.get('/imports/:id', async (ctx) => {
    ctx.body = await viewImport(db, parseId(ctx.params['id']));
  });
  router.put('/imports/:id/columns', async (ctx) => {
    const { roles, kinds } = parse(rolesBody, ctx.request.body);
    ctx.body = await chooseRoles(db, parseId(ctx.params['id']), roles, kinds);
  });
  router.put('/imports/:id/sheet', async (ctx) => {
    const { sheet } = parse(sheetBody, ctx.request.body);
    ctx.body = await chooseSheet(db, parseId(ctx.params['id']), sheet);
  });
  router.put('/imports/:id/reading', async (ctx) => {
    ctx.body = await chooseReading(db, parseId(ctx.params['id']), parse(readingBody, ctx.request.body));
  });
  router.put('/imports/:id/cleanings', async (ctx) => {
    const { cleanings } = parse(cleaningsBody, ctx.request.body);
    ctx.body = await chooseCleanings(db, parseId(ctx.params['id']), cleanings);
  });
  router.put('/imports/:id/cells', async (ctx) => {
    ctx.body = await mendCell(db, parseId(ctx.params['id']), parse(cellBody, ctx.request.body));
  });
  router.post('/imports/:id/mend-domains', async (ctx) => {
    ctx.body = await mendDomains(db, parseId(ctx.params['id']));
  });
  router.post('/imports/:id/keep', async (ctx) => {
    const { name } = parse(keepBody, ctx.request.body);
    ctx.body = await keepImport(store, parseId(ctx.params['id']), name, await clock.now());
  });
  router.delete('/imports/:id', async (ctx) => {
    await dropImport(db, parseId(ctx.params['id']));
    ctx.status = 204;
  });
  return router;
}
