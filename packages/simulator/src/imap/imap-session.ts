import type { Socket } from 'node:net';
import type { Faults } from '../faults';
import type { MailStore, StoredMail } from '../mail/mail-store';
import { MAIL_SCOPE } from '../sign-in/authorization-server';
import { readCommand, type ImapCommand } from './read-command';

const FOLDERS = ['INBOX', 'Sent'];
const CAPABILITIES = 'IMAP4rev1 AUTH=PLAIN AUTH=XOAUTH2 AUTH=OAUTHBEARER IDLE NAMESPACE ID UIDPLUS SPECIAL-USE';

const MECHANISMS = ['PLAIN', 'XOAUTH2', 'OAUTHBEARER'] as const;
type Mechanism = (typeof MECHANISMS)[number];

/** One client's connection. */
export class ImapSession {
  private buffer = Buffer.alloc(0);
  private user: string | null = null;
  private selected: string | null = null;
  private selectedUidNext = 1;
  private idleTag: string | null = null;

  /** The account whose new mail it waits for; null while it does not. */
  get idlesFor(): string | null {
    return this.idleTag === null ? null : this.user;
  }

  /** A sign-in under way: its next line is the client's answer. */
  private signingIn: { tag: string; mechanism: Mechanism; isRefused: boolean } | null = null;
  private readonly unwatch: () => void;

  constructor(
    private readonly socket: Socket,
    private readonly store: MailStore,
    private readonly faults: Faults,
    /** Where the provider's sign-in describes itself. */
    private readonly configuration: string,
  ) {
    const unwatch = store.watch((owner, folder) => {
      if (this.idleTag !== null && owner === this.user && folder === this.selected)
        this.say(`* ${store.folder(owner, folder).length} EXISTS`);
    });
    const stay = store.onRevoked((address) => {
      if (address === this.user) socket.destroy();
    });
    this.unwatch = () => {
      unwatch();
      stay();
    };
    // Answers are several short lines; held back until the last was acknowledged, each would wait 40 ms.
    socket.setNoDelay(true);
    socket.on('data', (chunk: Buffer) => {
      socket.cork();
      this.take(chunk);
      process.nextTick(() => socket.uncork());
    });
    socket.on('close', () => this.unwatch());
    socket.on('error', () => socket.destroy());
  }

  greet(): void {
    this.say(`* OK [CAPABILITY ${CAPABILITIES}] ready`);
  }

  private say(line: string): void {
    if (this.socket.writable) this.socket.write(`${line}\r\n`, 'latin1');
  }

  private take(chunk: Buffer): void {
    this.buffer = Buffer.concat([this.buffer, chunk]);
    for (;;) {
      if (this.signingIn !== null || this.idleTag !== null) {
        const end = this.buffer.indexOf('\r\n');
        if (end < 0) return;
        const line = this.buffer.toString('latin1', 0, end);
        this.buffer = this.buffer.subarray(end + 2);
        this.continued(line);
        continue;
      }
      const next = readCommand(this.buffer);
      if (next === 'wants_literal') {
        this.say('+ go on');
        return;
      }
      if (next === null) return;
      this.buffer = this.buffer.subarray(next.length);
      this.run(next.command);
    }
  }

  private continued(line: string): void {
    if (this.signingIn !== null) {
      const { tag, mechanism, isRefused } = this.signingIn;
      this.signingIn = null;
      const said = Buffer.from(line, 'base64').toString('utf8');
      if (isRefused) return this.refuse(tag, 'The access is not good, or not any more');
      if (mechanism !== 'PLAIN') return this.signInByToken(tag, mechanism, said);
      const [, user, password] = said.split('\0');
      this.signIn(tag, user ?? '', password ?? '');
    } else if (/^done$/i.test(line.trim())) {
      this.say(`${this.idleTag} OK idle ended`);
      this.idleTag = null;
    }
  }

