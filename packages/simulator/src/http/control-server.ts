import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { FAULTS, type Fault, type Faults } from '../faults';
import type { MailStore } from '../mail/mail-store';
import { replyTo, seeMail } from '../mail/raw-mail';
import { isPersona } from '../people/persona';
import { nameOf, type Behaviour } from '../people/behaviour';
import type { Listening } from '../smtp/smtp-server';

export interface ControlParts {
  store: MailStore;
  behaviour: Behaviour;
  faults: Faults;
  ports: { smtp: number; imap: number; signIn: number };
}

type Body = Record<string, unknown>;
type Handler = (parts: ControlParts, args: string[], body: Body) => unknown;

/** A request that cannot be answered: status and words. */
class ControlError extends Error {
  constructor(
    readonly status: number,
    message: string,
  ) {
    super(message);
  }
}

const MAX_BODY = 1024 * 1024;

/** The simulator's control desk: clock, accounts, inboxes as their owners see them, counts, ordered troubles. */
export async function startControl(parts: ControlParts, port: number): Promise<Listening> {
  const server = createServer((request, response) => {
    void handle(parts, request).then(
      (answer) => reply(response, 200, answer ?? {}),
      (error: Error) => reply(response, error instanceof ControlError ? error.status : 500, { error: error.message }),
    );
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', resolve);
  });
  return {
    port: (server.address() as AddressInfo).port,
    close: () =>
      new Promise((resolve) => {
        server.closeAllConnections();
        server.close(() => resolve());
      }),
  };
}

function reply(response: ServerResponse, status: number, body: unknown): void {
  response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(body));
}

async function handle(parts: ControlParts, request: IncomingMessage): Promise<unknown> {
  const path = new URL(request.url ?? '/', 'http://control').pathname
    .split('/')
    .filter(Boolean)
    .map(decodeURIComponent);
  const wanted = `${request.method} ${path[0] ?? ''}${path.length > 2 ? `/${path[2]}` : ''}`;
  const handler = ROUTES[wanted];
  if (!handler) throw new ControlError(404, `nothing answers to ${wanted}`);
  return handler(parts, path.slice(1), await readBody(request));
}

async function readBody(request: IncomingMessage): Promise<Body> {
  const chunks: Buffer[] = [];
  let size = 0;
  for await (const chunk of request) {
    size += (chunk as Buffer).length;
    if (size > MAX_BODY) throw new ControlError(413, 'the request is too large');
    chunks.push(chunk as Buffer);
  }
  if (size === 0) return {};
  try {
    return JSON.parse(Buffer.concat(chunks).toString('utf8')) as Body;
  } catch {
    throw new ControlError(400, 'the request is not JSON');
  }
}

const ROUTES: Readonly<Record<string, Handler>> = {
  'GET ports': ({ ports }) => ports,
  'POST advance': (parts, _, body) => advance(parts, Number(body['toMs'])),
  'POST accounts': ({ store }, _, body) =>
    store.addAccount({
      address: String(body['address']),
      password: String(body['password']),
      dailyLimit: Number(body['dailyLimit'] ?? 2000),
      aliases: Array.isArray(body['aliases']) ? body['aliases'].map(String) : [],
      keepsSent: body['keepsSent'] !== false,
    }),
  'POST accounts/revoke': ({ store }, [address]) => store.revoke(String(address)),
  'GET counts': ({ store }) => store.counts,
  'GET people': ({ store, behaviour }) => people(store, behaviour),
  'PUT people': ({ store }, [address], body) => setPerson(store, String(address), body),
  'GET people/inbox': ({ store }, [address]) => inbox(store, String(address)),
  'POST people/reply': (parts, [address], body) =>
    answer(parts, String(address), Number(body['id']), String(body['text'])),
  'POST people/read': ({ store, behaviour }, [address], body) => {
    store.setFlags(String(address), 'INBOX', Number(body['id']), ['\\Seen']);
    return behaviour.loadPictures(String(address), Number(body['id']));
  },
  'POST people/act': (parts, [address], body) => act(parts, String(address), Number(body['id']), String(body['kind'])),
  // What a resolver would say (RFC 5321 5.1): the domain's mail servers, none where it takes no mail.
  'GET domains': ({ store }, [domain]) => ({
    mailServers: store.withoutMail.has(String(domain).toLowerCase()) ? [] : [`mail.${String(domain)}`],
  }),
  'PUT domains': ({ store }, [domain], body) => {
    if (typeof body['takesMail'] !== 'boolean') throw new ControlError(400, 'takesMail must be true or false');
    store.setDomain(String(domain).toLowerCase(), body['takesMail']);
  },
  // Records of other kinds, by type and name: `/records/TXT x.example`.
  'GET records': ({ store }, [of]) => ({ records: store.records.get(recordName(of)) ?? [] }),
  'PUT records': ({ store }, [of], body) => {
    const { records } = body;
    if (!Array.isArray(records)) throw new ControlError(400, 'records must be a list of texts');
    store.setRecords(recordName(of), records.map(String));
  },
  'POST faults': ({ faults }, _, body) => orderFault(faults, body),
};

