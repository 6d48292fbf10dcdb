import Router from '@koa/router';
import { escapeHtml } from '@baton/core';
import type { ServerParts } from '../http/context';
import { stopContact } from '../campaigns/stop-recipient';
import { enrolmentOfLink } from '../sending/unsubscribe-link';
import { announce } from '../store/changes';
import { readCampaign, readEnrolment } from '../store/campaign-rows';
import { addEvent } from '../store/delivery-rows';
import { addSuppression } from '../store/people-rows';
import { readWorkspace } from '../store/workspace-rows';

/**
 * The pages behind unsubscribe links. Opening one changes nothing (scanners open every link); the button on
 * it does, and so does the one-click POST of RFC 8058.
 */
export function unsubscribeRoutes({ store, clock, secrets }: ServerParts): Router {
  const router = new Router();
  const find = async (signed: string | undefined) => {
    const id = enrolmentOfLink(secrets, signed ?? '');
    return id === null ? null : readEnrolment(store.db, id);
  };
  const page = async (title: string, body: string) => {
    const { name } = await readWorkspace(store.db);
    return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escapeHtml(title)}</title></head><body><main><h1>${escapeHtml(title)}</h1>${body}<p>${escapeHtml(name)}</p></main></body></html>`;
  };

  router.get('/u/:signed', async (ctx) => {
    const enrolment = await find(ctx.params['signed']);
    ctx.type = 'html';
    if (!enrolment) {
      ctx.status = 404;
      ctx.body = await page(
        'This link is not complete',
        '<p>Please use the link as it stands in the message, or answer the message and say that you want no more of them.</p>',
      );
      return;
    }
    ctx.body = await page(
      'No more messages?',
      `<p>${escapeHtml(enrolment.address)} will get no more messages from us.</p><form method="post" action="/u/${escapeHtml(ctx.params['signed'] as string)}"><button>Leave this list</button></form>`,
    );
  });

  router.post('/u/:signed', async (ctx) => {
    const enrolment = await find(ctx.params['signed']);
    ctx.type = 'html';
    if (!enrolment) {
      ctx.status = 404;
      ctx.body = await page('This link is not complete', '<p>Nothing has been changed.</p>');
      return;
    }
    const nowMs = await clock.now();
    await store.db.transaction(async (tx) => {
      const campaign = await readCampaign(tx, enrolment.campaignId);
      await addSuppression(tx, {
        kind: 'address',
        key: enrolment.key,
        reason: 'pressed the unsubscribe link',
        source: campaign?.name ?? '',
        createdAt: nowMs,
      });
      if (enrolment.state !== 'unsubscribed')
        await addEvent(tx, {
          at: nowMs,
          kind: 'unsubscribe',
          contactId: enrolment.contactId,
          enrolmentId: enrolment.id,
          detail: 'link',
        });
      await stopContact(tx, {
        contactId: enrolment.contactId,
        state: 'unsubscribed',
        reason: 'pressed the unsubscribe link',
        nowMs,
      });
      await announce(tx, 'people', 'replies');
    });
    ctx.body = await page('Done', `<p>${escapeHtml(enrolment.address)} gets no more messages from us.</p>`);
  });
  return router;
}
