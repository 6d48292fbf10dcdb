import { isoDate } from '@baton/core';
import {
  awayNote,
  bounceNote,
  complaintNote,
  departureNote,
  freshMail,
  leaveNote,
  replyTo,
  seeMail,
  type SeenMail,
} from '../mail/raw-mail';
import type { MailStore, Scheduled } from '../mail/mail-store';
import { drawFor, drawPersona, isPersona, PERSONAS, type Persona } from './persona';
import { answerOf } from './words';

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const DAY = 24 * HOUR;

/** Those who answer the first message. */
const ANSWERS: ReadonlySet<Persona> = new Set<Persona>([
  ...(['keen', 'decliner', 'referrer', 'asks_out', 'inline', 'foreigner', 'elsewhere'] as const),
]);

/** The share of those who answer that have followed a link before, and that of mail programs that load pictures. */
const INTERESTED_CLICK = 0.5;
const LOADS_PICTURES = 0.7;

/** What the recipients do with mail: decided when it arrives, done when its time comes. */
export class Behaviour {
  constructor(
    private readonly store: MailStore,
    private readonly seed: number,
  ) {}

  personaOf(address: string): Persona {
    const set = this.store.personas.get(address);
    return set !== undefined && isPersona(set) ? set : drawPersona(this.seed, address);
  }

  personaWords(address: string): string {
    return PERSONAS[this.personaOf(address)];
  }

  /** What the recipient's server answers at RCPT, or null when it takes the mail. */
  refusalAtRcpt(from: string, to: string, nowMs: number): { code: number; text: string } | null {
    // Its own accounts are nobody's whim.
    if (this.store.accountOf(to)) return null;
    const persona = this.personaOf(to);
    if (persona === 'unknown') return { code: 550, text: '5.1.1 No such user here' };
    if (persona === 'full') return { code: 452, text: '4.2.2 The mailbox is full' };
    if (persona !== 'greylisted') return null;
    const pair = `${from} ${to}`;
    const first = this.store.greylist.get(pair);
    if (first === undefined) this.store.greylisted(pair, nowMs);
    return first !== undefined && nowMs >= first + 5 * MINUTE
      ? null
      : { code: 451, text: '4.7.1 Greylisted, please try again in five minutes' };
  }

  /** Mail has come in: decides what its reader will do and when. */
  async received(person: string, uid: number, raw: Buffer, nowMs: number): Promise<void> {
    const mail = await seeMail(raw);
    const nth = this.store.folder(person, 'INBOX').length;
    const draw = drawFor(this.seed, `${person} ${nth}`);
    const later = (kind: Scheduled['kind'], afterMs: number, text = '') =>
      this.store.schedule({ at: nowMs + Math.round(afterMs), kind, person, mailUid: uid, text });
    const persona = this.personaOf(person);
    const away = this.awayUntil(person, persona, nowMs);
    if (away !== null) return later('auto_reply', 20_000, away);
    if (persona === 'left') return later('left', 20_000);
    if (persona === 'bounces_later' || persona === 'full_later') return later('bounce', 2 * MINUTE + draw * 8 * MINUTE);
    if (persona === 'scanned') later('scan', 3000 + draw * 5000);
    if (persona === 'silent' || persona === 'scanned') return;
    const readAfter = 10 * MINUTE + draw * 6 * HOUR;
    later('read', readAfter);
    if (persona === 'clicker' || (ANSWERS.has(persona) && draw < INTERESTED_CLICK))
      later('click', readAfter + MINUTE + draw * 10 * MINUTE);
    // Written by hand, in an exchange that has begun: they know enough.
    const isAnswer = mail.isFollowUp || /^re:/i.test(mail.subject);
    if (isAnswer && mail.unsubscribeUrl === null && mail.unsubscribeMail === null) return;
    if (ANSWERS.has(persona) || (persona === 'curious' && mail.isFollowUp))
      later('reply', HOUR + draw * 30 * HOUR, answerOf(persona, this.seed, person));
    if (persona === 'leaves_by_link') later('unsubscribe_link', HOUR + draw * 12 * HOUR);
    if (persona === 'leaves_one_click') later('one_click', HOUR + draw * 12 * HOUR);
    if (persona === 'complains') later('complaint', 2 * HOUR + draw * 10 * HOUR);
  }

