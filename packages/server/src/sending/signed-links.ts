import type { Secrets } from '../security/secrets';

/** The signed link by which one recipient of one campaign leaves. */
export function unsubscribeUrl(publicUrl: string, secrets: Secrets, enrolmentId: number): string {
  return `${publicUrl}/u/${secrets.sign(`u:${enrolmentId}`)}`;
}

/** The signed link under which one recipient sees one message in a browser. */
export function browserUrl(publicUrl: string, secrets: Secrets, enrolmentId: number, step: number): string {
  return `${publicUrl}/m/${secrets.sign(`m:${enrolmentId}:${step}`)}`;
}

/** The message a link to see it was made for, or null for a link that Baton did not make. */
export function messageOfLink(secrets: Secrets, signed: string): { enrolmentId: number; step: number } | null {
  const m = /^m:(\d+):(\d+)$/.exec(secrets.verify(signed) ?? '');
  return m ? { enrolmentId: Number(m[1]), step: Number(m[2]) } : null;
}

/** The enrolment a link was made for, or null for a link that Baton did not make. */
export function enrolmentOfLink(secrets: Secrets, signed: string): number | null {
  const m = /^u:(\d+)$/.exec(secrets.verify(signed) ?? '');
  return m ? Number(m[1]) : null;
}
