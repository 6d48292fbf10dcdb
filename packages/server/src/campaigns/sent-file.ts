import { Zip, ZipDeflate } from 'fflate';
import type { ServerParts } from '../http/context';
import { enrolledProof } from '../messages/enrolled-proof';
import { readFiles } from '../messages/message-files';
import { composeMessage, replySubject } from '../sending/compose';
import { wayOut } from '../sending/signed-links';
import { readEnrolledMessages, sentOfCampaign, type EnrolledMessage } from '../store/sending/sent-rows';
import { readWorkspace } from '../store/workspace-rows';
import { requireCampaign } from './require-campaign';

/** Messages whose numbers are read at once. */
const CHUNK = 500;

/** A message that has left, put together again. */
interface SentMessage {
  /** From 1, in the order in which they left. */
  number: number;
  from: string;
  to: string;
  sentAt: number;
  raw: Buffer;
}

/** Kinds of files in which the messages are taken away that a campaign has sent. */
export const SENT_FORMATS = ['mbox', 'zip'] as const;
export type SentFormat = (typeof SENT_FORMATS)[number];

/**
 * Every message that a campaign has sent, as its text and its recipient's values make it now, with the date, subject and
 * Message-ID under which it left: an mbox (RFC 4155), or each as a file in a ZIP. Put together while it is read.
 *
 * @throws DomainError `not_found`
 */
export async function sentFile(
  parts: ServerParts,
  id: number,
  format: SentFormat,
): Promise<{ name: string; type: string; content: AsyncIterable<Uint8Array> }> {
  const campaign = await requireCampaign(parts.store.db, id);
  const name = `${campaign.name.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase()}-sent.${format}`;
  const messages = sentMessages(parts, id);
  return format === 'mbox'
    ? { name, type: 'application/mbox', content: mboxOf(messages) }
    : { name, type: 'application/zip', content: zipOf(messages) };
}

async function* sentMessages(parts: ServerParts, campaignId: number): AsyncGenerator<SentMessage> {
  const { db } = parts.store;
  const { publicAddress } = await readWorkspace(db);
  const links = { secrets: parts.secrets, publicAddress };
  let number = 0;
  let after = { sentAt: 0, id: 0 };
  for (;;) {
    const chunk = await sentOfCampaign(db, campaignId, after, CHUNK);
    for (const { enrolmentId, step, sentAt } of chunk) {
      const all = (await readEnrolledMessages(db, { enrolmentId })).filter((m) => m.sentAt !== null);
      const at = all.findIndex((m) => m.step === step);
      const message = all[at];
      // Whoever was erased meanwhile has no messages any more.
      if (!message?.content) continue;
      const { proof, mailbox } = await enrolledProof(parts, message);
      const begins = all.slice(0, at + 1).findLastIndex((m) => m.startsThread);
      const raw = await composeMessage({
        ...{ mailbox, to: message.address, dateMs: sentAt, campaignId },
        proof: { ...proof, subject: message.sentSubject ?? proof.subject },
        // A file that has been taken out of the library is missing, which keeps no message from being read.
        files: await readFiles(db, proof).catch(() => []),
        messageId: message.sentMessageId ?? `${enrolmentId}.${step}@${mailbox.address.split('@').at(-1) ?? ''}`,
        references: [
          ...answeredIds(message),
          ...all.slice(Math.max(0, begins), at).flatMap((m) => m.sentMessageId ?? []),
        ],
        leaveBy: wayOut(links, enrolmentId, mailbox.address).header,
      });
      yield { number: ++number, from: mailbox.address, to: message.address, sentAt, raw };
    }
    const last = chunk.at(-1);
    if (!last || chunk.length < CHUNK) return;
    after = last;
  }
}

/** The earlier conversation that a message answered. A step that answers one only since has left under a subject of its own. */
const answeredIds = ({ answered, sentSubject }: EnrolledMessage): string[] =>
  answered[0] && sentSubject === replySubject(answered[0].subject) ? answered.map((a) => a.messageId) : [];

/** A date as the C library's `asctime` writes it, in UTC: `Mon Nov  2 09:14:00 2026`. */
function asctime(ms: number): string {
  const [day, date, month, year, time] = new Date(ms).toUTCString().replace(',', '').split(' ');
  return `${day} ${month} ${String(Number(date)).padStart(2)} ${time} ${year}`;
}

/** Lines that could be taken for the beginning of a message get a mark, which readers take off again. */
async function* mboxOf(messages: AsyncIterable<SentMessage>): AsyncGenerator<Uint8Array> {
  for await (const { from, sentAt, raw } of messages) {
    const text = raw
      .toString('latin1')
      .replaceAll('\r\n', '\n')
      .replace(/^(>*From )/gm, '>$1');
    yield Buffer.from(`From ${from} ${asctime(sentAt)}\n${text}${text.endsWith('\n') ? '' : '\n'}\n`, 'latin1');
  }
}

async function* zipOf(messages: AsyncIterable<SentMessage>): AsyncGenerator<Uint8Array> {
  const made: Uint8Array[] = [];
  let failure: Error | null = null;
  const zip = new Zip((error, bytes) => {
    if (error) failure = error;
    else made.push(bytes);
  });
  const takeMade = () => {
    if (failure) throw failure;
    return made.splice(0);
  };
  for await (const { number, to, sentAt, raw } of messages) {
    const file = new ZipDeflate(`${String(number).padStart(6, '0')}-${to.replace(/[^\w.@+-]+/g, '_')}.eml`);
    file.mtime = sentAt;
    zip.add(file);
    file.push(raw, true);
    yield* takeMade();
  }
  zip.end();
  yield* takeMade();
}
