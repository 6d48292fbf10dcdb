import fc from 'fast-check';
import { simpleParser } from 'mailparser';
import { describe, expect, it } from 'vitest';
import { composeMessage, replySubject } from './compose';

const compose = (over: Partial<Parameters<typeof composeMessage>[0]> = {}) =>
  composeMessage({
    mailbox: { address: 'ines@tidewaterkelp.example', senderName: 'Ines Aldrich' },
    to: 'odile@cedres.example',
    proof: { subject: 'Kelp', text: 'Hello', html: '<p>Hello</p>' },
    messageId: 'a@tidewaterkelp.example',
    references: [],
    dateMs: Date.UTC(2026, 10, 24, 10, 42),
    unsubscribeUrl: 'http://127.0.0.1:4310/u/abc',
    ...over,
  });

const headersOf = (raw: Buffer) =>
  raw
    .subarray(0, raw.indexOf('\r\n\r\n'))
    .toString('latin1')
    .replace(/\r\n[ \t]+/g, ' ')
    .split('\r\n');

describe('composeMessage', () => {
  it('writes the headers of a bulk message that can be left with one press (RFC 2369, 8058)', async () => {
    const headers = headersOf(await compose());
    expect(headers).toContain('List-Unsubscribe: <http://127.0.0.1:4310/u/abc>');
    expect(headers).toContain('List-Unsubscribe-Post: List-Unsubscribe=One-Click');
    expect(headers).toContain('Message-ID: <a@tidewaterkelp.example>');
    expect(headers).toContain('Date: Tue, 24 Nov 2026 10:42:00 +0000');
  });

  it('puts a follow-up into its thread (RFC 5322 3.6.4)', async () => {
    const headers = headersOf(await compose({ references: ['1@x.example', '2@x.example'] }));
    expect(headers).toContain('In-Reply-To: <2@x.example>');
    expect(headers).toContain('References: <1@x.example> <2@x.example>');
  });

  it('is read back as it was written by another parser, whatever letters it has', async () => {
    const text = fc
      .string({ unit: 'grapheme', minLength: 1, maxLength: 60 })
      .map((s) => s.replace(/\s+/gu, ' ').trim());
    const spoken = text.filter((s) => s !== '' && !/[\p{C}]/u.test(s));
    await fc.assert(
      fc.asyncProperty(spoken, spoken, async (subject, name) => {
        const mail = await simpleParser(
          await compose({
            proof: { subject, text: name, html: '<p>x</p>' },
            mailbox: { address: 'ines@tidewaterkelp.example', senderName: name },
          }),
        );
        expect(mail.subject?.normalize()).toBe(subject.normalize());
        expect(mail.text?.trim().normalize()).toBe(name.normalize());
        expect(mail.from?.value[0]?.address).toBe('ines@tidewaterkelp.example');
      }),
      { numRuns: 60 },
    );
  });

  it.each(['Ana\r\nBcc: all@x.example', 'Ana\nX: y', '"Reyes, Ana" <x@y.example>', 'Ana\u2028Bcc: x'])(
    'lets no header in through the sender name %j',
    async (senderName) => {
      const raw = await compose({ mailbox: { address: 'ines@tidewaterkelp.example', senderName } });
      expect(headersOf(raw).filter((h) => /^(bcc|x):/i.test(h))).toEqual([]);
      expect((await simpleParser(raw)).from?.value.map((v) => v.address)).toEqual(['ines@tidewaterkelp.example']);
    },
  );

  it('keeps every line below the limit of RFC 5321', async () => {
    const raw = await compose({
      proof: { subject: 'x'.repeat(900), text: 'é'.repeat(5000), html: `<p>${'a'.repeat(9000)}</p>` },
    });
    for (const line of raw.toString('latin1').split('\r\n')) expect(line.length).toBeLessThanOrEqual(998);
  });
});

describe('replySubject', () => {
  it('adds Re: once', () => {
    expect(replySubject('Kelp')).toBe('Re: Kelp');
    expect(replySubject('RE: Kelp')).toBe('RE: Kelp');
  });
});
