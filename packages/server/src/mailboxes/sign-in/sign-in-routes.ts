import type Router from '@koa/router';
import type { ServerChoice, SignInProviderChoices, SignInProviders } from '@baton/contract';
import Joi from 'joi';
import type { ServerParts } from '../../http/context';
import { exactRouter } from '../../http/exact-router';
import { smallPage } from '../../http/small-page';
import { parse, parseId, rowId } from '../../http/validate';
import { mailServer, userName } from '../mail-server-schema';
import { discover } from './authorization-server';
import { askMailServer } from './ask-mail-server';
import {
  beginSignIn,
  dropProvider,
  finishSignIn,
  keepProvider,
  redirectUri,
  viewGrant,
  viewProviders,
} from './sign-in-service';

const address = Joi.string().trim().max(1000);
const providerBody = Joi.object<SignInProviderChoices>({
  name: Joi.string().trim().min(1).max(120).required().label('the provider’s name'),
  issuer: address.allow('').required().label('the sign-in address'),
  authorizationEndpoint: address.required().label('the authorization endpoint'),
  tokenEndpoint: address.required().label('the token endpoint'),
  clientId: Joi.string().trim().min(1).max(500).required().label('the client ID'),
  clientSecret: Joi.string().allow('', null).max(1000).required().label('the client secret'),
  secretInHeader: Joi.boolean().required(),
  namesItself: Joi.boolean().required(),
  scopes: Joi.string()
    .allow('')
    .max(2000)
    .pattern(/^[\x20-\x7e]*$/)
    .required()
    .label('the scopes'),
  extraParameters: Joi.string().trim().allow('').max(1000).required().label('the extra parameters'),
});

const discoveryBody = Joi.object<{ issuer?: string; imap?: ServerChoice }>({
  issuer: address.min(1).label('the sign-in address'),
  imap: mailServer.optional(),
}).xor('issuer', 'imap');
const beginBody = Joi.object<{ providerId: number; username: string; grantId: number | null }>({
  providerId: rowId.required().label('the provider'),
  username: userName,
  grantId: rowId.allow(null).default(null).label('the access'),
});

/** Under /api: providers, and sign-ins that begin. */
export function signInRoutes(parts: ServerParts): Router {
  const router = exactRouter();
  router.get('/sign-in/providers', async (ctx) => {
    const providers = await viewProviders(parts);
    ctx.body = { providers, redirectUri: redirectUri(parts) } satisfies SignInProviders;
  });
  router.post('/sign-in/providers', async (ctx) => {
    ctx.body = { id: await keepProvider(parts, null, parse(providerBody, ctx.request.body)) };
  });
  router.put('/sign-in/providers/:id', async (ctx) => {
    ctx.body = { id: await keepProvider(parts, parseId(ctx.params['id']), parse(providerBody, ctx.request.body)) };
  });
  router.delete('/sign-in/providers/:id', async (ctx) => {
    await dropProvider(parts, parseId(ctx.params['id']));
    ctx.status = 204;
  });
  router.post('/sign-in/discovery', async (ctx) => {
    const { issuer, imap } = parse(discoveryBody, ctx.request.body);
    ctx.body = imap ? await askMailServer(imap) : await discover(issuer ?? '');
  });
  router.post('/sign-in/grants', async (ctx) => {
    ctx.body = await beginSignIn(parts, parse(beginBody, ctx.request.body));
  });
  router.get('/sign-in/grants/:id', async (ctx) => {
    ctx.body = await viewGrant(parts, parseId(ctx.params['id']));
  });
  return router;
}

/** The page to which a provider sends the browser back (RFC 6749, 4.1.2). */
export function signInReturnRoutes(parts: ServerParts): Router {
  const router = exactRouter();
  router.get('/sign-in', async (ctx) => {
    const { ok, username, words } = await finishSignIn(parts, new URLSearchParams(ctx.querystring));
    ctx.status = ok ? 200 : 400;
    ctx.type = 'html';
    const title = ok ? `Signed in as ${username}` : 'Not signed in';
    ctx.body = smallPage({ title, text: words }, 'Baton');
  });
  return router;
}
