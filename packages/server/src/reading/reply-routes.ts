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
  type ReplyPage,
  type SayableKind,
  type ThreadMessage,
} from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { parse, parseId } from '../http/validate';
import { enrolledProof } from '../messages/enrolled-proof';
import { announce } from '../store/changes';
import {
  countIncoming,
  listIncoming,
  readIncoming,
  updateIncoming,
  type IncomingCount,
  type IncomingFilter,
} from '../store/reading/reply-rows';
import { IncomingDecisions } from './settle';
import { takeOntoList, type Named } from './take-onto-list';
import { readEnrolledMessages } from '../store/sending/sent-rows';

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
const contactBody = Joi.object<Named>({
  address: Joi.string().trim().max(320).required(),
  name: Joi.string().trim().max(200).allow('').default(''),
});
const FILTERS: readonly ReplyFilter[] = [
  'without_outcome',
  'unmatched',
  'all',
  ...INCOMING_HEADINGS.map((h) => h.kind),
];
const pageQuery = Joi.object<{ show: ReplyFilter; search: string; offset: number; limit: number }>({
  show: Joi.string()
    .valid(...FILTERS)
    .default('all'),
  search: Joi.string().trim().max(200).allow('').default(''),
  offset: Joi.number().integer().min(0).default(0),
  limit: Joi.number().integer().min(1).max(MOST_REPLIES).default(200),
});

function filterOf(show: ReplyFilter): IncomingFilter {
  if (show === 'all') return {};
  if (show === 'without_outcome') return { isWaiting: true };
  if (show === 'unmatched') return { isUnmatched: true };
  return { kinds: INCOMING_KINDS.filter((kind) => incomingEntry(kind).heading === show) };
}

const viewOf = ({ body, enrolmentId: _, ...r }: Awaited<ReturnType<typeof listIncoming>>[number]): IncomingView => ({
  ...r,
  own: ownWords(body),
});

export function replyRoutes(parts: ServerParts): Router {
  const { store, clock } = parts;
  const router = exactRouter();
  const decisions = new IncomingDecisions(store);
  router.get('/replies', async (ctx) => {
    const { show, search, offset, limit } = parse(pageQuery, ctx.query);
    const counts = countsOf(await countIncoming(store.db, search));
    ctx.body = {
      replies: (await listIncoming(store.db, { ...filterOf(show), search }, { offset, limit })).map(viewOf),
      total: counts[show] ?? 0,
      counts,
    } satisfies ReplyPage;
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
    await announce(store.db, 'replies', 'today', 'progress');
    ctx.status = 204;
  });
  router.post('/replies/:id/undo', async (ctx) => {
    await decisions.undo(parseId(ctx.params['id']), await clock.now());
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
  return router;
}

function countsOf(kinds: readonly IncomingCount[]): ReplyPage['counts'] {
  const counts: ReplyPage['counts'] = {};
  const add = (filter: ReplyFilter, n: number) => (counts[filter] = (counts[filter] ?? 0) + n);
  for (const { kind, matched, unmatched, waiting } of kinds) {
    add('all', matched + unmatched);
    add('without_outcome', waiting);
    if (kind !== 'noise') add('unmatched', unmatched);
    const heading = incomingEntry(kind).heading;
    if (heading !== null) add(heading, matched);
  }
  return counts;
}

/** What went out to the person and what came back, oldest first; messages sent are rebuilt from what is stored. */
async function viewThread(parts: ServerParts, id: number): Promise<ThreadMessage[]> {
  const { db } = parts.store;
  const incoming = await readIncoming(db, id);
  if (!incoming) throw new DomainError('not_found', 'There is no such reply.');
  const { enrolmentId } = incoming;
  const out: ThreadMessage[] = [];
  for (const message of enrolmentId === null ? [] : await readEnrolledMessages(db, { enrolmentId })) {
    if (message.sentAt === null) continue;
    const { proof, mailbox } = await enrolledProof(parts, message);
    const who = proof.senderName || mailbox.senderName;
    const subject = message.sentSubject ?? proof.subject;
    out.push({ direction: 'out', at: message.sentAt, who, subject, text: proof.text });
  }
  out.push({
    direction: 'in',
    at: incoming.receivedAt,
    who: incoming.fromName,
    subject: incoming.subject,
    text: ownWords(incoming.body),
  });
  return out.sort((a, b) => a.at - b.at);
}
