import type Router from '@koa/router';
import { DomainError } from '@baton/core';
import { MOST_ANSWER, MOST_NOTE, type AnswerDraft } from '@baton/contract';
import Joi from 'joi';
import type { Context } from 'koa';
import { boundedReader } from '../bounded/bounded-reader';
import type { ServerParts } from '../http/context';
import { exactRouter } from '../http/exact-router';
import { parse, parseId } from '../http/validate';
import { announce } from '../store/changes';
import { readEnrolment } from '../store/campaigns/campaign-rows';
import { readLetter } from '../store/reading/letter-rows';
import { addNote, keepSnippet, removeNote, removeSnippet } from '../store/reading/note-rows';
import { readIncoming } from '../store/reading/reply-rows';
import { Answers } from './answers';
import { viewSnippets } from './snippets';

const draftBody = Joi.object<AnswerDraft>({
  subject: Joi.string().trim().max(500).allow('').required(),
  text: Joi.string().max(MOST_ANSWER).allow('').required(),
  quotes: Joi.boolean().required(),
});
const settleBody = Joi.object<{ left: boolean }>({ left: Joi.boolean().required() });
const noteBody = Joi.object<{ text: string }>({ text: Joi.string().trim().min(1).max(MOST_NOTE).required() });
const snippetBody = Joi.object<{ name: string; text: string }>({
  name: Joi.string().trim().min(1).max(100).required(),
  text: Joi.string().min(1).max(MOST_ANSWER).required(),
});
const pageQuery = Joi.object<{ pictures: boolean }>({ pictures: Joi.boolean().default(false) });
const fileQuery = Joi.object<{ show: boolean }>({ show: Joi.boolean().default(false) });

/** Answers by hand, what they are written with, and what messages hold beside their text. */
export function answerRoutes(parts: ServerParts): Router {
  const { store, clock } = parts;
  const router = exactRouter();
  const answers = new Answers(parts);
  router.put('/replies/:id/answer', async (ctx) => {
    await answers.keep(parseId(ctx.params['id']), parse(draftBody, ctx.request.body));
    ctx.status = 204;
  });
  router.post('/replies/:id/answer', async (ctx) => {
    const letterId = await answers.send(parseId(ctx.params['id']), parse(draftBody, ctx.request.body));
    ctx.body = { letterId };
  });
  router.post('/letters/:id/take-back', async (ctx) => {
    await answers.takeBack(parseId(ctx.params['id']));
    ctx.status = 204;
  });
  router.post('/letters/:id/settle', async (ctx) => {
    const { left } = parse(settleBody, ctx.request.body);
    await answers.settle(parseId(ctx.params['id']), left);
    ctx.status = 204;
  });
  router.get('/replies/:id/snippets', async (ctx) => {
    ctx.body = await viewSnippets(parts, parseId(ctx.params['id']));
  });
  router.put('/snippets', async (ctx) => {
    ctx.body = { id: await keepSnippet(store.db, parse(snippetBody, ctx.request.body)) };
    await announce(store.db, 'replies');
  });
  router.delete('/snippets/:id', async (ctx) => {
    if (!(await removeSnippet(store.db, parseId(ctx.params['id']))))
      throw new DomainError('not_found', 'There is no such snippet.');
    await announce(store.db, 'replies');
    ctx.status = 204;
  });
  router.post('/replies/:id/notes', async (ctx) => {
    const { text } = parse(noteBody, ctx.request.body);
    const row = await readIncoming(store.db, parseId(ctx.params['id']));
    const person = row?.enrolmentId == null ? null : await readEnrolment(store.db, row.enrolmentId);
    if (!person) throw new DomainError('not_found', 'There is nobody to note it of: say first whose the message is.');
    const { contactId } = person;
    ctx.body = { id: await addNote(store.db, { contactId, at: await clock.now(), text }) };
    await announce(store.db, 'replies', 'people');
  });
  router.delete('/notes/:id', async (ctx) => {
    if (!(await removeNote(store.db, parseId(ctx.params['id']))))
      throw new DomainError('not_found', 'There is no such note.');
    await announce(store.db, 'replies', 'people');
    ctx.status = 204;
  });
  contentRoutes(router, '/replies', async (id) => (await readIncoming(store.db, id))?.raw ?? null);
  contentRoutes(router, '/letters', async (id) => (await readLetter(store.db, id))?.raw ?? null);
  return router;
}

/** The page of a message, its files, and all of it as it came. None of them runs anything here. */
function contentRoutes(router: Router, base: string, rawOf: (id: number) => Promise<Buffer | null>): void {
  const raw = async (ctx: Context) => {
    const found = await rawOf(parseId((ctx['params'] as Record<string, string>)['id']));
    if (!found) throw new DomainError('not_found', 'There is no such message.');
    return found;
  };
  router.get(`${base}/:id/page`, async (ctx) => {
    const { pictures } = parse(pageQuery, ctx.query);
    const page = await boundedReader.read('page', await raw(ctx));
    if (page === null) throw new DomainError('not_found', 'This message has no page.');
    const images = pictures ? 'data: https: http:' : 'data:';
    ctx.set('Content-Security-Policy', `default-src 'none'; style-src 'unsafe-inline'; img-src ${images}; ${SANDBOX}`);
    ctx.set('Referrer-Policy', 'no-referrer');
    ctx.set('Cache-Control', 'no-store');
    ctx.type = 'text/html; charset=utf-8';
    ctx.body = `<!doctype html><meta charset="utf-8"><style>${PAGE_STYLE}</style>\n${page}`;
  });
  router.get(`${base}/:id/files/:at`, async (ctx) => {
    const { show } = parse(fileQuery, ctx.query);
    // Counted from one, as people count.
    const file = await boundedReader.read('file', await raw(ctx), parseId(ctx.params['at']) - 1);
    if (!file) throw new DomainError('not_found', 'This message has no such file.');
    giveFile(ctx, { ...file, isShown: show && file.type.startsWith('image/') });
  });
  router.get(`${base}/:id/source`, async (ctx) => {
    giveFile(ctx, { name: 'message.eml', type: 'message/rfc822', bytes: await raw(ctx), isShown: false });
  });
}

const SANDBOX = "form-action 'none'; frame-ancestors 'self'; sandbox allow-popups allow-popups-to-escape-sandbox";
const PAGE_STYLE =
  'body{font:15px/1.45 sans-serif;margin:12px;color:#17261f;background:#fff;overflow-wrap:anywhere}img{max-width:100%}';

interface Given {
  name: string;
  type: string;
  bytes: Uint8Array;
  isShown: boolean;
}

function giveFile(ctx: Context, { name, type, bytes, isShown }: Given): void {
  ctx.attachment(name, { type: isShown ? 'inline' : 'attachment' });
  ctx.set('Content-Security-Policy', "default-src 'none'; sandbox");
  ctx.set('X-Content-Type-Options', 'nosniff');
  ctx.type = type;
  ctx.body = Buffer.from(bytes);
}
