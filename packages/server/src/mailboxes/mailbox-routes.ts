import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import type { MailboxChoices, MailboxRules } from '@baton/contract';
import { DomainError, parseAddress, type RestBounds } from '@baton/core';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { isoDay, parse, parseId, rowId } from '../http/validate';
import { readMailbox } from '../store/mailboxes/mailbox-rows';
import { dnsBy } from './ask-dns';
import { lookAtDomain } from './check-domain';
import { connectMany } from './connect-many';
import { findServers } from './find-servers';
import { changeRules, takeHolidays, viewRules } from './mailbox-rules';
import { mailServer, userName } from './mail-server-schema';
import { connectMailbox, setMailboxHeld, viewHistory, viewMailboxes } from './mailbox-service';

const span = Joi.array().ordered(
  Joi.number().integer().min(0).max(1439).required(),
  Joi.number().integer().min(1).max(1440).required(),
);
const choicesBody = Joi.object<MailboxChoices>({
  address: Joi.string().trim().max(320).required(),
  senderName: Joi.string().trim().min(1).max(120).required().label('sender name'),
  signature: Joi.string().allow('').max(5000).required(),
  smtp: mailServer,
  imap: mailServer,
  username: userName,
  password: Joi.string().allow('').max(1000).required(),
  grantId: rowId.allow(null).default(null).label('the access'),
  zone: Joi.string().max(60).required().label('time zone'),
  windows: Joi.array().length(7).items(Joi.array().max(5).items(span)).required(),
  dailyQuota: Joi.number().integer().min(0).max(100_000).required().label('daily quota'),
  ramp: Joi.object({
    first: Joi.number().integer().min(1).max(10_000).required().label('ramp’s first day'),
    add: Joi.number().integer().min(1).max(10_000).required().label('ramp’s growth'),
    every: Joi.number().integer().min(1).max(60).required().label('days of a ramp’s step'),
  })
    .allow(null)
    .required(),
  providerLimit24h: Joi.number().integer().min(1).max(1_000_000).allow(null).required().label('provider’s limit'),
  paceSeconds: Joi.number().integer().min(0).max(86_400).required().label('seconds between two messages'),
  archiveFolder: Joi.string().trim().allow('').max(200).default('').label('folder of copies'),
  replyTo: Joi.string().trim().allow('').max(320).default('').label('address for replies'),
  daysOff: Joi.array().max(400).items(isoDay).default([]),
});
const rulesBody = Joi.object<MailboxRules>({
  rest: Joi.object<RestBounds>({
    bounces: Joi.number().integer().min(0).max(1000).required().label('hard bounces'),
    among: Joi.number().integer().min(1).max(1000).required().label('messages looked at'),
    complaints: Joi.number().integer().min(0).max(1000).required().label('number of complaints'),
    tooMuch: Joi.boolean().required(),
    days: Joi.number().integer().min(1).max(60).required().label('working days of rest'),
  }).required(),
  domainCap: Joi.number().integer().min(1).max(100_000).allow(null).required().label('messages a day to one domain'),
  holidays: Joi.array()
    .max(2000)
    .items(Joi.object({ day: isoDay.required(), name: Joi.string().allow('').max(200).required() }))
    .required(),
});
const addressQuery = Joi.object<{ address: string }>({ address: Joi.string().trim().max(320).required() });
const fileBody = Joi.object<{ file: string }>({ file: Joi.string().max(1_000_000).required() });
const calendarBody = Joi.object<{ calendar: string }>({ calendar: Joi.string().max(2_000_000).required() });

export function mailboxRoutes(parts: ServerParts): Router {
  const router = exactRouter();
  const dns = dnsBy(parts.simulator);
  router.get('/mailboxes/servers', async (ctx) => {
    const { address } = parse(addressQuery, ctx.query);
    ctx.body = await findServers(domainOf(address), dns);
  });
  router.get('/mailboxes/rules', async (ctx) => {
    ctx.body = await viewRules(parts);
  });
  router.put('/mailboxes/rules', async (ctx) => {
    await changeRules(parts, parse(rulesBody, ctx.request.body));
    ctx.status = 204;
  });
  router.post('/mailboxes/holidays', async (ctx) => {
    ctx.body = { days: await takeHolidays(parts, parse(calendarBody, ctx.request.body).calendar) };
  });
  router.post('/mailboxes/many', async (ctx) => {
    ctx.body = await connectMany(parts, parse(fileBody, ctx.request.body).file, dns);
  });
  router.get('/mailboxes/:id/records', async (ctx) => {
    const mailbox = await readMailbox(parts.store.db, parseId(ctx.params['id']));
    if (!mailbox) throw new DomainError('not_found', 'There is no such mailbox.');
    ctx.body = await lookAtDomain(domainOf(mailbox.address), { ...parts, dns });
  });
  router.get('/mailboxes/:id/history', async (ctx) => {
    ctx.body = await viewHistory(parts, parseId(ctx.params['id']));
  });
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

/** @throws DomainError `invalid` for what is not an address */
function domainOf(address: string): string {
  const parsed = parseAddress(address);
  if (!parsed.ok) throw new DomainError('invalid', `${parsed.reason}.`);
  return parsed.value.domain;
}
