import { mkdtemp, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { readKeyFile } from './key-file';
import { createSecrets } from './secrets';

const secrets = createSecrets(Buffer.alloc(32, 1));
const others = createSecrets(Buffer.alloc(32, 2));

describe('createSecrets', () => {
  it('seals so that only the same key opens, and never the same way twice', () => {
    const sealed = secrets.seal('pass wörd');
    expect(secrets.open(sealed)).toBe('pass wörd');
    expect(secrets.seal('pass wörd')).not.toBe(sealed);
    expect(() => others.open(sealed)).toThrow();
  });

  it('does not open what was changed by one bit', () => {
    const bytes = Buffer.from(secrets.seal('secret'), 'base64');
    bytes[bytes.length - 1] = (bytes[bytes.length - 1] as number) ^ 1;
    expect(() => secrets.open(bytes.toString('base64'))).toThrow();
  });

  it('signs links that cannot be made up, changed or carried to another key', () => {
    const signed = secrets.sign('u:12');
    expect(secrets.verify(signed)).toBe('u:12');
    expect(others.verify(signed)).toBeNull();
    const [, signature] = signed.split('.');
    expect(secrets.verify(`${Buffer.from('u:13').toString('base64url')}.${signature}`)).toBeNull();
    for (const odd of ['', '.', 'x', 'a.b', `${signed}x`, '🙂.🙂']) expect(secrets.verify(odd)).toBeNull();
  });

  it.each([31, 33])('refuses a key of %i bytes', (n) => {
    expect(() => createSecrets(Buffer.alloc(n))).toThrow('32 bytes');
  });
});

describe('readKeyFile', () => {
  it('makes the key once, readable by its owner only', async () => {
    const dir = await mkdtemp(join(tmpdir(), 'baton-key-'));
    const path = join(dir, 'inner', 'key');
    const [a, b] = await Promise.all([readKeyFile(path), readKeyFile(path)]);
    expect(a).toHaveLength(32);
    expect(b.equals(a)).toBe(true);
    expect((await readFile(path)).equals(a)).toBe(true);
    expect((await stat(path)).mode & 0o777).toBe(0o600);
    await rm(dir, { recursive: true });
  });
});
