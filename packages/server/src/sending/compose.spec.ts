import fc from 'fast-check';
import { extract } from 'letterparser';
import { simpleParser } from 'mailparser';
import { describe, expect, it } from 'vitest';
import { readContent, recipientValues, renderProof, type MessageValues } from '@baton/core';
import { TEXTS } from '../demo/demo-texts';
import { compileContent } from '../messages/compiled-messages';
import { zones } from '../time/zones';
import { composeMessage, replySubject } from './compose';

const compose = (over: Partial<Parameters<typeof composeMessage>[0]> = {}) =>
  composeMessage({
    mailbox: { address: 'ines@tidewaterkelp.example', senderName: 'Ines Aldrich' },
    to: 'odile@cedres.example',
    proof: { subject: 'Kelp', text: 'Hello', html: '<p>Hello</p>' },
    messageId: 'a@tidewaterkelp.example',
    references: [],
    dateMs: Date.UTC(2026, 10, 24, 10, 42),
    leaveBy: ['http://127.0.0.1:4310/u/abc'],
    ...over,
  });

const headersOf = (raw: Buffer) =>
  raw
    .subarray(0, raw.indexOf('\r\n\r\n'))
    .toString('latin1')
    .replace(/\r\n[ \t]+/g, ' ')
    .split('\r\n');

