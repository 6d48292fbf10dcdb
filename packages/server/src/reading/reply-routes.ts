import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import { DomainError, withoutQuotation } from '@baton/core';
import { OUTCOMES, type IncomingView, type Outcome, type ThreadMessage } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { parse, parseId } from '../http/validate';
import { enrolledProof } from '../messages/enrolled-proof';
import { announce } from '../store/changes';
import { listIncoming, readIncoming, updateIncoming } from '../store/reading/reply-rows';
import { readEnrolledMessages } from '../store/sending/sent-rows';

const outcomeBody = Joi.object({
  outcome: Joi.string()
    .valid(...OUTCOMES)
    .allow(null)
    .required(),
});
const MOST_SHOWN = 500;

export function replyRoutes(parts: ServerParts): Router {
  const { store } = parts;
  const router = exactRouter();
  router.get('/replies', async (ctx) => {
    ctx.body = (await listIncoming(store.db, MOST_SHOWN)).map(({ body, enrolmentId: _, ...r }): IncomingView => ({
      ...r,
      own: withoutQuotation(body),
    }));
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

/** What went out to the person and what came back, oldest first; what went out is put together again from what is stored. */
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
    text: withoutQuotation(incoming.body),
  });
  return out.sort((a, b) => a.at - b.at);
}