/** Names of domains are the same in capitals. */
function recordName(of: string | undefined): string {
  const [type, name] = String(of).split(' ');
  return `${type} ${(name ?? '').toLowerCase()}`;
}

function nextDue(store: MailStore): number | null {
  let at: number | null = null;
  for (const e of store.scheduled.values()) at = at === null ? e.at : Math.min(at, e.at);
  return at;
}

/** Everything due up to the instant happens, in order; what cannot be done (a link that does not answer) is tried again a minute later. */
async function advance({ store, behaviour }: ControlParts, toMs: number): Promise<{ nextDue: number | null }> {
  if (!Number.isFinite(toMs)) throw new ControlError(400, 'toMs must be an instant');
  for (;;) {
    const due = [...store.scheduled.values()].filter((e) => e.at <= toMs).sort((a, b) => a.at - b.at || a.id - b.id)[0];
    if (!due) break;
    store.setNow(due.at);
    store.done(due.id);
    try {
      await behaviour.act(due, due.at);
    } catch {
      store.schedule({ ...due, at: Math.max(due.at, toMs) + 60_000 });
    }
  }
  store.setNow(toMs);
  return { nextDue: nextDue(store) };
}

function people(store: MailStore, behaviour: Behaviour) {
  return store
    .owners()
    .filter((address) => !store.accounts.has(address))
    .map((address) => {
      const mails = store.folder(address, 'INBOX');
      return {
        address,
        persona: behaviour.personaOf(address),
        personaWords: behaviour.personaWords(address),
        received: mails.length,
        unread: mails.filter((m) => !m.flags.includes('\\Seen')).length,
        lastAt: mails.at(-1)?.receivedAt ?? 0,
        awayUntil: store.away.get(address) ?? null,
      };
    })
    .sort((a, b) => b.lastAt - a.lastAt || (a.address < b.address ? -1 : 1));
}

function setPerson(store: MailStore, address: string, body: Body): void {
  const { persona, awayUntil } = body;
  if (persona !== undefined) {
    if (typeof persona !== 'string' || !isPersona(persona))
      throw new ControlError(400, `there is no persona ${String(persona)}`);
    store.setPersona(address, persona);
  }
  if (awayUntil !== undefined) store.setAway(address, awayUntil === null ? null : String(awayUntil));
}

async function inbox(store: MailStore, address: string) {
  const mails = await Promise.all(
    store.folder(address, 'INBOX').map(async (m) => {
      const seen = await seeMail(m.raw);
      return {
        id: m.uid,
        from: seen.from,
        subject: seen.subject,
        receivedAt: m.receivedAt,
        read: m.flags.includes('\\Seen'),
        html: seen.html,
        text: seen.text,
        unsubscribeLink: seen.unsubscribeUrl,
        oneClick: seen.oneClick,
        messageId: seen.messageId,
        references: seen.references,
        cc: seen.cc,
        replyTo: seen.replyTo,
        files: seen.files,
      };
    }),
  );
  return mails.reverse();
}

function mailOf(store: MailStore, address: string, id: number) {
  const mail = store.folder(address, 'INBOX').find((m) => m.uid === id);
  if (!mail) throw new ControlError(404, `${address} has no mail ${id}`);
  return mail;
}

async function answer({ store }: ControlParts, address: string, id: number, text: string): Promise<void> {
  const seen = await seeMail(mailOf(store, address, id).raw);
  store.count('answers');
  store.setFlags(address, 'INBOX', id, ['\\Seen', '\\Answered']);
  store.addMail(
    seen.from,
    'INBOX',
    await replyTo({ ...seen, to: address }, text, store.nowMs, nameOf(address)),
    store.nowMs,
  );
}

/** The owner presses the link or the button, or marks as spam: done at once. */
async function act({ store, behaviour }: ControlParts, address: string, id: number, kind: string): Promise<void> {
  if (kind !== 'unsubscribe_link' && kind !== 'one_click' && kind !== 'complaint')
    throw new ControlError(400, `nobody can do ${kind}`);
  mailOf(store, address, id);
  await behaviour.act({ id: 0, at: store.nowMs, kind, person: address, mailUid: id, text: '' }, store.nowMs);
}

function orderFault(faults: Faults, body: Body): void {
  const account = String(body['account']);
  if (body['slowMs'] !== undefined) return faults.slow(account, Number(body['slowMs']));
  if (!(FAULTS as readonly unknown[]).includes(body['fault']))
    throw new ControlError(400, `there is no fault ${String(body['fault'])}`);
  faults.order(account, body['fault'] as Fault, Number(body['times'] ?? 1), Number(body['after'] ?? 0));
}