describe('composeMessage', () => {
  it('sends answers where the mailbox says, unless the message says otherwise', async () => {
    const mailbox = {
      address: 'ines@tidewaterkelp.example',
      senderName: 'Ines',
      replyTo: 'desk@tidewaterkelp.example',
    };
    const proof = { subject: 'Kelp', text: 'Hello', html: '<p>Hello</p>' };
    const replyTo = async (own: Parameters<typeof compose>[0]) =>
      (await simpleParser(await compose({ mailbox, ...own }))).replyTo?.text;
    expect(await replyTo({ proof })).toBe('desk@tidewaterkelp.example');
    expect(await replyTo({ proof: { ...proof, replyTo: 'ana@x.example' } })).toBe('ana@x.example');
  });

  it('writes the headers of a bulk message that can be left with one press (RFC 2369, 8058)', async () => {
    const leaveBy = [
      'https://baton.tidewaterkelp.example/u/abc',
      'mailto:ines@tidewaterkelp.example?subject=Unsubscribe%20abc',
    ];
    const headers = headersOf(await compose({ leaveBy, campaignId: 12 }));
    expect(headers.join(' ')).toContain(`List-Unsubscribe: <${leaveBy[0]}>, <${leaveBy[1]}>`);
    expect(headers).toContain('List-Unsubscribe-Post: List-Unsubscribe=One-Click');
    expect(headers.join('\n')).toMatch(/^List-Id: <campaign-12\.tidewaterkelp\.example>$/im);
    const open = headersOf(await compose());
    expect(open).toContain('List-Unsubscribe: <http://127.0.0.1:4310/u/abc>');
    expect(open.join()).not.toMatch(/One-Click|List-Id/i);
    expect(headers).toContain('Message-ID: <a@tidewaterkelp.example>');
    expect(headers).toContain('Date: Tue, 24 Nov 2026 10:42:00 +0000');
  });

  it('has domains in ASCII and a Message-ID and lines as mail has them', async () => {
    const raw = await compose({
      mailbox: { address: 'ines@bücher.example', senderName: 'Ines' },
      to: 'jo@例え.example',
      proof: { subject: 'Kelp', text: 'one\ntwo\r\nthree', html: '<p>one\ntwo</p>', cc: ['bo@straße.example'] },
    });
    const text = raw.toString('latin1');
    expect(text).toContain('ines@xn--bcher-kva.example');
    expect(text).toContain('xn--r8jz45g.example');
    expect(text).toContain('bo@xn--strae-oqa.example');
    expect(text.replaceAll('\r\n', '')).not.toMatch(/[\r\n]/);
  });

  it('shows literally what looks like an encoded word, and takes out what would disguise a name', async () => {
    const subject = '=?utf-8?B?SGVsbG8=?= for =?utf-8?q?you?=, a subject that is longer than one encoded word may be';
    const senderName = '=?utf-8?Q?Ines?= Aldrich\u202e\u0000';
    const files = [{ filename: 'price\u202efdp.exe\r\nX: y', content: Buffer.from('x') }];
    const raw = await compose({
      mailbox: { address: 'ines@tidewaterkelp.example', senderName },
      proof: { subject, text: 'x', html: 'x' },
      files: files as never,
    });
    const mail = await simpleParser(raw);
    expect(mail.subject).toBe(subject);
    expect(mail.from?.value[0]).toEqual({ address: 'ines@tidewaterkelp.example', name: '=?utf-8?Q?Ines?= Aldrich' });
    expect(mail.attachments[0]?.filename).toBe('pricefdp.exe X: y');
    for (const line of headersOf(raw)) expect(line).not.toMatch(/^X:/);
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

describe('the demo’s messages', () => {
  const values = (): MessageValues => ({
    senderName: 'Reyes, "Ines" 🌿',
    senderAddress: 'ines@tidewaterkelp.example',
    signature: 'Ines\nTidewater Kelp Works',
    unsubscribeLink: 'http://127.0.0.1:4310/u/abc',
    browserLink: 'http://127.0.0.1:4310/m/abc',
    postalAddress: '4 Slip Road, Carrow Bay',
    ...{ listName: 'Vineyards', campaignName: 'Spring', position: 1, recipients: 2 },
    sendingMs: Date.UTC(2026, 10, 24, 10, 42),
    zone: zones.get('Europe/Dublin'),
  });
  const rows: Record<string, string>[] = [
    { givenname: 'Ελένη', company: 'Κτήμα “Α” & Σία', surface: '12' },
    { givenname: 'مريم', company: "<b>Salt</b> 'Estate'", trees: '9'.repeat(30) },
    { company: 'Very long '.repeat(30) },
  ];
  const flat = (html: string) =>
    html
      .replace(/<!--[\s\S]*?-->|\s+/g, ' ')
      .replace(/ +/g, ' ')
      .trim();

  it.each(Object.values(TEXTS).map((t) => [t.name, t] as const))(
    '%s is read back as it was proofed',
    async (_, text) => {
      const compiled = await compileContent(readContent(text));
      for (const row of rows) {
        const proof = renderProof(compiled, recipientValues(row, values()));
        const mailbox = { address: 'ines@tidewaterkelp.example', senderName: values().senderName };
        const raw = await compose({ proof, mailbox });
        for (const line of raw.toString('latin1').split('\r\n')) expect(line.length).toBeLessThanOrEqual(998);
        const mail = await simpleParser(raw);
        expect(mail.subject).toBe(proof.subject.replace(/ +/g, ' '));
        expect(mail.text?.trim()).toBe(proof.text.trim());
        expect(flat(mail.html || '')).toBe(flat(proof.html));
        expect(mail.from?.value).toEqual([{ address: mailbox.address, name: mailbox.senderName }]);
        const again = extract(raw.toString('latin1'));
        expect(again.subject).toBe(proof.subject);
        expect(again.text?.trim()).toBe(proof.text.trim());
        expect(flat(again.html ?? '')).toBe(flat(proof.html));
        expect(again.from).toMatchObject({ address: mailbox.address, name: mailbox.senderName });
      }
    },
  );

  it('let no header in through any field', async () => {
    const bad = 'x\r\nBcc: all@x.example\r\n\r\nbody';
    const compiled = await compileContent(
      readContent({
        ...{ subject: '{{ a }}', preview: '{{ a }}', body: '{{ a }}', senderName: '{{ a }}', replyTo: '{{ b }}' },
        ...{ cc: '{{ b }}', bcc: '{{ b }}', attachments: [{ kind: 'named', name: '{{ a }}' }] },
      }),
    );
    const proof = renderProof(compiled, { a: bad, b: 'bo@x.example\r\nBcc: all@x.example' });
    expect(proof.cc).toEqual(['bo@x.example']);
    expect(proof.faults.length).toBeGreaterThan(0);
    const files = proof.attachmentNames.map((filename) => ({
      filename,
      content: Buffer.from('x'),
      contentType: 'text/plain',
    }));
    const raw = await compose({ proof, files });
    expect(headersOf(raw).filter((h) => /^(?:bcc|x):/i.test(h))).toEqual([]);
    const mail = await simpleParser(raw);
    expect([mail.to ?? []].flat().flatMap((t) => t.value.map((v) => v.address))).toEqual(['odile@cedres.example']);
  });
});

describe('replySubject', () => {
  it('adds Re: once', () => {
    expect(replySubject('Kelp')).toBe('Re: Kelp');
    expect(replySubject('RE: Kelp')).toBe('RE: Kelp');
  });
});
