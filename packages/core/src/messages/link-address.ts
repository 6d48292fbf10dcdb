/** What links of messages may lead to. */
const SCHEMES = ['http:', 'https:', 'mailto:', 'tel:'];
const SCHEME = /^([a-z][a-z0-9+.-]*:)/i;
/** `www.x.example`, `x.example/path`: an address written without its scheme. */
const BARE = /^(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?\.)+\p{L}{2,}(?:[:/?#]|$)/u;

/**
 * The address that a link leads to, as it may stand in a message: with its scheme, without spaces and control
 * characters; null for what leads nowhere, or to what a message must not (`javascript:`, `data:`).
 */
export function linkAddress(written: string): string | null {
  const text = written.replace(/[\p{Cc}\u200b\ufeff]/gu, '').trim();
  if (text === '') return null;
  const scheme = SCHEME.exec(text)?.[1]?.toLowerCase();
  // `x.example:8080` has no scheme, though it looks as if.
  if (scheme === undefined || (!SCHEMES.includes(scheme) && BARE.test(text))) {
    if (/^[^\s@/]+@[^\s@/]+\.[^\s@/]+$/.test(text)) return `mailto:${text}`;
    return BARE.test(text) ? encoded(`https://${text}`) : null;
  }
  if (!SCHEMES.includes(scheme)) return null;
  return text.length > scheme.length ? encoded(text) : null;
}

const encoded = (text: string): string => text.replace(/[\s"<>\\^`{|}]/g, (c) => encodeURIComponent(c));

/** Whether an address leads to the machine itself on which it is opened (RFC 6761, 6.3; RFC 6890), so that nobody else can open it. */
export function isLoopback(address: string): boolean {
  const url = URL.canParse(address) ? new URL(address) : null;
  if (!url || !/^https?:$/.test(url.protocol)) return false;
  const host = url.hostname.replace(/\.$/, '');
  return /^(?:localhost|.*\.localhost|127(?:\.\d+){3}|0\.0\.0\.0|\[::1?\]|\[::ffff:7f.*\])$/i.test(host);
}
