import { request } from 'node:http';
import type Router from '@koa/router';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { ServerParts } from './context';
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

function ask(method: string, path: string, headers: Record<string, string>): Promise<number> {
  return new Promise((resolve, reject) => {
    const asked = request({ host: '127.0.0.1', port: world.config.port, method, path, headers }, (response) => {
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
    expect(PUBLIC.map(({ path }) => path).sort()).toEqual(['/calendar/1.ics', '/m/1', '/u/1', '/u/1', '/u/proof']);
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

  it('is open only for the pages of recipients and the calendar, as they are written', async () => {
    const foreign = { host: 'links.example', origin: 'http://mail.example' };
    for (const { method, path } of PUBLIC) {
      expect([200, 404], `${method} ${path}`).toContain(await ask(method, path, foreign));
      expect(await ask(method, path.toUpperCase(), foreign), `${method} ${path} in capitals`).toBe(403);
    }
  });
});
