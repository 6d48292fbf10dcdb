import { mkdirSync, mkdtempSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { request, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliCompressSync, brotliDecompressSync, gzipSync } from 'node:zlib';
import Koa from 'koa';
import { pino } from 'pino';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { problemDetails } from './errors';
import { staticFiles } from './static-files';

const SCRIPT = 'console.log("kelp");'.repeat(100);
let root: string;
let server: Server;

beforeAll(async () => {
  root = mkdtempSync(join(tmpdir(), 'baton-static-'));
  const web = join(root, 'browser');
  mkdirSync(web);
  writeFileSync(join(web, 'index.html'), '<p>Baton</p>');
  writeFileSync(join(web, 'main-ABCD1234.js'), SCRIPT);
  writeFileSync(join(web, 'main-ABCD1234.js.br'), brotliCompressSync(SCRIPT));
  writeFileSync(join(web, 'main-ABCD1234.js.gz'), gzipSync(SCRIPT));
  writeFileSync(join(root, 'secret.key'), 'secret');
  mkdirSync(join(root, 'browser-other'));
  writeFileSync(join(root, 'browser-other', 'secret.js'), 'secret');
  const app = new Koa();
  app.use(problemDetails(pino({ level: 'silent' })));
  app.use(staticFiles(web));
  server = app.listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
});
afterAll(() => {
  server.close();
  rmSync(root, { recursive: true, force: true });
});

function ask(path: string, accept = 'identity') {
  const { port } = server.address() as AddressInfo;
  return new Promise<{ status: number; headers: Record<string, unknown>; body: Buffer }>((resolve, reject) => {
    const headers = { 'accept-encoding': accept };
    const asked = request({ host: '127.0.0.1', port, path, headers }, (response) => {
      const chunks: Buffer[] = [];
      response.on('data', (c: Buffer) => chunks.push(c));
      response.on('end', () =>
        resolve({ status: response.statusCode ?? 0, headers: response.headers, body: Buffer.concat(chunks) }),
      );
    });
    asked.on('error', reject);
    asked.end();
  });
}

describe('staticFiles', () => {
  it.each([
    ['gzip, deflate, br', 'br'],
    ['gzip', 'gzip'],
    ['br;q=0, gzip;q=0.5', 'gzip'],
    ['identity', undefined],
  ])('to a browser that takes %s sends %s', async (accept, encoding) => {
    const { headers, body } = await ask('/main-ABCD1234.js', accept);
    expect(headers['content-encoding']).toBe(encoding);
    expect(headers['vary']).toBe('Accept-Encoding');
    expect(headers['content-type']).toContain('javascript');
    expect(headers['cache-control']).toContain('immutable');
    if (encoding === 'br') expect(brotliDecompressSync(body).toString()).toBe(SCRIPT);
    if (encoding === undefined) expect(body.toString()).toBe(SCRIPT);
  });

  it('answers with its page for addresses of the application', async () => {
    for (const path of ['/', '/people/3', '/nothing.js', '/%E0%A4%A', '/a%00b.js'])
      expect((await ask(path)).body.toString(), path).toBe('<p>Baton</p>');
  });

  it('has no page for what is spelled like the API', async () => {
    for (const path of ['/api', '/api/x', '/API/lists', '/%61pi/lists', '//api/lists', '/x/../api/lists'])
      expect((await ask(path)).status, path).toBe(404);
  });

  it('serves nothing outside its folder', async () => {
    for (const path of [
      '/../secret.key',
      '/..%2fsecret.key',
      '/%2e%2e/secret.key',
      '/x/../../secret.key',
      '/../browser-other/secret.js',
      '/..%5csecret.key',
    ])
      expect((await ask(path)).body.toString(), path).not.toContain('secret');
  });

  it('are told of in a sentence while they are gone, as they are while they are built anew', async () => {
    const [page, away] = ['index.html', 'index.away'].map((name) => join(root, 'browser', name)) as [string, string];
    renameSync(page, away);
    const gone = await ask('/today');
    renameSync(away, page);
    expect(gone.status).toBe(404);
    expect(gone.body.toString()).toContain('The web app is not there');
    expect((await ask('/today')).status).toBe(200);
  });
});
