import Router from '@koa/router';
import type { MessageDraft } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { parse, parseId } from '../http/validate';
import { faultOf, saveMessage, viewMessages, viewProof } from './message-service';

const draft = {
  name: Joi.string().trim().min(1).max(120).required(),
  subject: Joi.string().allow('').max(2000).required(),
  body: Joi.string().allow('').max(200_000).required(),
};
const draftBody = Joi.object<MessageDraft>(draft);
const proofBody = Joi.object({
  ...draft,
  name: Joi.string().allow('').max(120).default(''),
  listId: Joi.number().integer().required(),
  index: Joi.number().integer().min(0).required(),
  mailboxId: Joi.number().integer().allow(null).default(null),
});

export function messageRoutes(parts: ServerParts): Router {
  const router = new Router();
  router.get('/messages', async (ctx) => {
    ctx.body = await viewMessages(parts.store.db);
  });
  router.post('/messages', async (ctx) => {
    ctx.body = { id: await saveMessage(parts, null, parse(draftBody, ctx.request.body)) };
  });
  router.put('/messages/:id', async (ctx) => {
    const id = parseId(ctx.params['id']);
    const saved = parse(draftBody, ctx.request.body);
    await saveMessage(parts, id, saved);
    ctx.body = { fault: faultOf(saved) };
  });
  router.post('/proof', async (ctx) => {
    const { listId, index, mailboxId, ...message } = parse<
      MessageDraft & { listId: number; index: number; mailboxId: number | null }
    >(proofBody, ctx.request.body);
    const fault = faultOf(message);
    ctx.body = fault ? { fault } : { proof: await viewProof(parts, message, listId, index, mailboxId) };
  });
  return router;
}
