import Router from '@koa/router';
import { DomainError, writeCsv } from '@baton/core';
import type { ListPage } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { sendCsv } from '../http/send-csv';
import { parse, parseId } from '../http/validate';
import type { Queryable } from '../store/database';
import { allSuppressionKeys, listLists, pageOfList, readAside, readColumns } from '../store/people-rows';

interface PageQuery {
  search: string;
  offset: number;
  limit: number;
}

const pageQuery = Joi.object<PageQuery>({
  search: Joi.string().allow('').max(200).default(''),
  offset: Joi.number().integer().min(0).default(0),
  limit: Joi.number().integer().min(1).max(500).default(100),
});

export function listRoutes({ store }: ServerParts): Router {
  const router = new Router();
  const db = store.db;
  router.get('/lists', async (ctx) => {
    ctx.body = await listLists(db);
  });
  router.get('/lists/:id', async (ctx) => {
    ctx.body = await viewPage(db, parseId(ctx.params['id']), parse(pageQuery, ctx.query));
  });
  router.get('/lists/:id/aside', async (ctx) => {
    ctx.body = await readAside(db, parseId(ctx.params['id']));
  });
  router.get('/lists/:id/aside.csv', async (ctx) => {
    const aside = await readAside(db, parseId(ctx.params['id']));
    const rows = aside.map((a) => [String(a.line), a.reason, ...a.cells]);
    sendCsv(ctx, 'kept-aside.csv', writeCsv([['line', 'reason', 'cells'], ...rows]));
  });
  return router;
}

async function viewPage(db: Queryable, id: number, query: PageQuery): Promise<ListPage> {
  const list = (await listLists(db)).find((l) => l.id === id);
  if (!list) throw new DomainError('not_found', 'There is no such list.');
  const [columns, page, suppressed] = await Promise.all([
    readColumns(db, id),
    pageOfList(db, id, query),
    allSuppressionKeys(db),
  ]);
  return {
    list,
    columns,
    total: page.total,
    people: page.people.map((p) => ({
      rowId: p.rowId,
      contactId: p.contactId,
      address: p.address,
      zone: p.zone,
      fields: p.fields,
      suppressed: suppressed.has(p.key) || suppressed.has(p.domain),
    })),
  };
}
