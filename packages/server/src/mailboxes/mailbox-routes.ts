import Router from '@koa/router';
import type { MailboxChoices } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { parse, parseId } from '../http/validate';
import { connectMailbox, setMailboxHeld, viewMailboxes } from './mailbox-service';

const server = Joi.object({
  host: Joi.string().trim().hostname().required(),
  port: Joi.number().port().required(),
  security: Joi.string().valid('tls', 'starttls', 'none').required(),
}).required();
const span = Joi.array().ordered(
  Joi.number().integer().min(0).max(1439).required(),
  Joi.number().integer().min(1).max(1440).required(),
);
const choicesBody = Joi.object<MailboxChoices>({
  address: Joi.string().trim().max(320).required(),
  senderName: Joi.string().trim().min(1).max(120).required(),
  signature: Joi.string().allow('').max(5000).required(),
  smtp: server,
  imap: server,
  username: Joi.string().trim().min(1).max(320).required(),
  password: Joi.string().allow('').max(1000).required(),
  zone: Joi.string().max(60).required(),
  windows: Joi.array().length(7).items(Joi.array().max(5).items(span)).required(),
  dailyQuota: Joi.number().integer().min(0).max(100_000).required(),
  ramp: Joi.object({
    first: Joi.number().integer().min(1).max(10_000).required(),
    add: Joi.number().integer().min(1).max(10_000).required(),
    every: Joi.number().integer().min(1).max(60).required(),
  })
    .allow(null)
    .required(),
  providerLimit24h: Joi.number().integer().min(1).max(1_000_000).allow(null).required(),
  paceSeconds: Joi.number().integer().min(0).max(86_400).required(),
  keepsSent: Joi.boolean().required(),
});

export function mailboxRoutes(parts: ServerParts): Router {
  const router = new Router();
  router.get('/mailboxes', async (ctx) => {
    ctx.body = await viewMailboxes(parts);
  });
  router.post('/mailboxes', async (ctx) => {
    ctx.body = await connectMailbox(parts, null, parse(choicesBody, ctx.request.body));
  });
  router.put('/mailboxes/:id', async (ctx) => {
    ctx.body = await connectMailbox(parts, parseId(ctx.params['id']), parse(choicesBody, ctx.request.body));
  });
  router.post('/mailboxes/:id/hold', async (ctx) => {
    await setMailboxHeld(parts, parseId(ctx.params['id']), true);
    ctx.status = 204;
  });
  router.post('/mailboxes/:id/release', async (ctx) => {
    await setMailboxHeld(parts, parseId(ctx.params['id']), false);
    ctx.status = 204;
  });
  return router;
}
