import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { inRoot, ROOT, STATE } from './paths.mjs';
import { say, UserError } from './say.mjs';

const isRoot = process.getuid?.() === 0;

/** Stops with a sentence on a Node.js that is too old or too new for the packages used. */
export function requireNode() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    throw new UserError(`Baton needs Node.js 20.19 or later; this is ${process.versions.node}.`);
}

/** Installs the npm packages when they are missing or the lock file has changed. */
export function preparePackages() {
  requireNode();
  const lock = createHash('sha256')
    .update(readFileSync(inRoot('package-lock.json')))
    .digest('hex');
  const stamp = join(STATE, 'packages');
  if (existsSync(inRoot('node_modules')) && existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  say('Installing packages …');
  const result = spawnSync('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'], {
    cwd: ROOT,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  if (result.status !== 0) throw new UserError('The packages could not be installed; npm’s words are above.');
  mkdirSync(STATE, { recursive: true });
  writeFileSync(stamp, lock);
}

/** The folder of PostgreSQL's programs, installing Debian's package where it is missing and that is permitted. */
export function preparePostgres() {
  return (
    findPostgres() ??
    (aptInstall('postgresql', 'PostgreSQL'), findPostgres()) ??
    stop('PostgreSQL was installed but its programs were not found under /usr/lib/postgresql.')
  );
}

/** Chromium's path, for tests. */
export function prepareChromium() {
  const path = process.env.CHROME_BIN ?? '/usr/bin/chromium';
  if (!existsSync(path)) aptInstall('chromium', 'Chromium');
  return existsSync(path) ? path : stop('Chromium was installed but was not found at /usr/bin/chromium.');
}

/** Postfix and Dovecot, for the test against real mail servers. */
export function prepareMailServers() {
  const packages = { postfix: '/usr/sbin/postfix', 'dovecot-imapd': '/usr/sbin/dovecot', 'dovecot-lmtpd': LMTPD };
  for (const [name, program] of Object.entries(packages)) if (!existsSync(program)) aptInstall(name, name);
}

const LMTPD = '/usr/lib/dovecot/lmtp';

function findPostgres() {
  const base = '/usr/lib/postgresql';
  if (existsSync(base)) {
    const versions = readdirSync(base)
      .map(Number)
      .filter((v) => v >= 14 && existsSync(join(base, String(v), 'bin/initdb')));
    if (versions.length > 0) return join(base, String(Math.max(...versions)), 'bin');
  }
  const onPath = spawnSync('pg_config', ['--bindir'], { encoding: 'utf8' });
  return onPath.status === 0 && existsSync(join(onPath.stdout.trim(), 'initdb')) ? onPath.stdout.trim() : null;
}

function aptInstall(name, title) {
  if (!isRoot || !existsSync('/usr/bin/apt-get'))
    stop(`${title} is missing. Install it with:  sudo apt-get install ${name}`);
  say(`Installing ${title} from Debian’s packages …`);
  // Debian would start a cluster of its own on installing the server; Baton keeps a private one.
  mkdirSync('/etc/postgresql-common', { recursive: true });
  if (name === 'postgresql' && !existsSync('/etc/postgresql-common/createcluster.conf'))
    writeFileSync('/etc/postgresql-common/createcluster.conf', 'create_main_cluster = false\n');
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  const install = () =>
    spawnSync('apt-get', ['install', '-y', '-q', '--no-install-recommends', name], {
      env,
      stdio: ['ignore', 'ignore', 'inherit'],
    }).status === 0;
  execFileSync('apt-get', ['update', '-q'], { env, stdio: ['ignore', 'ignore', 'inherit'] });
  if (!install()) stop(`${title} could not be installed; apt-get’s words are above.`);
}

function stop(text) {
  throw new UserError(text);
}
