import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import { PERSON_ACTS, RECIPIENT_STATES } from '@baton/core';
import {
  MOST_ACTED_ON,
  MOST_DAILY_LIMIT,
  MOST_DELAY_DAYS,
  type BriefChange,
  type PersonActRequest,
  type RecipientQuery,
  type StartRequest,
} from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { isoDay, parse, parseId, rowId } from '../http/validate';
import { sendCsv } from '../http/send-csv';
import { settleUnconfirmed } from '../sending/settle-unconfirmed';
import {
  changeBrief,
  createCampaign,
  outcomeFile,
  setHeld,
  startCampaign,
  viewBrief,
  viewCampaigns,
  viewRecipients,
} from './campaign-service';
import { applyChange, previewChange } from './change-running';
import { actOnPeople, endCampaign } from './person-acts';
import { undoChange } from './undo-change';

const name = Joi.string().trim().min(1).max(120).required();
const id = rowId;
const changeBody = Joi.object<BriefChange>({
  revision: Joi.number().integer().min(0).required(),
  name,
  listId: id.allow(null).required(),
  segmentId: id.allow(null).default(null),
  steps: Joi.array()
    .max(10)
    .items(
      Joi.object({
        number: Joi.number().integer().min(0).max(10_000).allow(null).default(null),
        renews: Joi.boolean().default(false),
        messageId: id.allow(null).required(),
        others: Joi.array().max(9).items(id.allow(null)).default([]),
        delay: Joi.number().integer().min(0).max(MOST_DELAY_DAYS).required(),
        tolerance: Joi.number().integer().min(0).max(60).required(),
      }),
    )
    .required(),
  mailboxIds: Joi.array().max(200).unique().items(id).required(),
  startDate: isoDay.required(),
  window: Joi.object({
    weekdays: Joi.array().unique().min(1).items(Joi.number().integer().min(1).max(7)).required(),
    from: Joi.number().integer().min(0).max(1439).required(),
    to: Joi.number().integer().greater(Joi.ref('from')).max(1440).required(),
  }).required(),
  windowZone: Joi.string().valid('recipient', 'workspace').required(),
  dailyLimit: Joi.number().integer().min(1).max(MOST_DAILY_LIMIT).allow(null).required(),
  share: Joi.number().integer().min(1).max(9).default(1),
  leaveOutBlank: Joi.boolean().required(),
  leaveOutDoubtful: Joi.boolean().allow(null).default(null),
  enrolNew: Joi.boolean().default(false),
  replyEndsHere: Joi.boolean().default(false),
  holdsColleagues: Joi.boolean().default(false),
  variants: Joi.array().max(10).items(Joi.number().integer().min(0).max(100)).default([]),
  needsLines: Joi.boolean().default(false),
});
const startBody = Joi.object<StartRequest>({
  people: Joi.number().integer().min(1).required(),
  lastDay: isoDay.allow(null),
});

const actBody = Joi.object<PersonActRequest>({
  act: Joi.string()
    .valid(...PERSON_ACTS)
    .required(),
  enrolmentIds: Joi.array().max(MOST_ACTED_ON).unique().items(id),
  found: Joi.object({
    state: Joi.string()
      .valid('', ...RECIPIENT_STATES)
      .required(),
    search: Joi.string().trim().allow('').max(200).required(),
    people: Joi.number().integer().min(1).required(),
  }),
  day: isoDay.allow(null),
  mailboxId: id,
}).xor('enrolmentIds', 'found');

const settleBody = Joi.object<{ left: boolean }>({ left: Joi.boolean().required() });
const recipientQuery = Joi.object<RecipientQuery>({
  state: Joi.string()
    .valid('', ...RECIPIENT_STATES)
    .default(''),
  search: Joi.string().trim().allow('').max(200).default(''),
  offset: Joi.number().integer().min(0).default(0),
  limit: Joi.number().integer().min(1).max(500).default(100),
});

export function campaignRoutes(parts: ServerParts): Router {
  const router = exactRouter();
  const db = parts.store.db;
  router.get('/campaigns', async (ctx) => {
    ctx.body = await viewCampaigns(db);
  });
  router.post('/campaigns', async (ctx) => {
    ctx.body = {
      id: await createCampaign(parts, parse<{ name: string }>(Joi.object({ name }), ctx.request.body).name),
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
  router.post('/campaigns/:id/changes/preview', async (ctx) => {
    ctx.body = await previewChange(parts, parseId(ctx.params['id']), parse(changeBody, ctx.request.body));
  });
  router.post('/campaigns/:id/changes', async (ctx) => {
    const campaignId = parseId(ctx.params['id']);
    await applyChange(parts, campaignId, parse(changeBody, ctx.request.body));
    ctx.body = await viewBrief(parts, campaignId);
  });
  router.post('/campaigns/:id/changes/undo', async (ctx) => {
    const campaignId = parseId(ctx.params['id']);
    await undoChange(parts, campaignId);
    ctx.body = await viewBrief(parts, campaignId);
  });
  router.post('/campaigns/:id/end', async (ctx) => {
    await endCampaign(parts, parseId(ctx.params['id']));
    ctx.status = 204;
  });
  router.post('/campaigns/:id/people', async (ctx) => {
    ctx.body = await actOnPeople(parts, parseId(ctx.params['id']), parse(actBody, ctx.request.body));
  });
  router.post('/campaigns/:id/start', async (ctx) => {
    await startCampaign(parts, parseId(ctx.params['id']), parse(startBody, ctx.request.body));
    ctx.status = 204;
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
  router.get('/campaigns/:id/outcomes.csv', async (ctx) => {
    const file = await outcomeFile(db, parseId(ctx.params['id']));
    sendCsv(ctx, file.name, file.csv);
  });
  return router;
}
