import { randomBytes } from 'node:crypto';
import type { Secrets } from '../security/secrets';

/** Which message to whom: the step of an enrolment. */
export interface MessageOf {
  enrolmentId: number;
  step: number;
}

/**
 * A Message-ID (RFC 5322, 3.6.4) by which Baton knows its own message again, in the Sent folder too, whatever the
 * database says. Another for each try.
 */
export function messageIdOf(secrets: Secrets, { enrolmentId, step }: MessageOf, domain: string): string {
  return `${secrets.sign(`s:${enrolmentId}:${step}:${randomBytes(6).toString('base64url')}`)}@${domain}`;
}

/** What a message with this Message-ID was, or null for one that this Baton did not send to a recipient. */
export function messageOfId(secrets: Secrets, messageId: string): MessageOf | null {
  const m = /^s:(\d{1,9}):(\d{1,4}):/.exec(secrets.verify(messageId.split('@')[0] ?? '') ?? '');
  return m ? { enrolmentId: Number(m[1]), step: Number(m[2]) } : null;
}
