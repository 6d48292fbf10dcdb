import { DAY_MS, DomainError, HEALTH_DAYS, healthOf, isoDate, isZone, parseAddress } from '@baton/core';
import type { MailboxChoices, MailboxHistory, MailboxTest, MailboxView } from '@baton/contract';
import type { ServerParts } from '../http/context';
import { wantFreshPlan, wantPlan } from '../planning/want-plan';
import { announce } from '../store/changes';
import { healthByDay, healthSince, mostSentSince } from '../store/mailboxes/health-rows';
import { dayOfMailboxes } from '../store/sending/delivery-rows';
import { addMailboxEvent, mailboxEventsOf, unitsByDay } from '../store/mailboxes/mailbox-event-rows';
import {
  addMailbox,
  byHandSince,
  connectionKey,
  listMailboxes,
  readMailbox,
  sameConnection,
  updateMailbox,
  usedOnDay,
  type MailboxRow,
} from '../store/mailboxes/mailbox-rows';
import { NO_FAILURE } from '../sending/failure';
import { zones } from '../time/zones';
import type { Secrets } from '../security/secrets';
import { climbedDays, localDay, quotaOn, restsOn } from './capacity';
import { accessOf, type CredentialRow } from './connection';
import { testMailbox } from './test-mailbox';

export async function viewMailboxes({ store, clock }: ServerParts): Promise<MailboxView[]> {
  const nowMs = await clock.now();
  const mailboxes = await listMailboxes(store.db);
  const ahead = await dayOfMailboxes(store.db, nowMs, nowMs + DAY_MS);
  const health = await healthSince(store.db, nowMs - HEALTH_DAYS * DAY_MS);
  const most = await mostSentSince(store.db, Math.floor(nowMs / DAY_MS) - 30);
  return Promise.all(
    mailboxes.map(async (m): Promise<MailboxView> => {
      const day = localDay(m, nowMs);
      const planned = ahead.filter(
        (d) => d.mailboxId === m.id && (d.state === 'planned' || d.state === 'deferred') && localDay(m, d.at) === day,
      ).length;
      return {
        ...choicesOf(m),
        id: m.id,
        held: m.held,
        restReason: m.restReason,
        restMoved: m.restMoved,
        archiveProblem: m.archiveProblem,
        problem: m.problem,
        learntLimit24h: m.learntLimit24h,
        keepsSent: m.keepsSent,
        failing: m.sendFailedSince === null ? null : { since: m.sendFailedSince, words: m.sendFailure },
        lastReadAt: m.lastReadAt,
        restUntil: restsOn(m, day) ? m.restUntil : null,
        quotaToday: quotaOn(m, day, day),
        sentToday: (await usedOnDay(store.db, m.id, day)).units,
        byHandToday: await byHandSince(store.db, m.id, zones.get(m.zone).toInstant(day, 0)),
        plannedToday: planned,
        health: health.get(m.id) ?? healthOf([]),
        mostSent: most.get(m.id) ?? 0,
        climbed: climbedDays(m, day),
        sharesWith: mailboxes
          .filter((o) => o.id !== m.id && connectionKey(o) === connectionKey(m))
          .map((o) => o.address),
      };
    }),
  );
}

/** Days and events that a mailbox's page looks back on. */
const HISTORY_DAYS = 56;
const HISTORY_EVENTS = 40;

/** @throws DomainError `not_found` */
export async function viewHistory({ store, clock }: ServerParts, id: number): Promise<MailboxHistory> {
  const mailbox = await readMailbox(store.db, id);
  if (!mailbox) throw new DomainError('not_found', 'There is no such mailbox.');
  const from = localDay(mailbox, await clock.now()) - HISTORY_DAYS + 1;
  const sent = new Map((await unitsByDay(store.db, id, from)).map((d) => [d.day, d]));
  const health = await healthByDay(store.db, mailbox, isoDate(from));
  return {
    days: Array.from({ length: HISTORY_DAYS }, (_, i) => {
      const day = isoDate(from + i);
      const { units, quota } = sent.get(from + i) ?? { units: 0, quota: null };
      return { day, units, quota, health: health.get(day) ?? null };
    }),
    events: await mailboxEventsOf(store.db, id, HISTORY_EVENTS),
  };
}

/** What a person changed, in words. */
function changedWords(old: MailboxRow, now: Pick<MailboxRow, 'dailyQuota' | 'ramp'>): string {
  const quota = old.dailyQuota === now.dailyQuota ? [] : [`quota changed from ${old.dailyQuota} to ${now.dailyQuota}`];
  const ramp = (old.ramp === null) === (now.ramp === null) ? [] : [now.ramp === null ? 'ramp ended' : 'ramp begun'];
  const mended = old.problem === null ? [] : ['connection mended'];
  const words = [...mended, ...quota, ...ramp];
  return words.length === 0 ? 'settings changed' : words.join(', ');
}

