import { appendFileSync, existsSync, readFileSync } from 'node:fs';

/** A mail account of the provider, such as a sender mailbox. */
export interface Account {
  address: string;
  password: string;
  /** Most messages it may send in 24 hours. */
  dailyLimit: number;
  /** Other addresses whose mail comes here, and under which it may send. */
  aliases?: string[];
  /** Whether what it sends is copied into its Sent folder; it is, unless said otherwise. */
  keepsSent?: boolean;
}

/** What a person has allowed a program at the provider's sign-in. */
export interface Grant {
  /** The refresh token that is good now; the one before it is not any more. */
  refresh: string;
  address: string;
  clientId: string;
}

export interface AccessToken {
  token: string;
  address: string;
  expiresAt: number;
}

export interface StoredMail {
  uid: number;
  raw: Buffer;
  receivedAt: number;
  flags: string[];
}

/** Something a simulated person or server will do. */
export interface Scheduled {
  id: number;
  at: number;
  kind:
    | 'reply'
    | 'auto_reply'
    | 'left'
    | 'unsubscribe_link'
    | 'one_click'
    | 'bounce'
    | 'complaint'
    | 'read'
    | 'click'
    | 'scan';
  /** The recipient who acts, the mail it is about, and whom it goes to. */
  person: string;
  mailUid: number;
  text: string;
}

export interface Counts {
  accepted: number;
  refused: number;
  bouncedLater: number;
  answers: number;
  unsubscribes: number;
}

/** Every change of the provider's state: what the journal holds, a line each. */
type Change =
  | { do: 'account'; account: Account }
  | { do: 'grant'; grant: Grant; instead: string | null }
  | { do: 'access'; access: AccessToken }
  | { do: 'revoke'; address: string }
  | { do: 'mail'; owner: string; folder: string; raw: string; at: number }
  | { do: 'folder'; owner: string; folder: string }
  | { do: 'flags'; owner: string; folder: string; uid: number; flags: string[] }
  | { do: 'schedule'; entry: Scheduled }
  | { do: 'done'; id: number }
  | { do: 'count'; what: keyof Counts }
  | { do: 'sent'; account: string; at: number }
  | { do: 'greylisted'; pair: string; at: number }
  | { do: 'persona'; address: string; persona: string }
  | { do: 'away'; address: string; until: string | null }
  | { do: 'domain'; domain: string; takesMail: boolean }
  | { do: 'records'; of: string; records: string[] };

/** What the provider holds. All changes go through it and, where it has a journal, survive a restart. */
export class MailStore {
  readonly accounts = new Map<string, Account>();
  /** By refresh token. */
  readonly grants = new Map<string, Grant>();
  readonly accessTokens = new Map<string, AccessToken>();
  readonly scheduled = new Map<number, Scheduled>();
  readonly counts: Counts = { accepted: 0, refused: 0, bouncedLater: 0, answers: 0, unsubscribes: 0 };
  readonly greylist = new Map<string, number>();
  readonly personas = new Map<string, string>();
  readonly away = new Map<string, string>();
  /** Domains for which no server takes mail. */
  readonly withoutMail = new Set<string>();
  /** What a resolver would say, by type and name: `TXT _dmarc.x.example`. */
  readonly records = new Map<string, string[]>();
  readonly sentTimes = new Map<string, number[]>();
  nowMs = 0;
  /** What a server gives anew when it numbers its messages anew (RFC 3501 2.3.1.1). */
  uidValidity = 1;
  private readonly folders = new Map<string, StoredMail[]>();
  private readonly revokers = new Set<(address: string) => void>();
  private readonly watchers = new Set<(owner: string, folder: string) => void>();
  private nextScheduleId = 1;

  /** @param journal path of an append-only file, or null to keep all in memory */
  constructor(private readonly journal: string | null) {
    if (journal === null || !existsSync(journal)) return;
    for (const line of readFileSync(journal, 'utf8').split('\n')) {
      const change = parseLine(line);
      if (change) this.apply(change);
    }
  }

  folder(owner: string, folder: string): readonly StoredMail[] {
    return this.folders.get(`${owner}/${folder}`) ?? [];
  }

  /** Names of an account's folders that hold or have been made to hold mail. */
  foldersOf(owner: string): string[] {
    const start = `${owner}/`;
    return [...this.folders.keys()].filter((k) => k.startsWith(start)).map((k) => k.slice(start.length));
  }

  uidNext(owner: string, folder: string): number {
    return (this.folder(owner, folder).at(-1)?.uid ?? 0) + 1;
  }

  owners(): string[] {
    return [...new Set([...this.folders.keys()].map((k) => k.slice(0, k.indexOf('/'))))];
  }

  addAccount = (account: Account): void => this.change({ do: 'account', account });

  /** @param instead the refresh token that it replaces, of the same grant */
  addGrant = (grant: Grant, instead: string | null): void => this.change({ do: 'grant', grant, instead });
  addAccess = (access: AccessToken): void => this.change({ do: 'access', access });
  /** Ends all that was allowed for an account, and every token of it. */
  revoke(address: string): void {
    this.change({ do: 'revoke', address });
    for (const letGo of this.revokers) letGo(address);
  }

  /** Calls back when the access to an account ends. @returns what ends that */
  onRevoked(act: (address: string) => void): () => void {
    this.revokers.add(act);
    return () => this.revokers.delete(act);
  }

