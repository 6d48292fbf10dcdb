import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createServer as createTcp, type AddressInfo, type Server as NetServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { SMTPServer } from 'smtp-server';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import type { ServerCertificate } from '@baton/contract';
import type { Server } from '../store/schema/schema';
import { makeCertificate } from '../../../../bin/lib/certificate.mjs';
import { howItBegins, untrustedCertificate } from './look-at-server';
import { SmtpSender } from './smtp/smtp-sender';
import { testMailbox } from './test-mailbox';

const dir = mkdtempSync(join(tmpdir(), 'baton-certificates-'));
/** Certificates that sign themselves: for localhost, and for another name. */
const CERTIFICATES = ['localhost', 'other.example'].map((name) => {
  const path = (kind: string) => join(dir, `${name}.${kind}`);
  return { name, key: path('key'), cert: path('cert') };
});
beforeAll(() => CERTIFICATES.forEach(makeCertificate));
afterAll(() => rmSync(dir, { recursive: true, force: true }));

const open: { close(done: () => void): unknown }[] = [];
afterEach(() => Promise.all(open.splice(0).map((s) => new Promise<void>((resolve) => s.close(resolve)))));

/** A server that takes mail, with TLS from the start or on demand. */
async function mailServer(security: 'tls' | 'starttls', certificate = CERTIFICATES[0]): Promise<Server> {
  const server = new SMTPServer({
    ...{ secure: security === 'tls', logger: false, authOptional: true, disableReverseLookup: true },
    key: readFileSync(certificate?.key ?? ''),
    cert: readFileSync(certificate?.cert ?? ''),
    onAuth: (_auth, _session, done) => done(null, { user: 'ines' }),
    onData: (stream, _session, done) => void stream.resume().on('end', () => done()),
  });
  server.on('error', () => undefined);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  open.push(server);
  return { host: 'localhost', port: (server.server.address() as AddressInfo).port, security };
}

async function silentServer(): Promise<Server> {
  const server: NetServer = createTcp((socket) => void socket.on('error', () => undefined).resume());
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  open.push({
    close: (done) => {
      server.close(() => done());
      server.unref();
      done();
    },
  });
  return { host: 'localhost', port: (server.address() as AddressInfo).port, security: 'starttls' };
}

const access = (smtp: Server) => ({
  ...{ smtp, username: 'ines', credential: { password: 'secret' } },
  imap: { host: '127.0.0.1', port: 1, security: 'none' as const },
});
const signIn = async (smtp: Server) => {
  const sender = new SmtpSender(access(smtp));
  const { code, answer } = await sender.check();
  sender.close();
  return code ?? answer;
};

describe('a port', () => {
  it('that begins with TLS is known within seconds, and so is one that greets in clear', async () => {
    expect(await howItBegins(await mailServer('tls'))).toBe('tls');
    expect(await howItBegins(await mailServer('starttls'))).toBe('plain');
    expect(await howItBegins({ host: '127.0.0.1', port: 1, security: 'starttls' })).toBe('unknown');
  });

  it('at which STARTTLS is wrong is said by the test, with what is right', async () => {
    const smtp = { ...(await mailServer('tls')), security: 'starttls' as const };
    const test = await testMailbox({ address: 'ines@kelp.example', senderName: 'Ines' }, access(smtp), 0, () =>
      Promise.resolve(),
    );
    expect(test.steps).toMatchObject([
      { ok: false, said: `Port ${smtp.port} of localhost begins with TLS: choose TLS instead of STARTTLS.` },
    ]);
  });

  it('that says nothing at all is not taken for one with TLS', async () => {
    expect(await howItBegins(await silentServer())).toBe('unknown');
  }, 60_000);
});

describe.each(['tls', 'starttls'] as const)('a certificate that the machine does not trust (%s)', (security) => {
  it('is shown, and once it is trusted its server can be used, and no other', async () => {
    const server = await mailServer(security);
    expect(await signIn(server)).toMatch(/certificate/);
    const shown = (await untrustedCertificate(server, 'smtp')) as ServerCertificate;
    expect(shown).toMatchObject({ server: 'smtp', host: 'localhost', subject: 'localhost', issuer: 'localhost' });
    expect(shown.fingerprint).toMatch(/^(?:[0-9A-F]{2}:){31}[0-9A-F]{2}$/);
    expect(shown.pem.replace(/\s/g, '')).toBe(readFileSync(CERTIFICATES[0]?.cert ?? '', 'utf8').replace(/\s/g, ''));
    expect(await signIn({ ...server, trusted: shown.pem })).toBe(235);
    const other = await mailServer(security, CERTIFICATES[1]);
    expect(await signIn({ ...other, trusted: shown.pem })).toMatch(/certificate/i);
  });

  it('for another name is no question of trust', async () => {
    const server = await mailServer(security, CERTIFICATES[1]);
    expect(await untrustedCertificate(server, 'smtp')).toBeNull();
    const trusted = readFileSync(CERTIFICATES[1]?.cert ?? '', 'utf8');
    expect(await signIn({ ...server, trusted })).toMatch(/altnames/);
  });

  it('comes with the test that failed for want of it', async () => {
    const smtp = await mailServer(security);
    const test = await testMailbox({ address: 'ines@kelp.example', senderName: 'Ines' }, access(smtp), 0, () =>
      Promise.resolve(),
    );
    expect(test).toMatchObject({ ok: false, untrusted: { host: 'localhost' } });
    expect(test.steps[0]?.said).toContain('is not one that this machine trusts');
  });
});