/** What a person chose for a mailbox; never the password. */
function choicesOf(m: MailboxRow): Omit<MailboxChoices, 'password'> {
  return {
    address: m.address,
    senderName: m.senderName,
    signature: m.signature,
    smtp: m.smtp,
    imap: m.imap,
    username: m.username,
    grantId: m.grantId,
    zone: m.zone,
    windows: m.windows,
    dailyQuota: m.dailyQuota,
    providerLimit24h: m.providerLimit24h,
    paceSeconds: m.paceSeconds,
    archiveFolder: m.archiveFolder,
    replyTo: m.replyTo,
    daysOff: m.daysOff,
    ramp: m.ramp && { first: m.ramp.first, add: m.ramp.add, every: m.ramp.every },
  };
}

const pause = (ms: number) => new Promise<void>((resolve) => setTimeout(resolve, ms));

/**
 * Connects a new mailbox, or changes one, if a real test of sending and reading passes; otherwise nothing is kept.
 *
 * @returns the test's steps, and the id when it was kept
 */
export async function connectMailbox(
  { store, clock, secrets, tokens }: ServerParts,
  id: number | null,
  choices: MailboxChoices,
): Promise<{ id: number | null; test: MailboxTest }> {
  const parsed = parseAddress(choices.address);
  if (!parsed.ok) throw new DomainError('invalid', `${parsed.reason}.`);
  if (choices.replyTo !== '' && !parseAddress(choices.replyTo).ok)
    throw new DomainError('invalid', `“${choices.replyTo}” is not an address for replies.`);
  if (!isZone(choices.zone))
    throw new DomainError('invalid', `There is no time zone “${choices.zone}”. Expected a name such as Europe/Lisbon.`);
  const nowMs = await clock.now();
  const old = id === null ? null : await readMailbox(store.db, id);
  if (id !== null && !old) throw new DomainError('not_found', 'There is no such mailbox.');
  const same = (await listMailboxes(store.db)).find((m) => m.address === parsed.value.address && m.id !== id);
  if (same) throw new DomainError('conflict', `${same.address} is connected already.`);
  const { password, ramp, ...own } = choices;
  // Another address of a connection there is needs no password or access of its own.
  const known = old ?? (await sameConnection(store.db, own))[0];
  const signsIn = signingIn({ password, grantId: own.grantId }, known, secrets);
  const access = accessOf({ ...own, ...signsIn }, { secrets, tokens });
  const test = await testMailbox(own, access, nowMs, pause);
  if (!test.ok) return { id: null, test };
  const row = {
    ...own,
    address: parsed.value.address,
    ...signsIn,
    ramp: rampRow(ramp, old, localDay(own, nowMs)),
    problem: null,
    archiveProblem: null,
    // What was learnt is settled with what the person chose now.
    learntLimit24h: own.providerLimit24h === (old?.providerLimit24h ?? null) ? (old?.learntLimit24h ?? null) : null,
    keepsSent: test.keepsSent,
    ...NO_FAILURE,
  };
  const kept = await store.db.transaction(async (tx) => {
    const keptId = id ?? (await addMailbox(tx, { ...row, createdAt: nowMs }));
    if (id !== null) await updateMailbox(tx, id, row);
    await addMailboxEvent(tx, keptId, nowMs, old ? changedWords(old, row) : 'connected');
    await wantFreshPlan(tx, nowMs);
    await announce(tx, 'mailboxes', 'today');
    return keptId;
  });
  return { id: kept, test };
}

/**
 * What a mailbox signs in with: the grant or the password that was chosen, or what is known of it.
 *
 * @throws DomainError `invalid` for neither
 */
function signingIn(
  { password, grantId }: Pick<MailboxChoices, 'password' | 'grantId'>,
  known: CredentialRow | undefined,
  secrets: Secrets,
): CredentialRow {
  if (grantId !== null) return { passwordSealed: null, grantId };
  if (password !== '') return { passwordSealed: secrets.seal(password), grantId: null };
  if (!known || (known.passwordSealed === null && known.grantId === null))
    throw new DomainError('invalid', 'The password is missing.');
  return { passwordSealed: known.passwordSealed, grantId: known.grantId };
}

/** A ramp begins on the day it is set; changing its steps does not begin it again. */
function rampRow(ramp: MailboxChoices['ramp'], old: MailboxRow | null, today: number): MailboxRow['ramp'] {
  return ramp && { ...ramp, day: old?.ramp?.day ?? today, back: old?.ramp?.back ?? 0 };
}

/** Holds a mailbox or lets it go; letting go also ends a rest. */
export async function setMailboxHeld({ store, clock }: ServerParts, id: number, held: boolean): Promise<void> {
  const nowMs = await clock.now();
  await store.db.transaction(async (tx) => {
    if (!(await updateMailbox(tx, id, held ? { held } : { held, restUntil: null, restReason: null })))
      throw new DomainError('not_found', 'There is no such mailbox.');
    await addMailboxEvent(tx, id, nowMs, held ? 'held' : 'released');
    await wantPlan(tx, nowMs);
    await announce(tx, 'mailboxes', 'today');
  });
}
