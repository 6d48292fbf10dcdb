import type { Secrets } from '../security/secrets';

/** The signed link by which one recipient of one campaign leaves. */
export function unsubscribeUrl(publicUrl: string, secrets: Secrets, enrolmentId: number): string {
  return `${publicUrl}/u/${secrets.sign(`u:${enrolmentId}`)}`;
}

/** The enrolment a link was made for, or null for a link that Baton did not make. */
export function enrolmentOfLink(secrets: Secrets, signed: string): number | null {
  const m = /^u:(\d+)$/.exec(secrets.verify(signed) ?? '');
  return m ? Number(m[1]) : null;
}
