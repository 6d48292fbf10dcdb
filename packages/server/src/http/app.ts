import { createServer, type Server } from 'node:http';
import type Router from '@koa/router';
import { bodyParser } from '@koa/bodyparser';
import Koa from 'koa';
import helmet from 'koa-helmet';
import type { Logger } from 'pino';
import { activityRoutes } from '../activity/activity-routes';
import { campaignRoutes } from '../campaigns/campaign-routes';
import { changeRoutes } from '../campaigns/change-routes';
import { mailboxRoutes } from '../mailboxes/mailbox-routes';
import { signInReturnRoutes, signInRoutes } from '../mailboxes/sign-in/sign-in-routes';
import { assetRoutes } from '../messages/asset-routes';
import { browserRoutes } from '../messages/browser-routes';
import { lineRoutes } from '../messages/line-routes';
import { messageRoutes, proofRoutes } from '../messages/message-routes';
import { importRoutes } from '../people/import/import-routes';
import { listRoutes } from '../people/list/list-routes';
import { personRoutes } from '../people/person/person-routes';
import { suppressionRoutes } from '../people/suppression/suppression-routes';
import { calendarRoutes, planRoutes } from '../planning/plan-routes';
import { answerRoutes } from '../reading/answer-routes';
import { replyRoutes } from '../reading/reply-routes';
import { resultsRoutes } from '../results/results-routes';
import { signalRoutes } from '../signals/signal-routes';
import { simulatorRoutes } from '../simulator/simulator-routes';
import { todayRoutes } from '../today/today-routes';
import { hereRoutes } from '../workspace/here-routes';
import { settingsRoutes } from '../workspace/settings-routes';
import { unsubscribeRoutes } from '../unsubscribe/unsubscribe-routes';
import type { ServerParts } from './context';
import { problemDetails } from './errors';
import { healthRoutes } from './health-routes';
import { exactRouter } from './exact-router';
import type { LiveStream } from './live-stream';
import { ownOriginOnly } from './own-origin';
import { staticFiles } from './static-files';

/** A Koa that tells nothing of what went wrong but to the log, and whose pages load nothing from elsewhere. */
function bareApp(log: Logger): Koa {
  const app = new Koa();
  // Koa would write errors to stderr, addresses and all.
  app.silent = true;
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          // Angular and Material set styles on elements.
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:'],
          fontSrc: ["'self'"],
          connectSrc: ["'self'"],
          frameSrc: ["'self'"],
          objectSrc: ["'none'"],
          upgradeInsecureRequests: null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(problemDetails(log));
  return app;
}

/** The pages of recipients, which anybody may ask for; nothing of the application is behind them. */
export function createPublicApp(parts: ServerParts): Koa {
  const app = bareApp(parts.log);
  for (const router of publicRouters(parts)) app.use(router.routes());
  return app;
}

/** The application for whoever works with it: API, live stream, web app. */
export function createApp(parts: ServerParts, live: LiveStream): Koa {
  const { config } = parts;
  const app = bareApp(parts.log);
  const hosts = [`127.0.0.1:${config.port}`, `localhost:${config.port}`, `${config.host}:${config.port}`];
  app.use(calendarRoutes(parts).routes());
  // From here on everything is guarded.
  app.use(ownOriginOnly(hosts));
  app.use(healthRoutes(parts).routes());
  app.use(signInReturnRoutes(parts).routes());
  app.use(bodyParser({ enableTypes: ['json'], jsonLimit: '16mb' }));
  app.use(apiRouter(parts, live).routes());
  if (config.webDir !== null) app.use(staticFiles(config.webDir));
  return app;
}

/** Pages that recipients' links lead to. */
export const publicRouters = (parts: ServerParts): Router[] => [
  unsubscribeRoutes(parts),
  browserRoutes(parts),
  signalRoutes(parts),
  hereRoutes(parts),
];

/** Everything under /api. */
export function apiRouter(parts: ServerParts, live: Pick<LiveStream, 'handler'>): Router {
  const api = exactRouter('/api');
  api.get('/live', live.handler);
  for (const routes of [
    listRoutes,
    importRoutes,
    suppressionRoutes,
    personRoutes,
    messageRoutes,
    proofRoutes,
    assetRoutes,
    lineRoutes,
    campaignRoutes,
    changeRoutes,
    planRoutes,
    mailboxRoutes,
    signInRoutes,
    replyRoutes,
    answerRoutes,
    todayRoutes,
    activityRoutes,
    resultsRoutes,
    settingsRoutes,
    simulatorRoutes,
  ])
    api.use(routes(parts).routes());
  return api;
}

/** How long a request may take to come, its head and the whole of it, and how often is looked whether one has taken longer. */
const PATIENCE = { headersMs: 20_000, requestMs: 300_000, checkMs: 5_000 };

/** @throws Error `EADDRINUSE` when the port is taken */
export function listen(app: Koa, host: string, port: number, patience = PATIENCE): Promise<Server> {
  const handle = app.callback();
  const { headersMs: headersTimeout, requestMs: requestTimeout, checkMs: connectionsCheckingInterval } = patience;
  const server = createServer({ headersTimeout, requestTimeout, connectionsCheckingInterval }, (request, response) => {
    void handle(request, response);
  });
  return new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, () => resolve(server));
  });
}
