import { startProvider, type Provider } from '@baton/simulator';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { ImapReader } from './imap';

const INES = 'ines@tidewaterkelp.example';
let provider: Provider;
let reader: ImapReader;
beforeEach(async () => {
  provider = await startProvider({ seed: 7, smtpPort: 0, imapPort: 0, controlPort: 0, journal: null });
  await fetch(`http://127.0.0.1:${provider.controlPort}/accounts`, {
    method: 'POST',
    body: JSON.stringify({ address: INES, password: 'correct horse', dailyLimit: 100, keepsSent: true }),
  });
  const server = (port: number) => ({ host: '127.0.0.1', port, security: 'none' as const });
  reader = new ImapReader({
    smtp: server(provider.smtpPort),
    imap: server(provider.imapPort),
    username: INES,
    credential: { password: 'correct horse' },
  });
});
afterEach(async () => {
  await reader.close();
  await provider.close();
});

let mails = 0;
const comes = (folder = 'INBOX') =>
  provider.store.addMail(INES, folder, Buffer.from(`Subject: ${++mails}\r\n\r\nHello`), mails);
const WAIT = { timeout: 60_000, interval: 50 };

describe('new mail', () => {
  it('is told of as it comes, again and again, and what is asked between is answered as ever', async () => {
    const told = vi.fn();
    reader.tellOfNew(told);
    for (let n = 1; n <= 3; n++) {
      expect((await reader.position()).uidNext).toBe(n);
      // Until the server has been asked to tell, nothing is told; mail comes once it has.
      await vi.waitFor(() => expect(provider.imap.isIdling(INES)).toBe(true), WAIT);
      comes();
      await vi.waitFor(() => expect(told).toHaveBeenCalledTimes(n), WAIT);
    }
    const found: number[] = [];
    await reader.eachFrom(1, async (some) => void found.push(...some.map((m) => m.uid)));
    expect(found).toEqual([1, 2, 3]);
  });

  it('is told of nobody who did not ask, nor what comes elsewhere', async () => {
    await reader.position();
    expect(provider.imap.isIdling(INES)).toBe(false);
    const told = vi.fn();
    reader.tellOfNew(told);
    await reader.position();
    await vi.waitFor(() => expect(provider.imap.isIdling(INES)).toBe(true), WAIT);
    comes('Sent');
    comes('Spam');
    // The connection answers, so what it had to tell has come.
    expect((await reader.position()).uidNext).toBe(1);
    expect(told).not.toHaveBeenCalled();
  });

  it('is told of again after the connection broke', async () => {
    const told = vi.fn();
    reader.tellOfNew(told);
    await reader.position();
    await vi.waitFor(() => expect(provider.imap.isIdling(INES)).toBe(true), WAIT);
    provider.imap.cut();
    await reader.position().catch(() => reader.position());
    await vi.waitFor(() => expect(provider.imap.isIdling(INES)).toBe(true), WAIT);
    comes();
    await vi.waitFor(() => expect(told).toHaveBeenCalledTimes(1), WAIT);
  });
});
