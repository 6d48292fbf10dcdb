import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import { DomainError, INCOMING_HEADINGS, INCOMING_KINDS, incomingEntry, ownWords } from '@baton/core';
import {
  MOST_REPLIES,
  OUTCOMES,
  SAYABLE_KINDS,
  type IncomingView,
  type Outcome,
  type ReplyFilter,
  type ReplyChange,
  type ReplyPage,
  type SayableKind,
} from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { isoDay, parse, parseId, rowId } from '../http/validate';
import { announce } from '../store/changes';
import { localToday } from '../time/local-today';
import {
  changeIncoming,
  countIncoming,
  forgetReminder,
  listColleagues,
  listIncoming,
  readIncoming,
  updateIncoming,
  type IncomingCount,
  type IncomingFilter,
} from '../store/reading/reply-rows';
import { IncomingDecisions } from './settle';
import { changeAddress, takeOntoList, type Named } from './take-onto-list';
import { viewThread } from './thread';

const outcomeBody = Joi.object({
  outcome: Joi.string()
    .valid(...OUTCOMES)
    .allow(null)
    .required(),
});
const kindBody = Joi.object<{ kind: SayableKind }>({
  kind: Joi.string()
    .valid(...SAYABLE_KINDS)
    .required(),
});
const personBody = Joi.object<{ address: string | null }>({
  address: Joi.string().trim().lowercase().max(320).allow(null).required(),
});
const addressBody = Joi.object<{ address: string }>({ address: Joi.string().trim().max(320).required() });
const contactBody = Joi.object<Named>({
  address: Joi.string().trim().max(320).required(),
  name: Joi.string().trim().max(200).allow('').default(''),
});
const FILTERS: readonly ReplyFilter[] = [
  'without_outcome',
  'later',
  'unmatched',
  'all',
  ...INCOMING_HEADINGS.map((h) => h.kind),
];
interface PageAsked {
  show: ReplyFilter;
  search: string;
  assigned: string;
  offset: number;
  limit: number;
}
const assignee = Joi.string().trim().max(100).allow('');
const pageQuery = Joi.object<PageAsked>({
  show: Joi.string()
    .valid(...FILTERS)
    .default('all'),
  search: Joi.string().trim().max(200).allow('').default(''),
  assigned: assignee.default(''),
  offset: Joi.number().integer().min(0).default(0),
  limit: Joi.number().integer().min(1).max(MOST_REPLIES).default(200),
});

const changeBody = Joi.object<{ ids: number[]; change: ReplyChange }>({
  ids: Joi.array().items(rowId).min(1).max(MOST_REPLIES).required(),
  change: Joi.object<ReplyChange>({
    outcome: Joi.string()
      .valid(...OUTCOMES)
      .allow(null),
    assignedTo: assignee,
    remindOn: isoDay.allow(null),
  })
    .min(1)
    .required(),
});

function filterOf(show: ReplyFilter, today: string): IncomingFilter {
  if (show === 'all') return {};
  if (show === 'without_outcome') return { waitsOn: today };
  if (show === 'later') return { laterThan: today };
  if (show === 'unmatched') return { isUnmatched: true };
  return { kinds: INCOMING_KINDS.filter((kind) => incomingEntry(kind).heading === show) };
}

const viewOf = ({
  body,
  enrolmentId: _,
  parts: __,
  ...r
}: Awaited<ReturnType<typeof listIncoming>>[number]): IncomingView => ({ ...r, own: ownWords(body) });

