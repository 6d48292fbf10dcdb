import { classify, receivedAt, saysAway, type Classified } from '@baton/core';
import type { ReadMail } from '../reading/read-incoming';
import { readIncoming } from '../reading/read-incoming';
import type { MailInFile } from './mail-files';

/** What a message is taken for, as `baton read-mail` prints it; docs/formats.md describes each field. */
export async function readMail({ file, message, raw }: MailInFile, nowMs: number): Promise<object> {
  const mail = await readIncoming(raw);
  const receivedMs = receivedAt(mail.headers, nowMs);
  const found = classify(mail, receivedMs);
  return {
    file,
    ...(message === null ? {} : { message }),
    ...described(found, mail),
    from: mail.from,
    subject: mail.subject,
    messageId: mail.messageId || null,
    received: new Date(receivedMs).toISOString(),
    ...(mail.isHeadOnly ? { isHeadOnly: true } : {}),
  };
}

function described(found: Classified, mail: ReadMail): object {
  return {
    kind: found.kind,
    subKind: subKindOf(found, mail),
    sureness: found.sureness,
    concerns: found.concerns,
    code: found.code,
    serverWords: found.serverWords,
    blockedFor: found.blockedFor,
    dateBack: found.backOn,
    awayUntil: found.awayUntil,
    newContact: found.contact,
    ownWords: found.own,
    suggests: found.suggests,
    matchedIds: found.answers,
    reasons: found.because,
  };
}

/** What a kind is told apart into. */
function subKindOf(found: Classified, mail: ReadMail): string | null {
  if (found.kind === 'auto_reply')
    return found.backOn !== null || saysAway(`${mail.subject}\n${found.own}`) ? 'away' : null;
  return found.bounce ?? found.calendar ?? found.suggests?.what ?? null;
}
