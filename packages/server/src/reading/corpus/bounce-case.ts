import type { BounceKind } from '@baton/core';
import { written, type MailCase, type Written } from './mail-case';

/** Who did not get them. */
export const ANA = 'ana@vines.example';
export const DAEMON = 'Mail Delivery System <MAILER-DAEMON@mx.vines.example>';

/** A bounce. */
export const bounce = (name: string, kind: BounceKind, w: Written, concerns: string[] = [ANA]): MailCase => ({
  name: `bounce: ${name}`,
  kind: 'bounce',
  bounce: kind,
  concerns,
  raw: written({ from: DAEMON, subject: 'Undelivered Mail Returned to Sender', ...w }),
});