  /** The account that an access token opens; undefined where it opens none, or not any more. */
  accountOfToken(token: string): Account | undefined {
    const access = this.accessTokens.get(token);
    return access && access.expiresAt > this.nowMs ? this.accounts.get(access.address) : undefined;
  }

  /** The account that an address belongs to, as its own or an alias. */
  accountOf(address: string): Account | undefined {
    return this.accounts.get(address) ?? [...this.accounts.values()].find((a) => a.aliases?.includes(address) === true);
  }

  /** @returns the UID it got */
  addMail(owner: string, folder: string, raw: Buffer, at: number): number {
    const uid = this.uidNext(owner, folder);
    this.change({ do: 'mail', owner, folder, raw: raw.toString('base64'), at });
    for (const w of this.watchers) w(owner, folder);
    return uid;
  }

  addFolder = (owner: string, folder: string): void => this.change({ do: 'folder', owner, folder });
  setFlags = (owner: string, folder: string, uid: number, flags: string[]): void =>
    this.change({ do: 'flags', owner, folder, uid, flags });
  schedule = (entry: Omit<Scheduled, 'id'>): void =>
    this.change({ do: 'schedule', entry: { ...entry, id: this.nextScheduleId } });
  done = (id: number): void => this.change({ do: 'done', id });
  count = (what: keyof Counts): void => this.change({ do: 'count', what });
  noteSent = (account: string, at: number): void => this.change({ do: 'sent', account, at });
  greylisted = (pair: string, at: number): void => this.change({ do: 'greylisted', pair, at });
  setPersona = (address: string, persona: string): void => this.change({ do: 'persona', address, persona });
  setAway = (address: string, until: string | null): void => this.change({ do: 'away', address, until });

  setDomain = (domain: string, takesMail: boolean): void => this.change({ do: 'domain', domain, takesMail });

  setRecords = (of: string, records: string[]): void => this.change({ do: 'records', of, records });

  /** Time goes on; not worth a line in the journal, since the clock says it again after a restart. */
  setNow(at: number): void {
    this.nowMs = Math.max(this.nowMs, at);
  }

  /** Calls back when mail comes into a folder. @returns what ends that */
  watch(onMail: (owner: string, folder: string) => void): () => void {
    this.watchers.add(onMail);
    return () => this.watchers.delete(onMail);
  }

  private change(change: Change): void {
    if (this.journal !== null) appendFileSync(this.journal, `${JSON.stringify(change)}\n`);
    this.apply(change);
  }

  private forget(owner: string): void {
    for (const tokens of [this.grants, this.accessTokens])
      for (const [token, { address }] of tokens) if (address === owner) tokens.delete(token);
  }

  private countSent(account: string, at: number): void {
    const lately = (this.sentTimes.get(account) ?? []).filter((t) => t > at - 86_400_000);
    this.sentTimes.set(account, [...lately, at]);
  }

  private put(owner: string, folder: string, raw: Buffer, receivedAt: number): void {
    const key = `${owner}/${folder}`;
    const mails = this.folders.get(key) ?? [];
    mails.push({ uid: (mails.at(-1)?.uid ?? 0) + 1, raw, receivedAt, flags: [] });
    this.folders.set(key, mails);
  }

  private apply(change: Change): void {
    switch (change.do) {
      case 'account':
        this.accounts.set(change.account.address, change.account);
        break;
      case 'grant':
        if (change.instead !== null) this.grants.delete(change.instead);
        this.grants.set(change.grant.refresh, change.grant);
        break;
      case 'access':
        this.accessTokens.set(change.access.token, change.access);
        break;
      case 'revoke':
        this.forget(change.address);
        break;
      case 'mail':
        this.put(change.owner, change.folder, Buffer.from(change.raw, 'base64'), change.at);
        break;
      case 'folder':
        this.folders.set(`${change.owner}/${change.folder}`, [...this.folder(change.owner, change.folder)]);
        break;
      case 'flags': {
        const mail = this.folder(change.owner, change.folder).find((m) => m.uid === change.uid);
        if (mail) mail.flags = change.flags;
        break;
      }
      case 'schedule':
        this.scheduled.set(change.entry.id, change.entry);
        this.nextScheduleId = Math.max(this.nextScheduleId, change.entry.id + 1);
        break;
      case 'done':
        this.scheduled.delete(change.id);
        break;
      case 'count':
        this.counts[change.what]++;
        break;
      case 'sent':
        this.countSent(change.account, change.at);
        break;
      case 'greylisted':
        this.greylist.set(change.pair, change.at);
        break;
      case 'persona':
        this.personas.set(change.address, change.persona);
        break;
      case 'away':
        if (change.until === null) this.away.delete(change.address);
        else this.away.set(change.address, change.until);
        break;
      case 'domain':
        if (change.takesMail) this.withoutMail.delete(change.domain);
        else this.withoutMail.add(change.domain);
        break;
      case 'records':
        this.records.set(change.of, change.records);
        break;
    }
  }
}

/** A line cut short by a crash is the last one, and is skipped. */
function parseLine(line: string): Change | null {
  try {
    return line === '' ? null : (JSON.parse(line) as Change);
  } catch {
    return null;
  }
}
