import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import type { Context } from 'koa';
import type { ServerParts } from '../http/context';
import { smallPage, type SmallPage } from '../http/small-page';
import { enrolmentOfLink } from '../sending/signed-links';
import { readEnrolment } from '../store/campaigns/campaign-rows';
import { readWorkspace } from '../store/workspace-rows';
import { leave } from './leave';

const BROKEN: SmallPage = {
  title: 'This link is incomplete',
  text: 'Nothing has been changed. Please use the link exactly as it is in the message, or reply to the message and ask to be removed.',
};

/**
 * The pages behind unsubscribe links. Opening one changes nothing (scanners open every link); the button on
 * it does, and so does the one-click POST of RFC 8058.
 */
export function unsubscribeRoutes({ store, clock, secrets }: ServerParts): Router {
  const router = exactRouter();
  const find = async (ctx: Context) => {
    const id = enrolmentOfLink(secrets, ctx['params']['signed'] ?? '');
    return id === null ? null : readEnrolment(store.db, id);
  };
  const show = async (ctx: Context, status: number, page: SmallPage) => {
    ctx.status = status;
    ctx.type = 'html';
    const { name, postalAddress } = await readWorkspace(store.db);
    ctx.body = smallPage(page, postalAddress || name);
  };
  // Stands for the recipient's own link in proofs, from which nobody can leave.
  router.get('/u/proof', (ctx) =>
    show(ctx, 200, { title: 'A proof', text: 'In the message that is sent, this is the recipient’s own link.' }),
  );
  router.get('/u/:signed', async (ctx) => {
    const person = await find(ctx);
    if (!person) return show(ctx, 404, BROKEN);
    return show(ctx, 200, {
      title: 'No more messages?',
      text: `${person.address} will receive no more messages from us.`,
      button: { action: ctx.path, label: 'Leave this list' },
    });
  });
  router.post('/u/:signed', async (ctx) => {
    const person = await find(ctx);
    if (!person) return show(ctx, 404, BROKEN);
    await leave(store.db, person, await clock.now());
    return show(ctx, 200, { title: 'Done', text: `${person.address} will receive no more messages from us.` });
  });
  return router;
}
