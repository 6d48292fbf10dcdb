import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import { contentFault, DomainError, parseAddress, readContent, type MessageContent } from '@baton/core';
import type { MessageDraft, ProofAsked } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../http/context';
import { parse, parseId, rowId } from '../http/validate';
import { readUpload, uploadName } from '../people/import/read-upload';
import { listVersions, readMessagesById } from '../store/messages/message-rows';
import { bringIn } from './bring-in-message';
import {
  noteRead,
  removeMessage,
  restoreMessage,
  saveMessage,
  viewMessages,
  viewRemovedMessages,
} from './message-service';
import { proofBytes, viewProof } from './proof-service';
import { readThrough } from './reading-service';
import { FILE_FORMATS, saveAs, type FileFormat } from './save-message';
import { sendTest } from './test-email';

/** Content is read by {@link readContent}, which knows its form; a plain text is accepted for its text. */
const content = Joi.object().unknown(true).required();
const id = rowId;
const draftBody = Joi.object<{ name: string; content: object }>({
  name: Joi.string().trim().min(1).max(120).required(),
  content,
});
const forOne = {
  content,
  listId: id.required(),
  index: Joi.number().integer().min(0).required(),
  mailboxId: id.allow(null).default(null),
  typed: Joi.object().pattern(Joi.string().max(200), Joi.string().allow('').max(5000)).default({}),
};
const proofBody = Joi.object<Unread<ProofAsked>>(forOne);
const readBody = Joi.object<{ content: object }>({ content });
const readingBody = Joi.object<{ content: object; listId: number }>({ content, listId: id.required() });
const testBody = Joi.object<Unread<ProofAsked> & { to: string[] }>({
  ...forOne,
  to: Joi.array()
    .min(1)
    .max(10)
    .items(
      Joi.string().custom((value: string, helpers) => {
        const parsed = parseAddress(value);
        return parsed.ok
          ? parsed.value.address
          : (helpers.message({ custom: parsed.reason.replace(/[{}]/g, '') }) as unknown as string);
      }),
    )
    .required(),
});

const formatQuery = Joi.object<{ format: FileFormat }>({
  format: Joi.string()
    .valid(...FILE_FORMATS)
    .required(),
});

type Unread<T extends { content: MessageContent }> = Omit<T, 'content'> & { content: object };
const read = <T extends { content: object }>(body: T): Omit<T, 'content'> & { content: MessageContent } => ({
  ...body,
  content: readContent(body.content),
});

export function messageRoutes(parts: ServerParts): Router {
  const { db } = parts.store;
  const router = exactRouter();
  router.get('/messages', async (ctx) => {
    ctx.body = await viewMessages(db);
  });
  router.get('/messages/removed', async (ctx) => {
    ctx.body = await viewRemovedMessages(db);
  });
  router.post('/messages', async (ctx) => {
    ctx.body = { id: await saveMessage(parts, null, read(parse(draftBody, ctx.request.body))) };
  });
  router.put('/messages/:id', async (ctx) => {
    const draft: MessageDraft = read(parse(draftBody, ctx.request.body));
    await saveMessage(parts, parseId(ctx.params['id']), draft);
    ctx.body = { fault: contentFault(draft.content) };
  });
  router.delete('/messages/:id', async (ctx) => {
    await removeMessage(parts, parseId(ctx.params['id']));
    ctx.status = 204;
  });
  router.post('/messages/:id/restore', async (ctx) => {
    await restoreMessage(parts, parseId(ctx.params['id']));
    ctx.status = 204;
  });
  router.post('/messages/bring-in', async (ctx) => {
    ctx.body = { id: await bringIn(parts, uploadName(ctx), await readUpload(ctx)) };
  });
  router.get('/messages/:id/file', async (ctx) => {
    const { format } = parse(formatQuery, ctx.query);
    const id = parseId(ctx.params['id']);
    const message = (await readMessagesById(db, [id])).get(id);
    if (!message) throw new DomainError('not_found', 'There is no such message.');
    const file = await saveAs(db, message, format);
    ctx.attachment(file.name);
    ctx.type = file.type;
    ctx.body = file.bytes;
  });
  router.post('/messages/:id/read', async (ctx) => {
    const { content: shown } = read(parse(readBody, ctx.request.body));
    await noteRead(parts, parseId(ctx.params['id']), shown);
    ctx.status = 204;
  });
  router.get('/messages/:id/versions', async (ctx) => {
    ctx.body = await listVersions(db, parseId(ctx.params['id']));
  });
  return router;
}

/** Finished messages: one, all of them looked over, and one sent to oneself. */
export function proofRoutes(parts: ServerParts): Router {
  const router = exactRouter();
  router.post('/proof', async (ctx) => {
    const asked = read(parse(proofBody, ctx.request.body));
    const fault = contentFault(asked.content);
    ctx.body = fault ? { fault } : { proof: await viewProof(parts, asked) };
  });
  router.post('/proof/source', async (ctx) => {
    const bytes = await proofBytes(parts, read(parse(proofBody, ctx.request.body)));
    ctx.type = 'message/rfc822';
    ctx.attachment('proof.eml');
    ctx.body = bytes;
  });
  router.post('/reading', async (ctx) => {
    // The request itself is over as soon as it has been read.
    const isWanted = () => !ctx.req.socket.destroyed;
    ctx.body = await readThrough(parts, read(parse(readingBody, ctx.request.body)), isWanted);
  });
  router.post('/test-email', async (ctx) => {
    ctx.body = await sendTest(parts, read(parse(testBody, ctx.request.body)));
  });
  return router;
}
