/** How a token is shown to a mail server: by the standard, and as it was before that. */
export type Mechanism = 'OAUTHBEARER' | 'XOAUTH2';

/** Which of the two a submission server takes, the standard first; null for neither (RFC 4954, 3). */
export const mechanismOf = (offered: ReadonlySet<string>): Mechanism | null =>
  (['OAUTHBEARER', 'XOAUTH2'] as const).find((m) => offered.has(m)) ?? null;

/** The first message of the client (RFC 7628, 3.1; names escaped as in RFC 5801, 4), in base64. */
export function bearerMessage(
  mechanism: Mechanism,
  { user, token, host, port }: { user: string; token: string; host: string; port: number },
): string {
  const name = user.replace(/=/g, '=3D').replace(/,/g, '=2C');
  const fields =
    mechanism === 'OAUTHBEARER'
      ? [`n,a=${name},`, `host=${host}`, `port=${port}`, `auth=Bearer ${token}`]
      : [`user=${user}`, `auth=Bearer ${token}`];
  return Buffer.from([...fields, '', ''].join('\u0001')).toString('base64');
}

/** What ends the conversation once the server has said why it refuses (RFC 7628, 3.2.3). */
export const afterRefusal = (mechanism: Mechanism): string => (mechanism === 'OAUTHBEARER' ? 'AQ==' : '');
