import { DomainError, suggestRamp, weekdayWindows, type MailboxLine } from '@baton/core';
import type { ConnectedLine, MailboxChoices } from '@baton/contract';
import pLimit from 'p-limit';
import { boundedReader } from '../bounded/bounded-reader';
import type { ServerParts } from '../http/context';
import { readWorkspace } from '../store/workspace-rows';
import type { AskDns } from './ask-dns';
import { findServers } from './find-servers';
import { connectMailbox } from './mailbox-service';

/** Most mailboxes of one file, and how many are tested at the same time. */
const MOST = 200;
const AT_ONCE = 4;

/** What a file leaves open: a quota and pace that suit most accounts. */
const USUAL = { dailyQuota: 40, paceSeconds: 120, windows: weekdayWindows(540, 990) };

/**
 * Connects every mailbox of a file that passes a real test; the others are told of and not kept.
 *
 * @throws DomainError `invalid` for more than {@link MOST}, and as readMailboxFile of core
 */
export async function connectMany(parts: ServerParts, text: string, dns: AskDns): Promise<ConnectedLine[]> {
  const { mailboxes, aside } = await boundedReader.read('mailboxes', text);
  if (mailboxes.length > MOST)
    throw new DomainError(
      'invalid',
      `The file has ${mailboxes.length} mailboxes; at most ${MOST} are connected at once.`,
    );
  const { zone } = await readWorkspace(parts.store.db);
  const limit = pLimit(AT_ONCE);
  const tried = await Promise.all(mailboxes.map((m) => limit(() => connectLine(parts, m, zone, dns))));
  return [...aside.map(({ line, address, reason }) => ({ line, address, ok: false, words: reason })), ...tried].sort(
    (a, b) => a.line - b.line,
  );
}

async function connectLine(parts: ServerParts, m: MailboxLine, zone: string, dns: AskDns): Promise<ConnectedLine> {
  const say = (ok: boolean, words: string): ConnectedLine => ({ line: m.line, address: m.address, ok, words });
  try {
    const { id, test } = await connectMailbox(parts, null, await choicesOf(m, zone, dns));
    const failed = test.steps.find((s) => !s.ok);
    return id === null
      ? say(false, `${failed?.name ?? 'The test'}: ${failed?.said ?? 'failed'}`)
      : say(true, 'sends and can be read');
  } catch (error) {
    if (error instanceof DomainError) return say(false, error.message);
    throw error;
  }
}

/** The row’s own values first, then those the domain publishes, then the usual ones; a mailbox of unknown age ramps. */
async function choicesOf(m: MailboxLine, zone: string, dns: AskDns): Promise<MailboxChoices> {
  const found = await findServers(m.address.split('@')[1] ?? '', dns);
  const dailyQuota = m.dailyQuota ?? USUAL.dailyQuota;
  return {
    address: m.address,
    senderName: m.senderName ?? m.address.split('@')[0] ?? m.address,
    signature: m.signature ?? '',
    smtp: {
      host: m.smtpHost ?? found.smtp.host,
      port: m.smtpPort ?? found.smtp.port,
      security: m.smtpSecurity ?? found.smtp.security,
    },
    imap: {
      host: m.imapHost ?? found.imap.host,
      port: m.imapPort ?? found.imap.port,
      security: m.imapSecurity ?? found.imap.security,
    },
    username: m.username ?? m.address,
    password: m.password,
    grantId: null,
    zone: m.zone ?? zone,
    windows: USUAL.windows,
    dailyQuota,
    ramp: suggestRamp(null, 0, dailyQuota).ramp,
    providerLimit24h: m.providerLimit,
    paceSeconds: m.paceSeconds ?? USUAL.paceSeconds,
    archiveFolder: '',
    replyTo: '',
    daysOff: [],
  };
}