  private run(command: ImapCommand): void {
    const { tag, name, args } = command;
    const known: Record<string, () => void> = {
      CAPABILITY: () => this.answer(tag, `* CAPABILITY ${CAPABILITIES}`),
      NOOP: () => this.answer(tag),
      ID: () => this.answer(tag, '* ID ("name" "simulator")'),
      LOGOUT: () => {
        this.answer(tag, '* BYE');
        this.socket.end();
      },
      LOGIN: () => this.signIn(tag, args[0] ?? '', args[1] ?? ''),
      AUTHENTICATE: () => this.authenticate(tag, args),
    };
    const signedIn: Record<string, () => void> = {
      NAMESPACE: () => this.answer(tag, '* NAMESPACE (("" "/")) NIL NIL'),
      LIST: () =>
        this.answer(
          tag,
          ...this.folders().map((f) => `* LIST (\\HasNoChildren${f === 'Sent' ? ' \\Sent' : ''}) "/" "${f}"`),
        ),
      LSUB: () => this.answer(tag, ...this.folders().map((f) => `* LSUB (\\HasNoChildren) "/" "${f}"`)),
      CREATE: () => {
        this.store.addFolder(this.user as string, args[0] ?? '');
        this.answer(tag);
      },
      STATUS: () => this.status(tag, args[0] ?? ''),
      SELECT: () => this.select(tag, args[0] ?? '', 'READ-WRITE'),
      EXAMINE: () => this.select(tag, args[0] ?? '', 'READ-ONLY'),
      CLOSE: () => this.unselect(tag),
      UNSELECT: () => this.unselect(tag),
      IDLE: () => {
        this.idleTag = tag;
        this.say('+ idling');
      },
      APPEND: () => this.append(tag, args),
      UID: () => this.uid(tag, args),
    };
    const act = known[name] ?? (this.user !== null ? signedIn[name] : undefined);
    if (act) act();
    else this.say(`${tag} BAD ${this.user === null ? 'sign in first' : 'unknown command'}`);
  }

  private answer(tag: string, ...lines: string[]): void {
    for (const l of lines) this.say(l);
    this.say(`${tag} OK done`);
  }

  private authenticate(tag: string, args: string[]): void {
    const mechanism = MECHANISMS.find((m) => m === (args[0] ?? '').toUpperCase());
    if (!mechanism) return this.say(`${tag} NO only ${MECHANISMS.join(', ')}`);
    this.signingIn = { tag, mechanism, isRefused: false };
    if (args[1] !== undefined) this.continued(args[1]);
    else this.say('+ ');
  }

  private signIn(tag: string, user: string, password: string): void {
    const account = this.store.accounts.get(user);
    if (!account || account.password !== password) return this.refuse(tag, 'The user name or password is wrong');
    this.user = user;
    this.answer(tag);
  }

  /** RFC 7628 3, and its older kin: why not is told in JSON, and refused once the client has seen it. */
  private signInByToken(tag: string, mechanism: Mechanism, said: string): void {
    const [first = '', ...fields] = said.split('\u0001');
    const token = /^auth=Bearer (.+)$/im.exec(fields.join('\n'))?.[1] ?? '';
    const user = (mechanism === 'XOAUTH2' ? /^user=(.*)$/ : /^n,a=([^,]*),$/).exec(first)?.[1];
    const account = this.store.accountOfToken(token);
    if (!account || account.address !== user) {
      this.signingIn = { tag, mechanism, isRefused: true };
      const why = { status: 'invalid_token', scope: MAIL_SCOPE, 'openid-configuration': this.configuration };
      return this.say(`+ ${Buffer.from(JSON.stringify(why)).toString('base64')}`);
    }
    this.user = account.address;
    this.answer(tag);
  }

  private refuse(tag: string, why: string): void {
    this.say(`${tag} NO [AUTHENTICATIONFAILED] ${why}`);
  }

  private mails(folder: string): readonly StoredMail[] {
    return this.store.folder(this.user as string, folder);
  }

  private folders(): string[] {
    return [...new Set([...FOLDERS, ...this.store.foldersOf(this.user as string)])];
  }

  private folderNamed(name: string): string | undefined {
    return this.folders().find((f) => f.toLowerCase() === name.toLowerCase());
  }

  private status(tag: string, name: string): void {
    const folder = this.folderNamed(name);
    if (!folder) return this.say(`${tag} NO no such folder`);
    // Of the selected folder many servers tell what it was when it was selected (RFC 3501 6.3.10).
    const uidNext = folder === this.selected ? this.selectedUidNext : this.store.uidNext(this.user as string, folder);
    this.answer(
      tag,
      `* STATUS "${folder}" (MESSAGES ${this.mails(folder).length} UIDNEXT ${uidNext} UIDVALIDITY ${this.store.uidValidity})`,
    );
  }

  private select(tag: string, name: string, mode: string): void {
    const folder = this.folderNamed(name);
    if (!folder) return this.say(`${tag} NO no such folder`);
    this.selected = folder;
    this.selectedUidNext = this.store.uidNext(this.user as string, folder);
    this.say('* FLAGS (\\Seen \\Answered \\Flagged \\Deleted \\Draft)');
    this.say(`* ${this.mails(folder).length} EXISTS`);
    this.say('* 0 RECENT');
    this.say(`* OK [UIDVALIDITY ${this.store.uidValidity}] valid`);
    this.say(`* OK [UIDNEXT ${this.store.uidNext(this.user as string, folder)}] next`);
    this.say(`${tag} OK [${mode}] done`);
  }

  private unselect(tag: string): void {
    this.selected = null;
    this.answer(tag);
  }

