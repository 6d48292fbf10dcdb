import { describe, expect, it } from 'vitest';
import { readIncoming } from './read-incoming';

const HEAD = [
  'From: Ana Reyes <ana@x.example>',
  'To: ines@tidewaterkelp.example',
  'Subject: Re: Kelp',
  'Message-ID: <a@x.example>',
];
const mail = (more: readonly string[], body: string | Buffer = '') =>
  Buffer.concat([Buffer.from(`${[...HEAD, ...more].join('\r\n')}\r\n\r\n`), Buffer.from(body)]);

/** Parts inside parts. */
function nested(depth: number): Buffer {
  const open = Array.from(
    { length: depth },
    (_, i) => `--b${i}\r\nContent-Type: multipart/mixed; boundary=b${i + 1}\r\n\r\n`,
  );
  return mail(['Content-Type: multipart/mixed; boundary=b0'], `${open.join('')}--b${depth}\r\n\r\nHello\r\n`);
}
const MEGABYTE = 1024 * 1024;

describe('a message that came in', () => {
  it.each([
    ['nothing', Buffer.alloc(0)],
    ['zeros', Buffer.alloc(MEGABYTE)],
    ['no head', Buffer.from('\r\n\r\nHello')],
    ['only a head', Buffer.from(HEAD.join('\r\n'))],
    ['noise', Buffer.from(Array.from({ length: 100_000 }, (_, i) => (i * 7919) % 256))],
  ])('may be %s', async (_, raw) => {
    expect(await readIncoming(raw)).toMatchObject({ text: expect.any(String) as string });
  });

  it.each([
    ['parts in a depth of 3,000', nested(3000)],
    ['100,000 parts', mail(['Content-Type: multipart/mixed; boundary=b'], '--b\r\n\r\nx\r\n'.repeat(100_000))],
    [
      '100,000 header fields',
      mail(
        Array.from({ length: 100_000 }, (_, i) => `X-${i}: y`),
        'Hello',
      ),
    ],
    ['a header field of megabytes', mail([`X-Long: ${'y '.repeat(2 * MEGABYTE)}`], 'Hello')],
    [
      '50,000 recipients',
      mail([`Cc: ${Array.from({ length: 50_000 }, (_, i) => `a${i}@x.example`).join(', ')}`], 'Hello'),
    ],
    ['brackets without end', mail([`Cc: ${'<('.repeat(200_000)}`], 'Hello')],
    [
      'a parameter in 50,000 pieces',
      mail(
        [`Content-Type: text/plain; ${Array.from({ length: 50_000 }, (_, i) => `name*${i}=x`).join('; ')}`],
        'Hello',
      ),
    ],
    ['tags in a depth of 100,000', mail(['Content-Type: text/html'], '<div>'.repeat(100_000))],
    ['a table of 100,000 cells', mail(['Content-Type: text/html'], `<table><tr>${'<td>x'.repeat(100_000)}`)],
    [
      'megabytes of base64',
      mail(['Content-Type: text/plain', 'Content-Transfer-Encoding: base64'], 'QUJD'.repeat(MEGABYTE)),
    ],
    [
      'megabytes of quoted-printable',
      mail(['Content-Type: text/plain', 'Content-Transfer-Encoding: quoted-printable'], '=41=\r\n'.repeat(300_000)),
    ],
    ['encoded words by the thousand', mail([`Comments: ${'=?utf-8?Q?a?= '.repeat(50_000)}`], 'Hello')],
  ])(
    'is read, or known by its head: %s',
    async (_, raw) => {
      const read = await readIncoming(raw);
      expect(read).toMatchObject({ from: 'ana@x.example', subject: 'Re: Kelp', messageId: 'a@x.example' });
      expect(read.text.length).toBeLessThanOrEqual(100_000);
    },
    120_000,
  );

  it('can be stored: without zero bytes and halves of letters, and with a bound on everything', async () => {
    const read = await readIncoming(
      Buffer.concat([
        Buffer.from(
          `From: "A\0na" <ana@x.example>\r\nSubject: a\0b ${'c'.repeat(5000)}\r\nContent-Type: text/plain; charset=utf-16le\r\n\r\n`,
        ),
        Buffer.from([0x41, 0, 0, 0, 0x00, 0xd8, 0x42, 0]),
      ]),
    );
    expect(JSON.stringify(read)).not.toMatch(/\\u0000|\\ud[89a-f]/i);
    expect(read.subject.length).toBeLessThanOrEqual(1000);
    expect(read.isHeadOnly).toBe(false);
  });

  it('in a character set that nobody knows is read as far as it goes', async () => {
    const read = await readIncoming(mail(['Content-Type: text/plain; charset=klingon'], 'Hello'));
    expect(read).toMatchObject({ from: 'ana@x.example', text: expect.stringContaining('Hello') as string });
  });
});
