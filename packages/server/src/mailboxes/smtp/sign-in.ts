import { createHmac } from 'node:crypto';
import type { MailboxAccess } from '../connection';
import { afterRefusal, bearerMessage, mechanismOf } from './bearer';
import type { Reply } from './reply-reader';
import { refusal, SmtpFailure, type SmtpConnection } from './smtp-connection';

/** What a mailbox shows: its password, or a token of its provider. */
export type Shown = { password: string } | { token: string };

/** Signs in with a password by the first of these that the server knows; PLAIN where it names none of them. */
const BY_PASSWORD = ['PLAIN', 'LOGIN', 'CRAM-MD5'] as const;

/**
 * Signs in (RFC 4954).
 *
 * @throws SmtpFailure of stage `auth`
 */
export async function signIn(
  on: SmtpConnection,
  { smtp, username }: Pick<MailboxAccess, 'smtp' | 'username'>,
  shown: Shown,
): Promise<void> {
  const offered = new Set((on.extensions.get('AUTH') ?? '').toUpperCase().split(/\s+/));
  const reply =
    'token' in shown
      ? await showToken(on, offered, { ...smtp, user: username, token: shown.token })
      : await showPassword(on, offered, username, shown.password);
  if (reply.code < 200 || reply.code > 299) throw refusal('auth', reply);
}

const base64 = (text: string): string => Buffer.from(text).toString('base64');

async function showPassword(
  on: SmtpConnection,
  offered: ReadonlySet<string>,
  username: string,
  password: string,
): Promise<Reply> {
  const mechanism = BY_PASSWORD.find((m) => offered.has(m)) ?? 'PLAIN';
  // RFC 4616, 2.
  if (mechanism === 'PLAIN') return on.ask(`AUTH PLAIN ${base64(`\0${username}\0${password}`)}`, 'auth');
  const challenge = await on.ask(`AUTH ${mechanism}`, 'auth');
  if (challenge.code !== 334) return challenge;
  if (mechanism === 'CRAM-MD5') {
    // RFC 2195, 2.
    const asked = Buffer.from(challenge.lines[0] ?? '', 'base64');
    return on.ask(base64(`${username} ${createHmac('md5', password).update(asked).digest('hex')}`), 'auth');
  }
  // It has no standard: the name, then the password, each when it is asked for.
  const named = await on.ask(base64(username), 'auth');
  return named.code === 334 ? on.ask(base64(password), 'auth') : named;
}

const NO_TOKENS_TAKEN =
  'This server takes no sign-in at a provider (neither OAUTHBEARER nor XOAUTH2). A password may be right.';

/** Shows a token: the refusal of one comes in two pieces, why and then the code. */
async function showToken(
  on: SmtpConnection,
  offered: ReadonlySet<string>,
  shown: Parameters<typeof bearerMessage>[1],
): Promise<Reply> {
  const mechanism = mechanismOf(offered);
  if (mechanism === null) throw new SmtpFailure('auth', 535, NO_TOKENS_TAKEN);
  const reply = await on.ask(`AUTH ${mechanism} ${bearerMessage(mechanism, shown)}`, 'auth');
  return reply.code === 334 ? on.ask(afterRefusal(mechanism), 'auth') : reply;
}
