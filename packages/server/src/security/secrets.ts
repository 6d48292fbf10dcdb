import { createCipheriv, createDecipheriv, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';

/** Seals mailbox passwords and signs links; its key lives outside the database. */
export interface Secrets {
  /** AES-256-GCM (NIST SP 800-38D) with a fresh nonce: nonce, tag and ciphertext in base64. */
  seal(plain: string): string;
  /** @throws Error when the text was not sealed with this key, or was changed */
  open(sealed: string): string;
  /** The same for a link, which shows nothing of what it holds: in base64url. */
  sealForLink(plain: string): string;
  /** What a link holds, or null for one that was not sealed with this key. */
  openLink(sealed: string): string | null;
  /** An unforgeable text that carries `payload`, for links. */
  sign(payload: string): string;
  /** The payload of a signed text, or null when it was not signed with this key. */
  verify(signed: string): string | null;
}

const KEY_BYTES = 32;
const NONCE_BYTES = 12;
const TAG_BYTES = 16;
/** 96 bits of HMAC-SHA-256: short enough for a link, out of reach of guessing. */
const SIGNATURE_BYTES = 12;

/** What a sealed text is for; without any, as those that are kept have always been. */
const FOR_KEEPING = Buffer.alloc(0);
const FOR_LINKS = Buffer.from('link');

/** @param key 32 random bytes */
export function createSecrets(key: Buffer): Secrets {
  if (key.length !== KEY_BYTES) throw new Error(`the key file must hold ${KEY_BYTES} bytes, not ${key.length}`);
  const mac = (payload: string) =>
    createHmac('sha256', key).update(`link:${payload}`).digest().subarray(0, SIGNATURE_BYTES);
  // What is sealed for one use opens for no other.
  const seal = (plain: string, use: Buffer): Buffer => {
    const nonce = randomBytes(NONCE_BYTES);
    const cipher = createCipheriv('aes-256-gcm', key, nonce).setAAD(use);
    const body = Buffer.concat([cipher.update(plain, 'utf8'), cipher.final()]);
    return Buffer.concat([nonce, cipher.getAuthTag(), body]);
  };
  const open = (bytes: Buffer, use: Buffer): string => {
    const nonce = bytes.subarray(0, NONCE_BYTES);
    const decipher = createDecipheriv('aes-256-gcm', key, nonce, { authTagLength: TAG_BYTES }).setAAD(use);
    decipher.setAuthTag(bytes.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES));
    return Buffer.concat([decipher.update(bytes.subarray(NONCE_BYTES + TAG_BYTES)), decipher.final()]).toString('utf8');
  };
  return {
    seal: (plain) => seal(plain, FOR_KEEPING).toString('base64'),
    open: (sealed) => open(Buffer.from(sealed, 'base64'), FOR_KEEPING),
    sealForLink: (plain) => seal(plain, FOR_LINKS).toString('base64url'),
    openLink(sealed) {
      const bytes = Buffer.from(sealed, 'base64url');
      // Written in one way only: decoding would forgive letters that are no part of it.
      if (bytes.length < NONCE_BYTES + TAG_BYTES || bytes.toString('base64url') !== sealed) return null;
      try {
        return open(bytes, FOR_LINKS);
      } catch {
        return null;
      }
    },
    sign: (payload) => `${Buffer.from(payload).toString('base64url')}.${mac(payload).toString('base64url')}`,
    verify(signed) {
      const [body, signature] = signed.split('.');
      if (!body || !signature) return null;
      const payload = Buffer.from(body, 'base64url').toString('utf8');
      // Compared as text: decoding would forgive a letter too many.
      const given = Buffer.from(signature);
      const right = Buffer.from(mac(payload).toString('base64url'));
      return given.length === right.length && timingSafeEqual(given, right) ? payload : null;
    },
  };
}