  private append(tag: string, args: string[]): void {
    const folder = this.folderNamed(args[0] ?? '');
    const body = args.at(-1);
    if (!folder || body === undefined) return this.say(`${tag} NO [TRYCREATE] no such folder`);
    const uid = this.store.addMail(this.user as string, folder, Buffer.from(body, 'latin1'), this.store.nowMs);
    this.say(`${tag} OK [APPENDUID ${this.store.uidValidity} ${uid}] done`);
  }

  private uid(tag: string, args: string[]): void {
    const sub = (args[0] ?? '').toUpperCase();
    if (this.selected === null) return this.say(`${tag} BAD no folder is selected`);
    if (sub === 'FETCH') return this.fetch(tag, args[1] ?? '', args.slice(2).join(' '));
    if (sub === 'SEARCH') return this.search(tag, args.slice(1));
    if (sub === 'STORE') return this.storeFlags(tag, args[1] ?? '', args[2] ?? '', args.slice(3).join(' '));
    this.say(`${tag} BAD unknown UID command`);
  }

  private fetch(tag: string, set: string, items: string): void {
    const mails = this.mails(this.selected as string);
    for (const { mail, seq } of within(mails, set)) {
      const head = `* ${seq} FETCH (UID ${mail.uid} FLAGS (${mail.flags.join(' ')}) INTERNALDATE "${internalDate(mail.receivedAt)}" RFC822.SIZE ${mail.raw.length}`;
      const section = /BODY(?:\.PEEK)?\[(HEADER[^\]]*)?\]/i.exec(items);
      if (!section) {
        this.say(`${head})`);
        continue;
      }
      const [, named = ''] = section;
      if (named === '' && this.faults.take(this.user as string, 'drop_at_body')) return void this.socket.destroy();
      // Whoever asks for some fields of the head gets all of it.
      const part = named === '' ? mail.raw : headOf(mail.raw);
      this.socket.write(`${head} BODY[${named}] {${part.length}}\r\n`, 'latin1');
      this.socket.write(part);
      this.say(')');
    }
    this.answer(tag);
  }

  private search(tag: string, terms: string[]): void {
    if (this.faults.take(this.user as string, 'refuse_search')) return this.say(`${tag} NO this cannot be searched`);
    const at = terms.findIndex((t) => t.toUpperCase() === 'HEADER');
    const name = (terms[at + 1] ?? '').toLowerCase();
    const wanted = (terms[at + 2] ?? '').toLowerCase();
    const found = this.mails(this.selected as string).filter(
      (m) => at < 0 || headerOf(m.raw, name).toLowerCase().includes(wanted),
    );
    this.answer(tag, `* SEARCH ${found.map((m) => m.uid).join(' ')}`.trim());
  }

  private storeFlags(tag: string, set: string, how: string, flagText: string): void {
    const flags = [...flagText.matchAll(/\\?\w+/g)].map((m) => m[0]);
    for (const { mail, seq } of within(this.mails(this.selected as string), set)) {
      const next = how.startsWith('-')
        ? mail.flags.filter((f) => !flags.includes(f))
        : how.startsWith('+')
          ? [...new Set([...mail.flags, ...flags])]
          : flags;
      this.store.setFlags(this.user as string, this.selected as string, mail.uid, next);
      if (!/silent/i.test(how)) this.say(`* ${seq} FETCH (UID ${mail.uid} FLAGS (${next.join(' ')}))`);
    }
    this.answer(tag);
  }
}

/** Mails of a UID set such as `3:*` or `1,4:7`; `n:*` past the end is the last one, as the standard has it. */
function within(mails: readonly StoredMail[], set: string): { mail: StoredMail; seq: number }[] {
  const last = mails.at(-1)?.uid ?? 0;
  const ranges = set.split(',').map((part) => {
    const [a, b] = part.split(':').map((n) => (n === '*' ? last : Number(n)));
    return [Math.min(a as number, b ?? (a as number)), Math.max(a as number, b ?? (a as number))] as const;
  });
  return mails
    .map((mail, i) => ({ mail, seq: i + 1 }))
    .filter(({ mail }) => ranges.some(([a, b]) => mail.uid >= a && mail.uid <= b));
}

/** The head of a message and the blank line behind it. */
const headOf = (raw: Buffer): Buffer => raw.subarray(0, Math.max(0, raw.indexOf('\r\n\r\n')) + 4);

function headerOf(raw: Buffer, name: string): string {
  const head = headOf(raw)
    .toString('latin1')
    .replace(/\r\n[ \t]+/g, ' ');
  return (
    head
      .split('\r\n')
      .find((l) => l.toLowerCase().startsWith(`${name}:`))
      ?.slice(name.length + 1)
      .trim() ?? ''
  );
}

/** RFC 3501 date-time. */
function internalDate(ms: number): string {
  const [, day, month, year, time] = new Date(ms).toUTCString().split(' ');
  return `${day}-${month}-${year} ${time} +0000`;
}
