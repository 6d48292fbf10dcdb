import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { join } from 'node:path';
import { freePort } from '../bin/lib/ports.mjs';

/** Whose mail these servers keep: the sender's and the recipients'. */
export const SENDER = 'ines@tidewaterkelp.example';
export const PASSWORD = 'correct horse';
const DOMAINS = ['tidewaterkelp.example', 'vines.example'];
/** Takes mail by its address, but nobody of that name is there: it comes back later. */
export const GONE = 'gone@vines.example';
/** Their mailbox is full. */
export const FULL = 'full@vines.example';
/** What Postfix says at RCPT of some. */
const ANSWERS: Record<string, string> = {
  'spam@vines.example': '550 5.7.1 Rejected as spam',
  'grey@vines.example': '450 4.7.1 Greylisted, try again later',
};
const PEOPLE = ['ana@vines.example', 'bo@vines.example', FULL, ...Object.keys(ANSWERS)];

/** The other processes of Postfix, as Debian has them, none in a chroot. */
const MASTER = [
  'pickup unix n - n 60 1 pickup',
  'cleanup unix n - n - 0 cleanup',
  'qmgr unix n - n 300 1 qmgr',
  'tlsmgr unix - - n 1000? 1 tlsmgr',
  'rewrite unix - - n - - trivial-rewrite',
  'bounce unix - - n - 0 bounce',
  'defer unix - - n - 0 bounce',
  'trace unix - - n - 0 bounce',
  'verify unix - - n - 1 verify',
  'flush unix n - n 1000? 0 flush',
  'proxymap unix - - n - - proxymap',
  'smtp unix - - n - - smtp',
  'error unix - - n - - error',
  'retry unix - - n - - error',
  'discard unix - - n - - discard',
  'lmtp unix - - n - - lmtp',
  'anvil unix - - n - 1 anvil',
  'scache unix - - n - 1 scache',
  'postlog unix-dgram n - n - 1 postlogd',
];

/** Postfix and Dovecot of Debian, each with a configuration, spool and mail of this test's own. */
export class MailServers {
  private constructor(
    private readonly dir: string,
    readonly smtpPort: number,
    readonly imapPort: number,
    private readonly lmtpPort: number,
  ) {}

  static async start(dir: string): Promise<MailServers> {
    const servers = new MailServers(dir, await freePort(), await freePort(), await freePort());
    servers.configure();
    await servers.up();
    return servers;
  }

  private path = (...parts: string[]) => join(this.dir, ...parts);

  private configure(): void {
    for (const folder of ['mail', 'run', 'postfix', 'spool', 'postfix-data']) mkdirSync(this.path(folder));
    spawnSync('chown', ['mail:mail', this.path('mail')]);
    spawnSync('chown', ['postfix:root', this.path('postfix-data')]);
    this.configureDovecot();
    this.configurePostfix();
  }

  private configureDovecot(): void {
    const users = [SENDER, ...PEOPLE].map(
      (user) => `${user}:{PLAIN}${PASSWORD}::::::${user === FULL ? 'userdb_quota_rule=*:bytes=10' : ''}`,
    );
    writeFileSync(this.path('users'), `${users.join('\n')}\n`, { mode: 0o644 });
    writeFileSync(
      this.path('dovecot.conf'),
      `protocols = imap lmtp
listen = 127.0.0.1
base_dir = ${this.path('run')}
state_dir = ${this.path('run')}
log_path = ${this.path('dovecot.log')}
mail_location = maildir:${this.path('mail')}/%u
first_valid_uid = 8
ssl = yes
ssl_cert = <${this.path('certificate.pem')}
ssl_key = <${this.path('key.pem')}
mail_plugins = quota
plugin {
  quota = maildir:User quota
  quota_rule = *:bytes=0
}
passdb {
  driver = passwd-file
  args = ${this.path('users')}
}
userdb {
  driver = passwd-file
  args = ${this.path('users')}
  default_fields = uid=mail gid=mail home=${this.path('mail')}/%u
}
namespace inbox {
  inbox = yes
  mailbox Sent {
    special_use = \\Sent
    auto = create
  }
}
service imap-login {
  inet_listener imap {
    port = ${this.imapPort}
  }
  inet_listener imaps {
    port = 0
  }
}
service lmtp {
  inet_listener lmtp {
    address = 127.0.0.1
    port = ${this.lmtpPort}
  }
}
service auth {
  unix_listener auth-postfix {
    mode = 0666
  }
}
`,
    );
  }

