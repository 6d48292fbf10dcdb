import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import { DomainError, INCOMING_HEADINGS, INCOMING_KINDS, incomingEntry, ownWords } from '@baton/core';
import {
  MOST_REPLIES,
  OUTCOMES,
  type IncomingView,
  type Outcome,
  type ReplyFilter,
  type ReplyPage,
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
  type IncomingFilter,
} from '../store/reading/reply-rows';
import { readEnrolledMessages } from '../store/sending/sent-rows';

const outcomeBody = Joi.object({
  outcome: Joi.string()
    .valid(...OUTCOMES)
    .allow(null)
    .required(),
});
const FILTERS: readonly ReplyFilter[] = ['without_outcome', 'all', ...INCOMING_HEADINGS.map((h) => h.kind)];
const pageQuery = Joi.object<{ show: ReplyFilter; offset: number; limit: number }>({
  show: Joi.string()
    .valid(...FILTERS)
    .default('all'),
  offset: Joi.number().integer().min(0).default(0),
  limit: Joi.number().integer().min(1).max(MOST_REPLIES).default(200),
});

const filterOf = (show: ReplyFilter): IncomingFilter =>
  show === 'all'
    ? {}
    : show === 'without_outcome'
      ? { isWaiting: true }
      : { kinds: INCOMING_KINDS.filter((kind) => incomingEntry(kind).heading === show) };

const viewOf = ({ body, enrolmentId: _, ...r }: Awaited<ReturnType<typeof listIncoming>>[number]): IncomingView => ({
  ...r,
  own: ownWords(body),
});

export function replyRoutes(parts: ServerParts): Router {
  const { store } = parts;
  const router = exactRouter();
  router.get('/replies', async (ctx) => {
    const { show, offset, limit } = parse(pageQuery, ctx.query);
    const kinds = await countIncoming(store.db);
    const counts = countsOf(kinds);
    ctx.body = {
      replies: (await listIncoming(store.db, filterOf(show), { offset, limit })).map(viewOf),
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
    if (!(await readIncoming(store.db, id))) throw new DomainError('not_found', 'There is no such reply.');
    await updateIncoming(store.db, id, { outcome });
    await announce(store.db, 'replies', 'today', 'progress');
    ctx.status = 204;
  });
  return router;
}

function countsOf(kinds: Awaited<ReturnType<typeof countIncoming>>): ReplyPage['counts'] {
  const counts: ReplyPage['counts'] = {};
  const add = (filter: ReplyFilter, n: number) => (counts[filter] = (counts[filter] ?? 0) + n);
  for (const { kind, n, waiting } of kinds) {
    add('all', n);
    add('without_outcome', waiting);
    const heading = incomingEntry(kind).heading;
    if (heading !== null) add(heading, n);
  }
  return counts;
}

/** What went out to the person and what came back, oldest first; messages sent are rebuilt from what is stored. */
async function viewThread(parts: ServerParts, id: number): Promise<ThreadMessage[]> {
  const { db } = parts.store;
  const incoming = await readIncoming(db, id);
  if (incoming?.enrolmentId == null) throw new DomainError('not_found', 'There is no such reply.');
  const out: ThreadMessage[] = [];
  for (const message of await readEnrolledMessages(db, { enrolmentId: incoming.enrolmentId })) {
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
