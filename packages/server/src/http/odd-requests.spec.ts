import { request } from 'node:http';
import { connect, type AddressInfo } from 'node:net';
import { gzipSync } from 'node:zlib';
import type Router from '@koa/router';
import Joi from 'joi';
import Koa from 'koa';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { signInReturnRoutes } from '../mailboxes/sign-in/sign-in-routes';
import { calendarRoutes } from '../planning/plan-routes';
import { TestWorld } from '../testing/test-world';
import { apiRouter, listen, publicRouters } from './app';
import type { ServerParts } from './context';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
  // One of everything, so that requests get as far as they can.
  const mailbox = await world.connect('ines');
  const listId = await world.people({ 'ana@vines.example': 'silent', 'bo@vines.example': 'keen' });
  await world.begin({ listId, mailboxIds: [mailbox] });
  await world.draft({ listId, mailboxIds: [mailbox] });
  await world.api.upload('/imports', 'people.csv', 'email,name\nana@x.example,Ana');
}, 120_000);
afterAll(() => world.close());

const parts = new Proxy({}, { get: () => ({}) }) as ServerParts;
const routesOf = (router: Router) =>
  router.stack.flatMap((layer) =>
    layer.methods.filter((m) => m !== 'HEAD').map((method) => ({ method, path: String(layer.path), isPublic: false })),
  );
const ROUTES = [
  ...routesOf(apiRouter(parts, { handler: () => Promise.resolve() })).filter(({ path }) => path !== '/api/live'),
  ...routesOf(calendarRoutes(parts)),
  ...routesOf(signInReturnRoutes(parts)),
  ...publicRouters(parts)
    .flatMap(routesOf)
    .map((route) => ({ ...route, isPublic: true })),
];

interface Asked {
  method: string;
  path: string;
  /** Whether it is for the pages of recipients. */
  isPublic?: boolean;
  body?: string | Buffer;
  headers?: Record<string, string>;
}

function ask({ method, path, isPublic = false, body, headers }: Asked): Promise<{ status: number; text: string }> {
  return new Promise((resolve, reject) => {
    const sent = request(
      {
        ...{ host: '127.0.0.1', port: isPublic ? world.config.publicPort : world.config.port, method, path },
        headers: { 'x-baton': '1', 'content-type': 'application/json', ...headers },
      },
      (response) => {
        const pieces: Buffer[] = [];
        response.on('data', (piece: Buffer) => pieces.push(piece));
        response.on('end', () =>
          resolve({ status: response.statusCode ?? 0, text: Buffer.concat(pieces).toString('utf8', 0, 500) }),
        );
        response.on('error', reject);
      },
    );
    sent.on('error', reject);
    if (body !== undefined) sent.setHeader('content-length', Buffer.byteLength(body));
    sent.end(body);
  });
}

/** Requests that Baton itself stumbled over; a provider that cannot be reached is 502, and none of these. */
async function stumbled(all: readonly Asked[]): Promise<string[]> {
  const out: string[] = [];
  for (const asked of all) {
    const { status, text } = await ask(asked);
    if (status === 500 || (status >= 400 && !/"detail":"(?:[A-Z“\d]|\\")/.test(text) && !text.includes('<')))
      out.push(
        `${asked.method} ${asked.path} ${String(asked.body ?? '').slice(0, 200)}: ${status} ${text.slice(0, 80)}`,
      );
  }
  return out;
}

const withParams = (path: string, value: string) => path.replace(/:\w+/g, value);

describe('an odd request', () => {
  it.each([
    '0',
    '-1',
    '1.5',
    'x',
    '2147483648',
    '99999999999999999999',
    '%00',
    '%ff',
    '1%00',
    '%ed%a0%80',
    "1'--",
    '1e3',
  ])(
    'with %s in its address has an answer that says so',
    async (value) => {
      const all = ROUTES.filter(({ path }) => path.includes(':')).map(({ path, ...rest }) => ({
        ...rest,
        path: withParams(path, value),
        body: '{}',
      }));
      expect(await stumbled(all)).toEqual([]);
    },
    120_000,
  );

  it.each([
    ['nothing', undefined, {}],
    ['null', 'null', {}],
    ['a list', '[]', {}],
    ['a text', '"x"', {}],
    ['half of JSON', '{"a":', {}],
    ['a zero byte', '{"name":"a\\u0000b","a\\u0000":1}', {}],
    ['half a letter', '{"name":"\\ud800"}', {}],
    ['a depth of thousands', `${'{"a":'.repeat(5000)}1${'}'.repeat(5000)}`, {}],
    ['a prototype', '{"__proto__":{"a":1},"constructor":{"prototype":{}}}', {}],
    ['what is said to be packed and is not', 'not gzip', { 'content-encoding': 'gzip' }],
    ['packed bytes cut off', gzipSync('{"a":1}').subarray(0, 12), { 'content-encoding': 'gzip' }],
    ['an unknown packing', '{}', { 'content-encoding': 'klingon' }],
    ['another type', 'a=b', { 'content-type': 'application/x-www-form-urlencoded' }],
    ['another character set', '{}', { 'content-type': 'application/json; charset=klingon' }],
  ] as const)(
    'with %s for a body',
    async (_, body, headers) => {
      const all = ROUTES.filter(({ method }) => method !== 'GET').map(({ path, ...rest }) => ({
        ...{ ...rest, path: withParams(path, '1'), headers },
        ...(body === undefined ? {} : { body }),
      }));
      expect(await stumbled(all)).toEqual([]);
    },
    120_000,
  );
});

