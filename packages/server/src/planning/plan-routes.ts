import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import { dayNumber, DomainError, PLAN_CHANGE_KINDS, whatIfKind, type ChangeEntry, type PlanChange } from '@baton/core';
import type { BatchPage, PlanVariant, PlanWork } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { isoDay, parse, parseId, rowId } from '../http/validate';
import { announce } from '../store/changes';
import { batchOf, listVariants, putVariant, removeVariant } from '../store/planning/plan-rows';
import { readWorkspace } from '../store/workspace-rows';
import { applyPlanChanges } from './apply-changes';
import { holdBatch, moveMessage } from './batches';
import { viewBoard } from './plan-board';
import { planCalendar, setSubscribed } from './plan-calendar';
import { readWork } from './plan-workspace';

const id = rowId.required();
/** What may be sent for a value; whether it makes sense is for `faultOfChange` to say. */
function valueOf(entry: ChangeEntry): Joi.Schema {
  switch (entry.form) {
    case 'number':
      return entry.optional ? Joi.number().allow(null).required() : Joi.number().required();
    case 'hours':
      return Joi.array().length(2).items(Joi.number().integer()).required();
    case 'date':
      return Joi.string().max(10).required();
    case 'tick':
      return Joi.boolean().required();
  }
}
const changes = Joi.array()
  .max(100)
  .items(
    Joi.alternatives().try(
      ...PLAN_CHANGE_KINDS.map((kind) => {
        const { targets, entry } = whatIfKind(kind);
        const ids = Object.fromEntries(targets.map((target) => [target, id]));
        return Joi.object({ kind: Joi.string().valid(kind).required(), ...ids, to: valueOf(entry) });
      }),
    ),
  )
  .required() as unknown as Joi.ArraySchema<PlanChange[]>;

const applyBody = Joi.object<{ changes: PlanChange[] }>({ changes });
const variantBody = Joi.object<{ name: string; changes: PlanChange[] }>({
  name: Joi.string().trim().min(1).max(80).required(),
  changes,
});
const batchBody = Joi.object<{ day: string; mailboxId: number | null; held: boolean }>({
  day: isoDay.required(),
  mailboxId: id.allow(null),
  held: Joi.boolean().required(),
});
const batchQuery = Joi.object<{ day: string; mailbox: number; offset: number; limit: number }>({
  day: isoDay.required(),
  mailbox: id,
  offset: Joi.number().integer().min(0).default(0),
  limit: Joi.number().integer().min(1).max(5000).default(200),
});
const moveBody = Joi.object<{ day: string }>({ day: isoDay.required() });

export function planRoutes(parts: ServerParts): Router {
  const { store, clock } = parts;
  const router = exactRouter();
  router.get('/plan', async (ctx) => {
    ctx.body = await viewBoard(parts);
  });
  router.get('/plan/work', async (ctx) => {
    const { input, campaigns, mailboxes } = await readWork(store.db, await clock.now());
    const ids = { mailboxes: mailboxes.map((m) => m.id), campaigns: campaigns.map((c) => c.id) };
    ctx.body = { input, ids } satisfies PlanWork;
  });
  router.post('/plan/apply', async (ctx) => {
    await applyPlanChanges(parts, parse(applyBody, ctx.request.body).changes);
    ctx.status = 204;
  });
  router.get('/plan/batch', async (ctx) => {
    const { day, mailbox, offset, limit } = parse(batchQuery, ctx.query);
    const page = await batchOf(store.db, { mailboxId: mailbox, day: dayNumber(day) }, { offset, limit });
    ctx.body = page satisfies BatchPage;
  });
  router.post('/plan/batch', async (ctx) => {
    const { day, mailboxId, held } = parse(batchBody, ctx.request.body);
    ctx.body = { messages: await holdBatch(parts, { day: dayNumber(day), mailboxId }, held) };
  });
  router.post('/plan/messages/:id/move', async (ctx) => {
    ctx.body = await moveMessage(parts, parseId(ctx.params['id']), dayNumber(parse(moveBody, ctx.request.body).day));
  });
  router.get('/plan/variants', async (ctx) => {
    ctx.body = (await listVariants(store.db)) satisfies PlanVariant[];
  });
  router.post('/plan/variants', async (ctx) => {
    const body = parse(variantBody, ctx.request.body);
    ctx.body = { id: await putVariant(store.db, { ...body, createdAt: await clock.now() }) };
    await announce(store.db, 'campaigns');
  });
  router.delete('/plan/variants/:id', async (ctx) => {
    if (!(await removeVariant(store.db, parseId(ctx.params['id']))))
      throw new DomainError('not_found', 'There is no such variant.');
    await announce(store.db, 'campaigns');
    ctx.status = 204;
  });
  router.get('/plan/calendar.ics', async (ctx) => {
    ctx.attachment('plan.ics');
    ctx.type = 'text/calendar; charset=utf-8';
    ctx.body = await planCalendar(store.db, await clock.now());
  });
  router.post('/plan/calendar', async (ctx) => {
    const subscribed = parse(
      Joi.object<{ subscribed: boolean }>({ subscribed: Joi.boolean().required() }),
      ctx.request.body,
    );
    ctx.body = { path: await setSubscribed(parts, subscribed.subscribed) };
    await announce(store.db, 'progress');
  });
  return router;
}

/** The calendar behind its secret address, for other programs: they send no headers of ours. */
export function calendarRoutes({ store, clock }: ServerParts): Router {
  const router = exactRouter();
  router.get('/calendar/:key.ics', async (ctx) => {
    const { calendarKey } = await readWorkspace(store.db);
    if (calendarKey === null || ctx.params['key'] !== calendarKey) {
      ctx.status = 404;
      return;
    }
    ctx.type = 'text/calendar; charset=utf-8';
    ctx.body = await planCalendar(store.db, await clock.now());
  });
  return router;
}
