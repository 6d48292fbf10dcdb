import type Router from '@koa/router';
import { exactRouter } from '../http/exact-router';
import type { Context } from 'koa';
import type { ServerParts } from '../http/context';
import { smallPage, type SmallPage } from '../http/small-page';
import { enrolmentOfLink } from '../sending/signed-links';
import { readEnrolment, type EnrolledPerson } from '../store/campaigns/campaign-rows';
import { readWorkspace } from '../store/workspace-rows';
import { comeBack, leave } from './leave';
import { PAGE_LANGUAGES, pageWords, type PageWords } from './page-words';

/**
 * The pages behind unsubscribe links, in the reader's language. Opening one changes nothing (scanners open every link); the
 * buttons on it do, and so does the one-click POST of RFC 8058. Whoever pressed by mistake goes back.
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
    ctx.vary('Accept-Language');
    const { name, postalAddress } = await readWorkspace(store.db);
    ctx.body = smallPage({ ...page, language: languageOf(ctx) }, postalAddress || name);
  };
  const pageFor =
    (page: (person: EnrolledPerson, words: PageWords, link: string, ctx: Context) => SmallPage | Promise<SmallPage>) =>
    async (ctx: Context) => {
      const words = pageWords(languageOf(ctx));
      const person = await find(ctx);
      if (!person) return show(ctx, 404, { title: words.incomplete, text: words.nothingChanged });
      return show(ctx, 200, await page(person, words, `/u/${String(ctx['params']['signed'])}`, ctx));
    };
  // Stands for the recipient's own link in proofs, from which nobody can leave.
  router.get('/u/proof', (ctx) =>
    show(ctx, 200, { title: 'A proof', text: 'In the message that is sent, this is the recipient’s own link.' }),
  );
  const question = pageFor(({ address }, words, link) => ({
    title: words.question,
    text: words.noMore(address),
    buttons: [
      { action: link, label: words.leave },
      { action: `${link}/campaign`, label: words.onlyThis },
    ],
  }));
  for (const path of ['/u/:signed', '/u/:signed/campaign', '/u/:signed/undo']) router.get(path, question);
  const leaving = (left: 'everything' | 'campaign') =>
    pageFor(async (person, words, link) => {
      await leave(store.db, person, left, await clock.now());
      return {
        title: words.done,
        text: left === 'everything' ? words.noMore(person.address) : words.noMoreOfThis(person.address),
        buttons: [{ action: `${link}/undo`, label: words.byMistake }],
      };
    });
  router.post('/u/:signed', leaving('everything'));
  router.post('/u/:signed/campaign', leaving('campaign'));
  router.post(
    '/u/:signed/undo',
    pageFor(async (person, words) => {
      await comeBack(store.db, person, await clock.now());
      return { title: words.back, text: words.asBefore(person.address) };
    }),
  );
  return router;
}

const languageOf = (ctx: Context): string => ctx.acceptsLanguages(PAGE_LANGUAGES) || (PAGE_LANGUAGES[0] as string);