export function replyRoutes(parts: ServerParts): Router {
  const { store } = parts;
  const router = exactRouter();
  router.get('/replies', async (ctx) => {
    const { show, search, assigned: assignedTo, offset, limit } = parse(pageQuery, ctx.query);
    const today = await localToday(parts);
    const counts = countsOf(await countIncoming(store.db, { search, assignedTo }, today));
    const filter = { ...filterOf(show, today), search, assignedTo };
    ctx.body = {
      replies: (await listIncoming(store.db, filter, { offset, limit })).map(viewOf),
      total: counts[show] ?? 0,
      counts,
      colleagues: await listColleagues(store.db),
    } satisfies ReplyPage;
  });
  router.patch('/replies', async (ctx) => {
    const { ids, change } = parse(changeBody, ctx.request.body);
    ctx.body = { changed: await changeIncoming(store.db, ids, change, await localToday(parts)) };
    await announce(store.db, 'replies', 'today', 'progress');
  });
  router.get('/replies/:id', async (ctx) => {
    const [reply] = await listIncoming(store.db, { id: parseId(ctx.params['id']) }, { offset: 0, limit: 1 });
    if (!reply) throw new DomainError('not_found', 'There is no such reply.');
    ctx.body = viewOf(reply);
  });
  router.get('/replies/:id/thread', async (ctx) => {
    ctx.body = await viewThread(parts, parseId(ctx.params['id']));
  });
  router.put('/replies/:id/outcome', async (ctx) => {
    const id = parseId(ctx.params['id']);
    const { outcome } = parse<{ outcome: Outcome | null }>(outcomeBody, ctx.request.body);
    const reply = await readIncoming(store.db, id);
    if (!reply) throw new DomainError('not_found', 'There is no such reply.');
    // Whoever gives it an outcome takes it for theirs.
    const isTheirs = outcome !== null && reply.match === 'unsure';
    await updateIncoming(store.db, id, { outcome, ...(isTheirs ? { match: 'sure' } : {}) });
    if (outcome !== null) await forgetReminder(store.db, id, await localToday(parts));
    await announce(store.db, 'replies', 'today', 'progress');
    ctx.status = 204;
  });
  decisionRoutes(router, parts);
  return router;
}

/** What a person says of a message: that Baton was wrong about it, whose it is, whom it names. */
function decisionRoutes(router: Router, { store, clock }: ServerParts): void {
  const decisions = new IncomingDecisions(store);
  router.post('/replies/:id/undo', async (ctx) => {
    await decisions.undo(parseId(ctx.params['id']), await clock.now());
    ctx.status = 204;
  });
  router.post('/replies/:id/release-colleagues', async (ctx) => {
    await decisions.releaseColleagues(parseId(ctx.params['id']), await clock.now());
    ctx.status = 204;
  });
  router.put('/replies/:id/kind', async (ctx) => {
    const { kind } = parse(kindBody, ctx.request.body);
    await decisions.setKind(parseId(ctx.params['id']), kind, await clock.now());
    ctx.status = 204;
  });
  router.put('/replies/:id/person', async (ctx) => {
    const { address } = parse(personBody, ctx.request.body);
    await decisions.setPerson(parseId(ctx.params['id']), address, await clock.now());
    ctx.status = 204;
  });
  router.post('/replies/:id/contact', async (ctx) => {
    const named = parse(contactBody, ctx.request.body);
    ctx.body = { list: await takeOntoList(store, parseId(ctx.params['id']), named, await clock.now()) };
  });
  router.post('/replies/:id/address', async (ctx) => {
    const { address } = parse(addressBody, ctx.request.body);
    ctx.body = { list: await changeAddress(store, parseId(ctx.params['id']), address, await clock.now()) };
  });
}

function countsOf(kinds: readonly IncomingCount[]): ReplyPage['counts'] {
  const counts: ReplyPage['counts'] = {};
  const add = (filter: ReplyFilter, n: number) => (counts[filter] = (counts[filter] ?? 0) + n);
  for (const { kind, matched, unmatched, waiting, later } of kinds) {
    add('all', matched + unmatched);
    add('without_outcome', waiting);
    add('later', later);
    if (kind !== 'noise') add('unmatched', unmatched);
    const heading = incomingEntry(kind).heading;
    if (heading !== null) add(heading, matched);
  }
  return counts;
}
