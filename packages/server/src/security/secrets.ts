import { createCipheriv, createDecipheriv, createHmac, randomBytes, timingSafeEqual } from 'node:crypto';

/** Seals mailbox passwords and signs links; its key lives outside the database. */
export interface Secrets {
  /** AES-256-GCM (NIST SP 800-38D) with a fresh nonce: nonce, tag and ciphertext in base64. */
  seal(plain: string): string;
  /** @throws Error when the text was not sealed with this key, or was changed */
  open(sealed: string): string;
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

/** @param key 32 random bytes */
export function createSecrets(key: Buffer): Secrets {
  if (key.length !== KEY_BYTES) throw new Error(`the key file must hold ${KEY_BYTES} bytes, not ${key.length}`);
  const mac = (payload: string) =>
    createHmac('sha256', key).update(`link:${payload}`).digest().subarray(0, SIGNATURE_BYTES);
  return {
    seal(plain) {
      const nonce = randomBytes(NONCE_BYTES);
      const cipher = createCipheriv('aes-256-gcm', key, nonce);
      const body = Buffer.concat([cipher.update(plain, 'utf8'), cipher.final()]);
      return Buffer.concat([nonce, cipher.getAuthTag(), body]).toString('base64');
    },
    open(sealed) {
      const bytes = Buffer.from(sealed, 'base64');
      const decipher = createDecipheriv('aes-256-gcm', key, bytes.subarray(0, NONCE_BYTES), {
        authTagLength: TAG_BYTES,
      });
      decipher.setAuthTag(bytes.subarray(NONCE_BYTES, NONCE_BYTES + TAG_BYTES));
      return Buffer.concat([decipher.update(bytes.subarray(NONCE_BYTES + TAG_BYTES)), decipher.final()]).toString(
        'utf8',
      );
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
