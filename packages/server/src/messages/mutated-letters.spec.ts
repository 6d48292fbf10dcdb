import fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { DomainError } from '@baton/core';
import { mutated, mutations, SENTENCE, UNSTORABLE } from '../../../core/src/testing/mutations';
import { parseHead, parseMail } from '../reading/parse-mail';
import { readLetterFile, ZIP_FORMAT } from './read-letter-file';

const MAIL = [
  'From: =?utf-8?q?Ana_Reyes?= <ana@x.example>',
  'To: ines@tidewaterkelp.example, "Bo, S." <bo@x.example>',
  'Subject: =?iso-8859-1?B?S2VscCDg?=',
  'Message-ID: <a@x.example>',
  'MIME-Version: 1.0',
  'Content-Type: multipart/mixed; boundary="b"',
  '',
  '--b',
  'Content-Type: text/html; charset=windows-1252',
  'Content-Transfer-Encoding: quoted-printable',
  '',
  '<p>Hello =e9 <a href=3D"https://x.example">see</a></p>',
  '--b',
  'Content-Type: message/delivery-status',
  '',
  'Final-Recipient: rfc822; ana@x.example',
  'Status: 5.1.1',
  '',
  '--b',
  'Content-Type: image/png; name="a.png"',
  'Content-Transfer-Encoding: base64',
  '',
  'iVBORw0KGgo=',
  '--b--',
  '',
].join('\r\n');

const bytesOf = (text: string) => new Uint8Array(Buffer.from(text, 'latin1'));
const ZIP = zipSync({
  'message.json': strToU8(
    JSON.stringify({ format: ZIP_FORMAT, name: 'A', content: { subject: 'Kelp', body: 'Hello' }, files: [] }),
  ),
});

const READERS: Record<string, [bytes: Uint8Array, read: (bytes: Uint8Array) => Promise<unknown>]> = {
  'a message that came in': [bytesOf(MAIL), parseMail],
  'the head of one': [bytesOf(MAIL), parseHead],
  'a message brought in as mail': [bytesOf(MAIL), (bytes) => readLetterFile('a.eml', bytes)],
  'one in HTML': [
    bytesOf('<html><body><p>Hello <b>you</b><img src="a.png"></body></html>'),
    (b) => readLetterFile('a.html', b),
  ],
  'one in MJML': [
    bytesOf('<mjml><mj-body><mj-section><mj-column><mj-text>Hello</mj-text></mj-column></mj-section></mj-body></mjml>'),
    (bytes) => readLetterFile('a.mjml', bytes),
  ],
  'one as text': [bytesOf('Hello,\n\nkelp?\n'), (bytes) => readLetterFile('a.txt', bytes)],
  'one in a zip': [ZIP, (bytes) => readLetterFile('a.zip', bytes)],
};

describe('what is damaged anyhow', () => {
  it.each(Object.entries(READERS))(
    'is read so that it can be kept, or has a sentence: %s',
    async (_, [bytes, read]) => {
      await fc.assert(
        fc.asyncProperty(mutations, async (damages) => {
          try {
            const found = JSON.stringify(await read(mutated(bytes, damages)), (_key, value: unknown) =>
              value instanceof Uint8Array ? null : value,
            );
            expect(found).not.toMatch(UNSTORABLE);
          } catch (error) {
            if (!(error instanceof DomainError)) throw error;
            expect(error.message).toMatch(SENTENCE);
          }
        }),
        { numRuns: 200 },
      );
    },
    180_000,
  );
});
