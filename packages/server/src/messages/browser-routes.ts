import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import type { ServerParts } from '../http/context';
import { messageOfLink } from '../sending/signed-links';
import { readEnrolledMessages } from '../store/sending/sent-rows';
import { enrolledProof } from './enrolled-proof';
import { picturesIn, readFiles } from './message-files';

/** What a page of a message may do: nothing but be seen. */
const POLICY = "default-src 'none'; style-src 'unsafe-inline'; img-src data: https: http:; form-action 'none'";

/** A message as its recipient sees it in a browser, by the signed link that it contains. */
export function browserRoutes(parts: ServerParts): Router {
  const router = exactRouter();
  router.get('/m/:signed', async (ctx) => {
    const of = messageOfLink(parts.secrets, ctx['params']['signed'] ?? '');
    const [message] = of === null ? [] : await readEnrolledMessages(parts.store.db, of);
    ctx.set('Content-Security-Policy', POLICY);
    ctx.set('X-Robots-Tag', 'noindex');
    ctx.type = 'html';
    // A message that has not left is nobody's to see.
    if (message?.sentAt == null) {
      ctx.status = 404;
      ctx.body =
        '<!doctype html><meta charset="utf-8"><p>This link is incomplete. Please use it exactly as it is in the message.</p>';
      return;
    }
    const { proof } = await enrolledProof(parts, message);
    ctx.body = await withPictures(parts, proof.html);
  });
  return router;
}

async function withPictures({ store }: ServerParts, html: string): Promise<string> {
  let page = html;
  for (const { cid } of picturesIn(html)) {
    const only = `<img src="cid:${cid}">`;
    const [file] = await readFiles(store.db, { html: only, attachmentIds: [], attachmentNames: [] }).catch(() => []);
    const data = file ? `data:${file.contentType};base64,${file.content.toString('base64')}` : '';
    page = page.replaceAll(`src="cid:${cid}"`, `src="${data}"`);
  }
  return page;
}
