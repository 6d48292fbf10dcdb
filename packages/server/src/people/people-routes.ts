import Router from '@koa/router';
import { COLUMN_ROLES, DomainError, parseAddress, writeCsv, type ColumnRole } from '@baton/core';
import type { ListPage } from '@baton/contract';
import Joi from 'joi';
import type { Context } from 'koa';
import { stopContact } from '../campaigns/stop-recipient';
import type { ServerParts } from '../http/context';
import { parse, parseId } from '../http/validate';
import { announce } from '../store/changes';
import { contactIdsOfDomain } from '../store/campaign-rows';
import {
  addSuppression,
  allSuppressionKeys,
  contactByKey,
  listLists,
  listSuppressions,
  pageOfList,
  readAside,
  readColumns,
  removeImport,
  removeSuppression,
} from '../store/people-rows';
import { beginImport, chooseRoles, keepImport, MAX_IMPORT_BYTES, viewImport } from './import-service';

const pageQuery = Joi.object({
  search: Joi.string().allow('').max(200).default(''),
  offset: Joi.number().integer().min(0).default(0),
  limit: Joi.number().integer().min(1).max(500).default(100),
});
const rolesBody = Joi.object({
  roles: Joi.array()
    .items(Joi.string().valid(...COLUMN_ROLES))
    .required(),
});
const keepBody = Joi.object({ name: Joi.string().allow('').max(120).required() });
const suppressBody = Joi.object({
  what: Joi.string().trim().min(3).max(320).required(),
  reason: Joi.string().trim().allow('').max(300).default(''),
});

export function peopleRoutes({ store, clock }: ServerParts): Router {
  const router = new Router();
  const db = store.db;

  router.get('/lists', async (ctx) => {
    ctx.body = await listLists(db);
  });
  router.get('/lists/:id', async (ctx) => {
    const id = parseId(ctx.params['id']);
    const list = (await listLists(db)).find((l) => l.id === id);
    if (!list) throw new DomainError('not_found', 'There is no such list.');
    const query = parse<{ search: string; offset: number; limit: number }>(pageQuery, ctx.query);
    const [columns, page, suppressed] = await Promise.all([
      readColumns(db, id),
      pageOfList(db, id, query),
      allSuppressionKeys(db),
    ]);
    ctx.body = {
      list,
      columns,
      total: page.total,
      people: page.people.map((p) => ({
        rowId: p.rowId,
        address: p.address,
        zone: p.zone,
        fields: p.fields,
        suppressed: suppressed.has(p.key) || suppressed.has(p.domain),
      })),
    } satisfies ListPage;
  });
  router.get('/lists/:id/aside', async (ctx) => {
    ctx.body = await readAside(db, parseId(ctx.params['id']));
  });
  router.get('/lists/:id/aside.csv', async (ctx) => {
    const aside = await readAside(db, parseId(ctx.params['id']));
    sendCsv(
      ctx,
      'kept-aside.csv',
      writeCsv([['line', 'reason', 'cells'], ...aside.map((a) => [String(a.line), a.reason, ...a.cells])]),
    );
  });

  router.post('/imports', async (ctx) => {
    const name = decodeURIComponent(ctx.get('x-file-name')) || 'pasted rows';
    ctx.body = await beginImport(db, name, await readUpload(ctx), await clock.now());
  });
  router.get('/imports/:id', async (ctx) => {
    ctx.body = await viewImport(db, parseId(ctx.params['id']));
  });
  router.put('/imports/:id/columns', async (ctx) => {
    const { roles } = parse<{ roles: ColumnRole[] }>(rolesBody, ctx.request.body);
    ctx.body = await chooseRoles(db, parseId(ctx.params['id']), roles);
  });
  router.post('/imports/:id/keep', async (ctx) => {
    const { name } = parse<{ name: string }>(keepBody, ctx.request.body);
    ctx.body = { listId: await keepImport(db, parseId(ctx.params['id']), name, await clock.now()) };
  });
  router.delete('/imports/:id', async (ctx) => {
    await removeImport(db, parseId(ctx.params['id']));
    ctx.status = 204;
  });

  router.get('/suppressions', async (ctx) => {
    ctx.body = await listSuppressions(db);
  });
  router.post('/suppressions', async (ctx) => {
    const { what, reason } = parse<{ what: string; reason: string }>(suppressBody, ctx.request.body);
    await suppress({ what, reason });
    ctx.status = 204;
  });
  router.delete('/suppressions/:id', async (ctx) => {
    if (!(await removeSuppression(db, parseId(ctx.params['id']))))
      throw new DomainError('not_found', 'This entry is no longer on the list.');
    await announce(db, 'people');
    ctx.status = 204;
  });

  /** An address or a domain; whoever it covers gets nothing more, at once. */
  const suppress = async ({ what, reason }: { what: string; reason: string }) => {
    const isDomain = !what.includes('@') || what.startsWith('@');
    const parsed = parseAddress(isDomain ? `x@${what.replace(/^@/, '')}` : what);
    if (!parsed.ok)
      throw new DomainError(
        'invalid',
        `${isDomain ? `“${what}” is neither an address nor a domain` : parsed.reason}. Expected ana@vines.example or vines.example.`,
      );
    const key = isDomain ? parsed.value.domain : parsed.value.key;
    const nowMs = await clock.now();
    await db.transaction(async (tx) => {
      await addSuppression(tx, {
        kind: isDomain ? 'domain' : 'address',
        key,
        reason: reason || 'added by hand',
        source: 'by hand',
        createdAt: nowMs,
      });
      const contact = isDomain ? null : await contactByKey(tx, key);
      for (const contactId of isDomain ? await contactIdsOfDomain(tx, key) : contact ? [contact.id] : [])
        await stopContact(tx, { contactId, state: 'stopped', reason: 'put on the suppression list', nowMs });
      await announce(tx, 'people');
    });
  };
  return router;
}

/** @throws DomainError `too_large` as soon as the limit is passed, without reading the rest */
async function readUpload(ctx: Context): Promise<Buffer> {
  const tooLarge = (bytes: number) =>
    new DomainError(
      'too_large',
      `The file has ${Math.ceil(bytes / 1024 / 1024)} MB or more; Baton takes up to ${MAX_IMPORT_BYTES / 1024 / 1024} MB at once. Split it, or take out columns nobody needs; nothing has been taken.`,
    );
  const announced = Number(ctx.get('content-length') || 0);
  if (announced > MAX_IMPORT_BYTES) {
    ctx.req.resume();
    throw tooLarge(announced);
  }
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of ctx.req) {
    size += (chunk as Buffer).length;
    if (size > MAX_IMPORT_BYTES) throw tooLarge(size);
    chunks.push(chunk as Buffer);
  }
  return Buffer.concat(chunks);
}

/** A file to save; the byte order mark tells spreadsheets that it is UTF-8. */
export function sendCsv(ctx: Context, name: string, csv: string): void {
  ctx.attachment(name);
  ctx.type = 'text/csv; charset=utf-8';
  ctx.body = `\ufeff${csv}`;
}
