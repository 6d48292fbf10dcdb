import { request } from 'node:http';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { TestWorld } from '../testing/test-world';

let world: TestWorld;
beforeAll(async () => {
  world = await TestWorld.start();
});
afterAll(() => world.close());

/** A request with headers of any kind, which `fetch` would not send. */
function ask(method: string, path: string, headers: Record<string, string> = {}, body = '') {
  return new Promise<{ status: number; body: string; headers: Record<string, unknown> }>((resolve, reject) => {
    const asked = request({ host: '127.0.0.1', port: world.config.port, method, path, headers }, (response) => {
      const chunks: Buffer[] = [];
      response.on('data', (c: Buffer) => chunks.push(c));
      response.on('end', () =>
        resolve({
          status: response.statusCode ?? 0,
          body: Buffer.concat(chunks).toString(),
          headers: response.headers,
        }),
      );
    });
    asked.on('error', reject);
    asked.end(body);
  });
}

const ours = { 'x-baton': '1', 'content-type': 'application/json' };

describe('the server', () => {
  it('answers reads on its own name only', async () => {
    expect((await ask('GET', '/api/lists')).status).toBe(200);
    expect((await ask('GET', '/api/lists', { host: 'rebound.example' })).status).toBe(403);
  });

  it.each([
    ['from another site', { ...ours, origin: 'http://evil.example' }],
    ['from another site that hides its name', { ...ours, 'sec-fetch-site': 'cross-site' }],
    ['by a form, which cannot set a header', { 'content-type': 'application/json' }],
  ])('takes no change %s', async (_, headers) => {
    const answer = await ask('POST', '/api/campaigns', headers as Record<string, string>, '{"name":"x"}');
    expect(answer.status).toBe(403);
    expect(JSON.parse(answer.body)).toMatchObject({ status: 403, title: 'forbidden' });
  });

  it('sends a policy that allows no script but its own, and may be framed by nobody else', async () => {
    const { headers } = await ask('GET', '/api/lists');
    expect(headers['content-security-policy']).toContain("script-src 'self';");
    expect(headers['content-security-policy']).not.toContain('unsafe-eval');
    expect(headers['x-frame-options']).toBe('SAMEORIGIN');
  });

  it.each([
    ['what is not JSON', '{', 400, 'could not be read'],
    ['what has the wrong form', '{"name":5}', 400, 'name'],
    ['too much', `{"name":"${'x'.repeat(17_000_000)}"}`, 413, 'too large'],
  ])('answers %s with problem details (RFC 9457)', async (_, body, status, words) => {
    const answer = await ask('POST', '/api/campaigns', ours, body);
    expect(answer.status).toBe(status);
    expect(answer.headers['content-type']).toContain('application/problem+json');
    expect(JSON.parse(answer.body).detail.toLowerCase()).toContain(words);
  });

  it('says nothing of the inside when something unexpected happens', async () => {
    await world.store.pool.query('alter table messages rename to messages_away');
    const answer = await ask('GET', '/api/messages');
    await world.store.pool.query('alter table messages_away rename to messages');
    expect(answer.status).toBe(500);
    expect(answer.body).not.toMatch(/messages|relation|select/i);
  });

  it.each(['/api/nothing', '/api/lists/0', '/api/lists/99999999999', '/api/campaigns/abc'])(
    'answers %s with a sentence',
    async (path) => {
      const answer = await ask('GET', path);
      expect([400, 404]).toContain(answer.status);
      expect(JSON.parse(answer.body).detail).toMatch(/\.$/);
    },
  );

  it('tells open pages what has changed', async () => {
    const response = await fetch(`${world.url}/api/live`);
    const reader = response.body?.getReader() as ReadableStreamDefaultReader<Uint8Array>;
    await reader.read();
    world.liveChanged('messages');
    world.liveChanged('messages');
    const { value } = await reader.read();
    expect(new TextDecoder().decode(value)).toBe('data: ["messages"]\n\n');
    await reader.cancel();
  });
});

describe('a disk without space', () => {
  it('is told of as that, and nothing was done', async () => {
    await world.store.pool.query(`create function full_disk() returns trigger language plpgsql as $$
        begin raise exception 'could not extend file' using errcode = '53100'; end $$;
      create trigger full_disk before insert on suppressions for each row execute function full_disk()`);
    const listed = () => ask('GET', '/api/suppressions').then(({ body }) => body);
    const before = await listed();
    const answer = await ask(
      'POST',
      '/api/suppressions',
      ours,
      JSON.stringify({ what: 'ana@vines.example', reason: 'asked' }),
    );
    expect(answer.status).toBe(507);
    expect(JSON.parse(answer.body)).toMatchObject({
      title: 'full',
      detail: expect.stringContaining('no space left') as string,
    });
    expect(await listed()).toBe(before);
  });
});
