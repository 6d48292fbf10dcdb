import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DomainError } from '../errors';
import { storableText } from '../storable-text';
import { readMailboxFile } from '../mailboxes/read-mailbox-file';
import { htmlDoc } from '../messages/html-doc';
import { letterDoc } from '../messages/letter-doc';
import { readContent, EMPTY_CONTENT } from '../messages/message-content';
import { mjmlLayout } from '../messages/mjml-layout';
import { decodeText } from '../people/import/files/decode-text';
import { readPeopleFile } from '../people/import/files/read-people-file';
import { classify } from '../reading/classify';
import { EMPTY_MESSAGE } from '../reading/incoming-message';
import { readSuppressions } from '../people/suppression/read-suppressions';
import { readCalendarDays } from '../time/read-calendar';
import { mutated, mutations, SENTENCE, UNSTORABLE } from './mutations';

const decoded = (bytes: Uint8Array) => decodeText(bytes).text;

/** Whatever is read besides lists of people, each with a file that it reads. */
const READERS: Record<string, [file: string, read: (bytes: Uint8Array) => unknown]> = {
  mailboxes: [
    'address,password,smtp host,smtp port,daily quota\nines@tidewaterkelp.example,secret,smtp.x.example,587,40\nwren@x.example,"a,b",,,\n',
    (bytes) => readMailboxFile(decoded(bytes)),
  ],
  calendar: [
    'BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART;VALUE=DATE:20261225\r\nRRULE:FREQ=YEARLY;BYMONTH=12\r\nSUMMARY:Christmas\\, and\r\n more\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n',
    (bytes) => readCalendarDays(decoded(bytes), [2026, 2028]),
  ],
  suppressions: [
    'address,reason,since\nana@x.example,asked,2026-01-05\n@y.example,competitor,\n',
    (bytes) => readSuppressions(readPeopleFile(bytes)),
  ],
  'a message that came in': [
    'Your message to <ana@vines.example> could not be delivered: 550 5.1.1 no such user\n\nFinal-Recipient: rfc822; ana@vines.example\nAction: failed\nStatus: 5.1.1\n\nI have left the company until 4 December 2026, write to Bo Lind, bo@vines.example.\nOn Tue, 24 Nov 2026 at 08:00, Ines wrote:\n> unsubscribe me, please',
    (bytes) => {
      const text = storableText(decoded(bytes));
      const from = text.length % 2 === 0 ? 'mailer-daemon@vines.example' : 'ana@vines.example';
      return classify({ ...EMPTY_MESSAGE, from, subject: text.slice(0, 80), text, deliveryReports: [text] }, 0);
    },
  ],
  'a message in MJML': [
    '<mjml><mj-body><mj-section><mj-column><mj-text>Hello {{ given_name }}</mj-text><mj-button href="https://x.example">Go</mj-button><mj-image src="a.png" alt="A"/></mj-column></mj-section></mj-body></mjml>',
    (bytes) => {
      const read = mjmlLayout(decoded(bytes));
      return (
        read &&
        readContent({
          ...EMPTY_CONTENT,
          format: 'layout',
          layout: read.layout,
          body: read.letter ?? EMPTY_CONTENT.body,
        })
      );
    },
  ],
  'a message in HTML': [
    '<p>Hello <b>{{ given_name | default: "you" }}</b>,</p><ul><li>one<li>two</ul><a href="https://x.example/?a={{ b }}">see</a><img src="a.png"><table><tr><td>x</table>',
    (bytes) => readContent({ ...EMPTY_CONTENT, body: htmlDoc(decoded(bytes)) }),
  ],
  'a message as text': [
    'Hello {{ given_name }},\n\n* one\n* two\n\n[see](https://x.example) {% if a == "b" %}c{% endif %}\n',
    (bytes) => readContent({ ...EMPTY_CONTENT, body: letterDoc(decoded(bytes)) }),
  ],
};

describe('what is damaged anyhow', () => {
  it.each(Object.entries(READERS))('is read so that it can be kept, or has a sentence: %s', (_, [file, read]) => {
    const bytes = new Uint8Array(Buffer.from(file));
    expect(JSON.stringify(read(bytes)).length).toBeGreaterThan(20);
    fc.assert(
      fc.property(mutations, (damages) => {
        try {
          expect(JSON.stringify(read(mutated(bytes, damages))) ?? '').not.toMatch(UNSTORABLE);
        } catch (error) {
          if (!(error instanceof DomainError)) throw error;
          expect(error.message).toMatch(SENTENCE);
        }
      }),
      { numRuns: 300 },
    );
  });
});