  /** Does one thing whose time has come. @throws when a link cannot be reached */
  async act(entry: Scheduled, nowMs: number): Promise<void> {
    const mail = this.store.folder(entry.person, 'INBOX').find((m) => m.uid === entry.mailUid);
    if (!mail) return;
    const seen = { ...(await seeMail(mail.raw)), to: entry.person };
    if (entry.kind !== 'auto_reply' && entry.kind !== 'bounce' && entry.kind !== 'left' && entry.kind !== 'scan')
      this.store.setFlags(entry.person, 'INBOX', mail.uid, ['\\Seen']);
    switch (entry.kind) {
      case 'read':
        if (drawFor(this.seed, `pictures ${entry.person}`) < LOADS_PICTURES)
          await this.loadPictures(entry.person, mail.uid);
        return;
      case 'click':
        return ask(linksOf(seen.html).slice(0, 1), BROWSER);
      case 'scan':
        // It looks into every link, also those that nobody sees, and takes itself for a browser.
        return ask([...picturesOf(seen.html), ...linksOf(seen.html, 'all')], BROWSER);
      case 'reply':
        this.store.count('answers');
        return this.deliver(seen.from, await this.answer(seen, entry, nowMs), nowMs);
      case 'left':
        return this.deliver(seen.from, await departureNote(seen, nowMs, nameOf(entry.person)), nowMs);
      case 'auto_reply':
        return this.deliver(seen.from, await awayNote(seen, entry.text, nowMs, nameOf(entry.person)), nowMs);
      case 'bounce': {
        this.store.count('bouncedLater');
        const isFull = this.personaOf(entry.person) === 'full_later';
        const [code, said] = isFull ? ['5.2.2', '552 5.2.2 Over quota'] : ['5.1.1', '550 5.1.1 No such user here'];
        return this.deliver(seen.from, await bounceNote(mail.raw, seen, code, said, nowMs), nowMs);
      }
      case 'complaint':
        return this.deliver(seen.from, complaintNote(mail.raw, seen, nowMs), nowMs);
      case 'unsubscribe_link':
      case 'one_click':
        if (seen.unsubscribeUrl !== null) await unsubscribe(seen.unsubscribeUrl, entry.kind === 'one_click');
        else if (seen.unsubscribeMail !== null)
          this.deliver(...(await leaveNote(seen, seen.unsubscribeMail, nowMs, nameOf(entry.person))), nowMs);
        this.store.count('unsubscribes');
    }
  }

  /** Asks for the pictures of a mail, as a mail program does when somebody opens it. */
  async loadPictures(person: string, uid: number): Promise<void> {
    const mail = this.store.folder(person, 'INBOX').find((m) => m.uid === uid);
    if (mail) await ask(picturesOf((await seeMail(mail.raw)).html), MAIL_PROGRAM);
  }

  /** What a person writes, in their own manner. */
  private answer(seen: SeenMail, { person, text }: Scheduled, nowMs: number): Promise<Buffer> {
    const persona = this.personaOf(person);
    if (persona === 'elsewhere') return freshMail(seen, text, nowMs, nameOf(person));
    return replyTo(seen, text, nowMs, nameOf(person), persona === 'inline');
  }

  /** Puts mail into an account's inbox, where there is one. */
  private deliver(account: string, raw: Buffer, nowMs: number): void {
    const owner = this.store.accountOf(account);
    if (owner) this.store.addMail(owner.address, 'INBOX', raw, nowMs);
  }

  /** The date until which the person is away, as they write it; null when they are there. */
  private awayUntil(person: string, persona: Persona, nowMs: number): string | null {
    const set = this.store.away.get(person);
    if (set !== undefined) return set > isoDate(Math.floor(nowMs / DAY)) ? set : null;
    if (persona !== 'away') return null;
    const earlier = this.store.folder(person, 'INBOX').length > 1;
    return earlier ? null : isoDate(Math.floor(nowMs / DAY) + 4 + Math.floor(drawFor(this.seed, `away ${person}`) * 8));
  }
}

const BROWSER = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Firefox/140.0';
const MAIL_PROGRAM = 'Mozilla/5.0 (X11; Linux x86_64; rv:140.0) Gecko/20100101 Thunderbird/140.0';

/** Pictures that a mail program would have to ask a server for. */
const picturesOf = (html: string): string[] =>
  [...html.matchAll(/<img\b[^>]*?\ssrc="(https?:[^"]+)"/gi)].map((m) => entitiesRead(m[1]));

/** Links in a mail, without those by which one leaves; those that can be seen, unless all are wanted. */
function linksOf(html: string, which: 'seen' | 'all' = 'seen'): string[] {
  const tags = [...html.matchAll(/<a\b[^>]*?\shref="(https?:[^"]+)"[^>]*>/gi)];
  return tags
    .filter(([tag]) => which === 'all' || !/display:\s*none/i.test(tag))
    .map((m) => entitiesRead(m[1]))
    .filter((url) => !/\/u\//.test(new URL(url).pathname));
}

const entitiesRead = (attribute = ''): string =>
  attribute.replace(/&#(\d+);/g, (_, code) => String.fromCodePoint(Number(code))).replaceAll('&amp;', '&');

/** Asks for what a mail has links to. Where a link of Baton leads in the end is nowhere: the world is made up. */
async function ask(urls: readonly string[], userAgent: string): Promise<void> {
  for (const url of urls) {
    if (/\.(?:example|test)$/i.test(new URL(url).hostname)) continue;
    const answer = await fetch(url, { redirect: 'manual', headers: { 'user-agent': userAgent } });
    await answer.body?.cancel();
  }
}

/** Presses the link as a person does, form and all, or posts what RFC 8058 asks of a mail program. */
async function unsubscribe(url: string, oneClick: boolean): Promise<void> {
  const form = { 'content-type': 'application/x-www-form-urlencoded' };
  if (oneClick) {
    await fetch(url, { method: 'POST', headers: form, body: 'List-Unsubscribe=One-Click' });
    return;
  }
  const page = await (await fetch(url)).text();
  const action = /<form[^>]*action="([^"]+)"/i.exec(page)?.[1];
  if (action) await fetch(new URL(action, url), { method: 'POST', headers: form, body: 'confirm=yes' });
}

/** A person's name from their address: `ana.reyes@…` is Ana Reyes. */
export function nameOf(address: string): string {
  return (address.split('@')[0] as string)
    .split(/[._-]+/)
    .map((w) => w.charAt(0).toUpperCase() + w.slice(1))
    .join(' ');
}
