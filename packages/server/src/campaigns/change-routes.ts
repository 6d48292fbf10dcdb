import type Router from '@koa/router';
import { PERSON_ACTS, RECIPIENT_STATES } from '@baton/core';
import { MOST_ACTED_ON, type PersonActRequest } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { exactRouter } from '../http/exact-router';
import { isoDay, parse, parseId, rowId } from '../http/validate';
import { viewBrief } from './campaign-service';
import { changeBody } from './change-body';
import { applyChange, previewChange } from './change-running';
import { actOnPeople, endCampaign } from './person-acts';
import { undoChange } from './undo-change';

/** Which recipients are meant, as it comes in. */
export const chosenRecipients = {
  enrolmentIds: Joi.array().max(MOST_ACTED_ON).unique().items(rowId),
  found: Joi.object({
    state: Joi.string()
      .valid('', ...RECIPIENT_STATES)
      .required(),
    search: Joi.string().trim().allow('').max(200).required(),
    people: Joi.number().integer().min(1).required(),
  }),
};

const actBody = Joi.object<PersonActRequest>({
  act: Joi.string()
    .valid(...PERSON_ACTS)
    .required(),
  ...chosenRecipients,
  day: isoDay.allow(null),
  mailboxId: rowId,
}).xor('enrolmentIds', 'found');

/** The last day until which a campaign that has ended goes on; null for no end. */
const goOnBody = Joi.object<{ endDate: string | null }>({ endDate: isoDay.allow(null).required() });

/** What is changed of a campaign that is under way. */
export function changeRoutes(parts: ServerParts): Router {
  const router = exactRouter();
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
  router.post('/campaigns/:id/go-on', async (ctx) => {
    const campaignId = parseId(ctx.params['id']);
    const { endDate } = parse(goOnBody, ctx.request.body);
    await undoChange(parts, campaignId, { endDate, endMinute: null });
    ctx.body = await viewBrief(parts, campaignId);
  });
  router.post('/campaigns/:id/end', async (ctx) => {
    await endCampaign(parts, parseId(ctx.params['id']));
    ctx.status = 204;
  });
  router.post('/campaigns/:id/people', async (ctx) => {
    ctx.body = await actOnPeople(parts, parseId(ctx.params['id']), parse(actBody, ctx.request.body));
  });
  return router;
}
