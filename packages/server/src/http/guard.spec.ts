import { request } from 'node:http';
import type Router from '@koa/router';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ServerParts } from './context';
import { signInReturnRoutes } from '../mailboxes/sign-in/sign-in-routes';
import { calendarRoutes } from '../planning/plan-routes';
import { TestWorld } from '../testing/test-world';
import { apiRouter, publicRouters } from './app';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

/** Routes as the routers have them; their handlers are never called here. */
const parts = new Proxy({}, { get: () => ({}) }) as ServerParts;
const routesOf = (router: Router) =>
  router.stack.flatMap((layer) =>
    layer.methods
      .filter((method) => method !== 'HEAD')
      .map((method) => ({ method, path: String(layer.path).replace(/:\w+/g, '1') })),
  );
const API = routesOf(apiRouter(parts, { handler: () => Promise.resolve() }));
const PUBLIC = publicRouters(parts).flatMap(routesOf);

/** Other ways to write an address that a careless server takes for the same. */
const SPELLINGS: Record<string, (path: string) => string> = {
  'as it is': (path) => path,
  'in capitals': (path) => path.toUpperCase(),
  'with one capital': (path) => path.replace('a', 'A'),
  'with a doubled slash': (path) => `/${path}`,
  'with a slash at the end': (path) => `${path}/`,
  'with an encoded letter': (path) => path.replace('a', '%61'),
  'with an encoded slash': (path) => path.replace('/api/', '/api%2f'),
  'behind a dot': (path) => `/.${path}`,
  'behind two dots': (path) => `/x/..${path}`,
  'behind encoded dots': (path) => `/x/%2e%2e${path}`,
  'with a backslash': (path) => path.replace('/api/', '/api\\'),
  'as an absolute address': (path) => `http://evil.example${path}`,
  'with a query': (path) => `${path}?x=/api/`,
};

function ask(method: string, path: string, headers: Record<string, string>, port = world.config.port): Promise<number> {
  return new Promise((resolve, reject) => {
    const asked = request({ host: '127.0.0.1', port, method, path, headers }, (response) => {
      response.destroy();
      resolve(response.statusCode ?? 0);
    });
    asked.on('error', reject);
    asked.end();
  });
}

describe('the guard against other sites', () => {
  it('knows every route', () => {
    expect(API.length).toBeGreaterThan(100);
    expect(API.every(({ path }) => path.startsWith('/api/'))).toBe(true);
    expect(PUBLIC.map(({ path }) => path).sort()).toEqual([
      ...[
        '/c/1',
        '/here/1',
        '/m/1',
        '/o/1',
        '/u/1',
        '/u/1',
        '/u/1/campaign',
        '/u/1/campaign',
        '/u/1/undo',
        '/u/1/undo',
        '/u/proof',
      ],
    ]);
    expect(routesOf(signInReturnRoutes(parts)).map(({ path }) => path)).toEqual(['/sign-in']);
    expect(routesOf(calendarRoutes(parts)).map(({ path }) => path)).toEqual(['/calendar/1.ics']);
  });

  it.each(Object.entries(SPELLINGS))('refuses every route of the API %s', async (_, spell) => {
    const own = `127.0.0.1:${world.config.port}`;
    const open: string[] = [];
    for (const { method, path } of API) {
      const spelled = spell(path);
      const changes = method !== 'GET';
      const attempts: Record<string, string>[] = [
        { host: 'rebound.example' },
        { host: own, origin: 'http://evil.example', 'x-baton': '1' },
        ...(changes ? [{ host: own }, { host: own, 'x-baton': '1', 'sec-fetch-site': 'cross-site' }] : []),
      ];
      for (const headers of attempts) {
        const status = await ask(method, spelled, headers);
        if (status < 400) open.push(`${method} ${spelled} ${JSON.stringify(headers)}: ${status}`);
      }
    }
    expect(open).toEqual([]);
  });

  it.each(['TRACE', 'PROPFIND', 'OPTIONS', 'QUERY', 'LOCK'])('does nothing for the method %s', async (method) => {
    for (const path of ['/api/lists', '/api/mailboxes', '/'])
      expect(await ask(method, path, { 'x-baton': '1' }), path).toBeGreaterThanOrEqual(400);
  });

  const foreign = { host: 'links.example', origin: 'http://mail.example' };

  it('is open only for the calendar, as it is written', async () => {
    expect(await ask('GET', '/calendar/1.ics', foreign)).toBe(404);
    expect(await ask('GET', '/CALENDAR/1.ics', foreign)).toBe(403);
    for (const { method, path } of PUBLIC) expect(await ask(method, path, foreign), `${method} ${path}`).toBe(403);
  });
});

describe('the listener for recipients', () => {
  const foreign = { host: 'links.example', origin: 'http://mail.example' };
  const askPublic = (method: string, path: string) => ask(method, path, foreign, world.config.publicPort);

  it('has their pages, whoever asks, as they are written', async () => {
    expect(await askPublic('GET', '/u/proof')).toBe(200);
    expect(await askPublic('GET', '/here/12345678')).toBe(200);
    for (const { method, path } of PUBLIC) {
      expect([200, 404], `${method} ${path}`).toContain(await askPublic(method, path));
      expect(await askPublic(method, path.toUpperCase()), `${method} ${path} in capitals`).toBe(404);
    }
  });

  it.each(Object.entries(SPELLINGS))('has nothing of the application %s', async (_, spell) => {
    const found: string[] = [];
    for (const { method, path } of [...API, { method: 'GET', path: '/' }, { method: 'GET', path: '/calendar/1.ics' }])
      if ((await askPublic(method, spell(path))) < 400) found.push(`${method} ${spell(path)}`);
    expect(found).toEqual([]);
  });
});