it('that never ends is closed, and others are answered meanwhile', async () => {
  const app = new Koa();
  app.use((ctx) => void (ctx.body = 'here'));
  const server = await listen(app, '127.0.0.1', 0, { headersMs: 200, requestMs: 400, checkMs: 50 });
  const { port } = server.address() as AddressInfo;
  const closed = ['GET / HT', 'POST / HTTP/1.1\r\nhost: a\r\ncontent-length: 100\r\n\r\nabc'].map(
    (part) =>
      new Promise((resolve) => {
        const socket = connect(port, '127.0.0.1', () => socket.write(part));
        socket
          .on('error', () => undefined)
          .on('close', resolve)
          .resume();
      }),
  );
  expect(await (await fetch(`http://127.0.0.1:${port}/`)).text()).toBe('here');
  await Promise.all(closed);
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
}, 60_000);

/** A value of a schema, and what may stand in its place in a request that is not kind. */
const ODD: readonly unknown[] = [
  ...[null, true, [], {}, '', 'x', '\0', '\ud800', 'x'.repeat(20_000), -1, 0, 1.5],
  ...[2 ** 31, 2 ** 53, 1e300, '2026-02-30', '9999999-01-01', ['\0'], { a: '\0' }],
];

interface Described {
  type?: string;
  flags?: { default?: unknown; only?: boolean };
  keys?: Record<string, Described>;
  items?: Described[];
  allow?: unknown[];
  matches?: { schema: Described }[];
  rules?: { name: string; args?: Record<string, unknown> }[];
}

/** Something that a schema takes, or nearly. */
function fitting(schema: Described): unknown {
  const allowed = (schema.allow ?? []).filter((v) => typeof v !== 'object');
  if (schema.flags?.only === true) return allowed[0];
  switch (schema.type) {
    case 'object':
      return Object.fromEntries(Object.entries(schema.keys ?? {}).map(([key, inner]) => [key, fitting(inner)]));
    case 'array':
      return schema.items?.[0] ? [fitting(schema.items[0])] : [];
    case 'number':
      return 1;
    case 'boolean':
      return true;
    case 'alternatives':
      return fitting(schema.matches?.[0]?.schema ?? {});
    default:
      return schema.rules?.some((r) => r.name === 'pattern') ? '2026-11-30' : 'x';
  }
}

/** The same value with each of its parts, one after another, replaced by something odd, and left out. */
function* variants(value: unknown, odd: unknown): Generator<unknown> {
  yield odd;
  if (typeof value !== 'object' || value === null) return;
  for (const [key, inner] of Object.entries(value)) {
    const put = (other: unknown) => {
      const copy: Record<string, unknown> | unknown[] = Array.isArray(value) ? [...(value as unknown[])] : { ...value };
      if (other === undefined && !Array.isArray(copy)) delete copy[key];
      else (copy as Record<string, unknown>)[key] = other;
      return copy;
    };
    yield put(undefined);
    for (const other of variants(inner, odd)) yield put(other);
  }
}

it('with any part of it replaced by something odd is answered by every route, by its own schema', async () => {
  const seen = new Map<string, Described>();
  let route = '';
  let isDescribing = false;
  const owner = Object.getPrototypeOf(Joi.object()) as { validate: Joi.Schema['validate'] };
  const { validate } = owner;
  const watched = vi.spyOn(owner, 'validate').mockImplementation(function (this: Joi.Schema, ...args: unknown[]) {
    // Describing a schema validates parts of it.
    if (!isDescribing) {
      isDescribing = true;
      const described = this.describe() as Described;
      isDescribing = false;
      if (described.type === 'object') seen.set(route, described);
    }
    return (validate as (...a: unknown[]) => ReturnType<typeof validate>).apply(this, args);
  } as never);
  const changing = ROUTES.filter(({ method }) => method !== 'GET');
  for (const { method, path } of changing) {
    route = `${method} ${path}`;
    await ask({ method, path: withParams(path, '1'), body: '{}' });
  }
  watched.mockRestore();
  expect(seen.size).toBeGreaterThan(40);
  const all: Asked[] = [];
  for (const { method, path } of changing) {
    const schema = seen.get(`${method} ${path}`);
    if (!schema) continue;
    const body = fitting(schema);
    for (const odd of ODD)
      for (const variant of variants(body, odd))
        all.push({ method, path: withParams(path, '1'), body: JSON.stringify(variant) ?? 'null' });
  }
  expect(all.length).toBeGreaterThan(3000);
  expect(await stumbled(all)).toEqual([]);
}, 600_000);
