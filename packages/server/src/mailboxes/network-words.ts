interface Server {
  host: string;
  port: number;
}

/** What keeps a program from a server, by how Node.js and OpenSSL name it, and that in words. */
const TROUBLES: readonly [named: RegExp, words: (server: Server) => string][] = [
  [/ENOTFOUND|EAI_AGAIN|ENODATA/, ({ host }) => `The server ${host} was not found.`],
  [/ECONNREFUSED/, ({ host, port }) => `Nothing is listening on port ${port} of ${host}.`],
  [/EHOSTUNREACH|ENETUNREACH/, ({ host }) => `The network does not reach ${host}.`],
  [/ETIMEDOUT|timed? ?out/i, ({ host, port }) => `${host} does not respond on port ${port}.`],
  [
    /wrong version number|packet length too long/,
    ({ port }) => `Port ${port} does not begin with TLS. STARTTLS, or another port, may be right.`,
  ],
  [/altnames|ALTNAME/, ({ host }) => `The certificate that ${host} shows is for another name.`],
  [/certificate has expired|CERT_HAS_EXPIRED/, ({ host }) => `The certificate of ${host} has expired.`],
  [/certificate/i, ({ host }) => `The certificate of ${host} is not one that this machine trusts.`],
  [/ECONNRESET|EPIPE|socket hang up/, ({ host }) => `${host} broke off the connection.`],
];

/** What went wrong with a server: in words, where it is the network's trouble, and as it was said. */
export function networkWords(said: string, server: Server): string {
  const trouble = TROUBLES.find(([named]) => named.test(said));
  return trouble ? `${trouble[1](server)} (${said})` : said;
}
