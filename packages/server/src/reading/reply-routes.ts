import Router from '@koa/router';
import { DomainError, renderProof, withoutQuotation } from '@baton/core';
import { OUTCOMES, type IncomingView, type Outcome, type ThreadMessage } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { parse, parseId } from '../http/validate';
import { senderValues } from '../messages/message-service';
import { CompiledMessages } from '../sending/compose';
import { unsubscribeUrl } from '../sending/unsubscribe-link';
import { announce } from '../store/changes';
import { readEnrolment, readSteps } from '../store/campaign-rows';
import { readMailbox } from '../store/mailbox-rows';
import { listIncoming, readIncoming, sentToEnrolment, updateIncoming } from '../store/reply-rows';
import { readWorkspace } from '../store/workspace-rows';

const outcomeBody = Joi.object({
  outcome: Joi.string()
    .valid(...OUTCOMES)
    .allow(null)
    .required(),
});
const MOST_SHOWN = 500;

export function replyRoutes(parts: ServerParts): Router {
  const { store } = parts;
  const router = new Router();
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
async function viewThread({ store, config, secrets }: ServerParts, id: number): Promise<ThreadMessage[]> {
  const incoming = await readIncoming(store.db, id);
  if (incoming?.enrolmentId == null) throw new DomainError('not_found', 'There is no such reply.');
  const enrolment = await readEnrolment(store.db, incoming.enrolmentId);
  if (!enrolment) throw new DomainError('not_found', 'There is no such reply.');
  const mailbox = await readMailbox(store.db, incoming.mailboxId);
  if (!mailbox) throw new DomainError('not_found', 'There is no such reply.');
  const steps = await readSteps(store.db, [enrolment.campaignId]);
  const link = unsubscribeUrl(config.publicUrl, secrets, enrolment.id);
  const sender = senderValues(mailbox, link, (await readWorkspace(store.db)).postalAddress);
  const compiled = new CompiledMessages();
  const out: ThreadMessage[] = (await sentToEnrolment(store.db, [enrolment.id])).map((s) => {
    const step = steps[s.step];
    const proof = renderProof(
      compiled.get({ subject: step?.subject ?? '', body: step?.body ?? '' }),
      enrolment.fields,
      sender,
    );
    return { direction: 'out', at: s.sentAt ?? 0, who: sender.senderName, subject: s.subject, text: proof.text };
  });
  out.push({
    direction: 'in',
    at: incoming.receivedAt,
    who: incoming.fromName,
    subject: incoming.subject,
    text: withoutQuotation(incoming.body),
  });
  return out.sort((a, b) => a.at - b.at);
}
