import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import { RECIPIENT_STATES } from '@baton/core';
import {
  ROWS_FORMATS,
  type NewCampaign,
  type RecipientQuery,
  type RowsFormat,
  type StartRequest,
} from '@baton/contract';
import { Readable } from 'node:stream';
import Joi from 'joi';
import type { Context } from 'koa';
import type { ServerParts } from '../http/context';
import { isoDay, parse, parseId, rowId } from '../http/validate';
import { settleUnconfirmed } from '../sending/settle-unconfirmed';
import { changeBrief, setHeld, startCampaign, viewBrief, viewCampaigns } from './campaign-service';
import { SENT_FORMATS, sentFile } from './sent-file';
import { outcomeFile, viewRecipients } from './recipients';
import { campaignName, changeBody } from './change-body';
import { chosenRecipients } from './change-routes';
import { createCampaign } from './create-campaign';
import { Starts } from './starts';
import { keepPattern, removePattern, viewPatterns } from './patterns';
import { choiceOfRows } from '../people/list/list-routes';

const from = (kind: string, keys: Joi.SchemaMap) => Joi.object({ kind: Joi.string().valid(kind).required(), ...keys });
const newBody = Joi.object<NewCampaign>({
  name: campaignName,
  from: Joi.alternatives(
    from('copy', { campaignId: rowId.required() }),
    from('pattern', { patternId: rowId.required() }),
    from('rows', { listId: rowId.required(), choice: choiceOfRows }),
    from('segment', { listId: rowId.required(), segmentId: rowId.required() }),
    from('message', { messageId: rowId.required() }),
    from('recipients', {
      campaignId: rowId.required(),
      who: Joi.object(chosenRecipients).xor('enrolmentIds', 'found').required(),
    }),
  ),
});
const startBody = Joi.object<StartRequest>({
  people: Joi.number().integer().min(0).required(),
  lastDay: isoDay.allow(null),
});

const patternBody = Joi.object<{ name: string }>({ name: campaignName });

const settleBody = Joi.object<{ left: boolean }>({ left: Joi.boolean().required() });
const recipientQuery = Joi.object<RecipientQuery>({
  state: Joi.string()
    .valid('', ...RECIPIENT_STATES)
    .default(''),
  search: Joi.string().trim().allow('').max(200).default(''),
  sort: Joi.string()
    .pattern(/^(?:who|state|from|outcome|step_\d{1,2})$/)
    .allow('')
    .default(''),
  descending: Joi.boolean().default(false),
  offset: Joi.number().integer().min(0).default(0),
  limit: Joi.number().integer().min(1).max(500).default(100),
});

export function campaignRoutes(parts: ServerParts): Router {
  const router = exactRouter();
  const db = parts.store.db;
  router.get('/campaigns', async (ctx) => {
    ctx.body = await viewCampaigns(parts);
  });
  router.post('/campaigns', async (ctx) => {
    ctx.body = {
      id: await createCampaign(parts, parse(newBody, ctx.request.body)),
    };
  });
  router.get('/campaigns/:id', async (ctx) => {
    ctx.body = await viewBrief(parts, parseId(ctx.params['id']));
  });
  router.put('/campaigns/:id', async (ctx) => {
    const campaignId = parseId(ctx.params['id']);
    await changeBrief(parts, campaignId, parse(changeBody, ctx.request.body));
    ctx.body = await viewBrief(parts, campaignId);
  });
  router.post('/campaigns/:id/hold', async (ctx) => {
    await setHeld(parts, parseId(ctx.params['id']), true);
    ctx.status = 204;
  });
  router.post('/campaigns/:id/release', async (ctx) => {
    await setHeld(parts, parseId(ctx.params['id']), false);
    ctx.status = 204;
  });
  router.get('/campaigns/:id/recipients', async (ctx) => {
    ctx.body = await viewRecipients(parts, parseId(ctx.params['id']), parse(recipientQuery, ctx.query));
  });
  router.post('/deliveries/:id/settle', async (ctx) => {
    const { left } = parse(settleBody, ctx.request.body);
    await settleUnconfirmed(parts.store.db, parseId(ctx.params['id']), left, await parts.clock.now());
    ctx.status = 204;
  });
  const sendRows = (format?: RowsFormat) => async (ctx: Context) => {
    const { name, type, body } = await outcomeFile(db, parseId(ctx['params'].id), format);
    ctx.attachment(name);
    ctx.type = type;
    ctx.body = body;
  };
  for (const format of SENT_FORMATS)
    router.get(`/campaigns/:id/sent.${format}`, async (ctx) => {
      const { name, type, content } = await sentFile(parts, parseId(ctx.params['id']), format);
      ctx.attachment(name);
      ctx.type = type;
      ctx.body = Readable.from(content);
    });
  router.get('/campaigns/:id/outcomes', sendRows());
  for (const format of ROWS_FORMATS) router.get(`/campaigns/:id/outcomes.${format}`, sendRows(format));
  startRoutes(router, parts);
  patternRoutes(router, parts);
  return router;
}

function startRoutes(router: Router, parts: ServerParts): void {
  const starts = new Starts();
  router.post('/campaigns/:id/start', async (ctx) => {
    const id = parseId(ctx.params['id']);
    const shown = parse(startBody, ctx.request.body);
    await starts.run(id, (tell) => startCampaign(parts, id, shown, tell));
    ctx.status = 204;
  });
  router.get('/campaigns/:id/start', (ctx) => {
    ctx.body = { progress: starts.progress(parseId(ctx.params['id'])) };
  });
  router.delete('/campaigns/:id/start', (ctx) => {
    starts.cancel(parseId(ctx.params['id']));
    ctx.status = 204;
  });
}

/** Sequences that are kept to begin campaigns with. */
function patternRoutes(router: Router, { store: { db }, clock }: ServerParts): void {
  router.get('/patterns', async (ctx) => {
    ctx.body = await viewPatterns(db);
  });
  router.post('/campaigns/:id/pattern', async (ctx) => {
    await keepPattern(db, parseId(ctx.params['id']), parse(patternBody, ctx.request.body).name);
    ctx.status = 204;
  });
  router.delete('/patterns/:id', async (ctx) => {
    await removePattern(db, parseId(ctx.params['id']), await clock.now());
    ctx.status = 204;
  });
  router.post('/patterns/:id/restore', async (ctx) => {
    await removePattern(db, parseId(ctx.params['id']), null);
    ctx.status = 204;
  });
}