  private configurePostfix(): void {
    const list = (rows: string[]) => `${rows.join('\n')}\n`;
    writeFileSync(this.path('postfix', 'mailboxes'), list([SENDER, GONE, ...PEOPLE].map((a) => `${a} here`)));
    this.answer(ANSWERS);
    writeFileSync(
      this.path('postfix', 'main.cf'),
      `compatibility_level = 3.6
queue_directory = ${this.path('spool')}
data_directory = ${this.path('postfix-data')}
command_directory = /usr/sbin
daemon_directory = /usr/lib/postfix/sbin
mail_owner = postfix
setgid_group = postdrop
myhostname = mail.tidewaterkelp.example
mydestination =
alias_maps =
inet_interfaces = 127.0.0.1
inet_protocols = ipv4
virtual_mailbox_domains = ${DOMAINS.join(' ')}
virtual_mailbox_maps = texthash:${this.path('postfix', 'mailboxes')}
virtual_transport = lmtp:inet:127.0.0.1:${this.lmtpPort}
smtpd_sasl_type = dovecot
smtpd_sasl_path = ${this.path('run', 'auth-postfix')}
smtpd_sasl_auth_enable = yes
smtpd_tls_security_level = may
smtpd_tls_cert_file = ${this.path('certificate.pem')}
smtpd_tls_key_file = ${this.path('key.pem')}
smtpd_relay_restrictions = permit_sasl_authenticated, reject
smtpd_recipient_restrictions = check_recipient_access texthash:${this.path('postfix', 'answers')}, permit
maillog_file = ${this.path('postfix.log')}
maillog_file_prefixes = ${this.dir}
minimal_backoff_time = 1s
maximal_backoff_time = 2s
queue_run_delay = 1s
`,
    );
    writeFileSync(
      this.path('postfix', 'master.cf'),
      list([`127.0.0.1:${this.smtpPort} inet n - n - - smtpd`, ...MASTER]),
    );
  }

  /** From now on Postfix says this at RCPT. */
  answer(answers: Record<string, string>): void {
    const rows = Object.entries(answers).map(([address, words]) => `${address} ${words}`);
    writeFileSync(this.path('postfix', 'answers'), `${rows.join('\n')}\n`);
  }

  async up(): Promise<void> {
    spawn('dovecot', ['-F', '-c', this.path('dovecot.conf')], { stdio: 'ignore' });
    await reached(this.imapPort, () => this.logs());
    this.command('postfix', ['-c', this.path('postfix'), 'start']);
    await reached(this.smtpPort, () => this.logs());
  }

  down(): void {
    this.command('postfix', ['-c', this.path('postfix'), 'stop']);
    this.command('doveadm', ['-c', this.path('dovecot.conf'), 'stop']);
  }

  /** Forgets what numbers the messages of an inbox have, as a server that was moved does. */
  numberAnew(user: string): void {
    for (const file of [
      'dovecot-uidlist',
      'dovecot.index',
      'dovecot.index.log',
      'dovecot.index.cache',
      'dovecot-uidvalidity',
    ])
      rmSync(this.path('mail', user, file), { force: true });
  }

  private command(program: string, args: string[]): void {
    const { status, stderr } = spawnSync(program, args, { encoding: 'utf8' });
    if (status !== 0) throw new Error(`${program} ${args.join(' ')}: ${stderr}\n${this.logs()}`);
  }

  private logs(): string {
    return ['postfix.log', 'dovecot.log'].map((f) => readIf(this.path(f))).join('\n');
  }
}

function readIf(path: string): string {
  try {
    return readFileSync(path, 'utf8').slice(-3000);
  } catch {
    return '';
  }
}

/** Waits until something listens. */
async function reached(port: number, logs: () => string): Promise<void> {
  for (let i = 0; i < 300; i++) {
    const isThere = await new Promise<boolean>((resolve) => {
      const socket = connect(port, '127.0.0.1', () => resolve(true));
      socket.on('error', () => resolve(false)).on('connect', () => socket.destroy());
    });
    if (isThere) return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error(`Nothing listens at ${port}.\n${logs()}`);
}
