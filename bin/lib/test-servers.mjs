import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { makeCertificate } from './certificate.mjs';
import { inRoot, ROOT, STATE } from './paths.mjs';
import { startCluster } from './postgres.mjs';
import { prepareMailServers, preparePackages, preparePostgres } from './prepare.mjs';
import { UserError } from './say.mjs';

/** `npm run test:servers`: Baton against Debian's Postfix and Dovecot, on loopback and with folders of their own. */
export async function testServers() {
  if (process.getuid?.() !== 0) throw new UserError('Postfix and Dovecot start as root only; run this as root.');
  preparePackages();
  prepareMailServers();
  // Open to the users as which both servers run parts of themselves.
  const dir = mkdtempSync(join(tmpdir(), 'baton-servers-'));
  chmodSync(dir, 0o755);
  const postgres = join(STATE, `servers-postgres-${process.pid}`);
  const cluster = await startCluster({ bin: preparePostgres(), dir: postgres, fast: true });
  const certificate = join(dir, 'certificate.pem');
  makeCertificate({ name: 'localhost', cert: certificate, key: join(dir, 'key.pem') });
  try {
    const { status } = spawnSync(
      process.execPath,
      [inRoot('node_modules/vitest/vitest.mjs'), 'run', '--config', 'servers/vitest.config.ts'],
      {
        cwd: ROOT,
        stdio: 'inherit',
        env: {
          ...process.env,
          NODE_EXTRA_CA_CERTS: certificate,
          BATON_SERVERS_DIR: dir,
          BATON_TEST_POSTGRES: cluster.url('postgres'),
        },
      },
    );
    process.exitCode = status ?? 1;
  } finally {
    await cluster.stop();
    for (const path of [dir, postgres]) rmSync(path, { recursive: true, force: true });
  }
}
