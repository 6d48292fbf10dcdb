import { readPeopleFile } from '../import/files/read-people-file';
import { describe, expect, it } from 'vitest';
import { readSuppression, readSuppressions } from './read-suppressions';

const read = (text: string) => readSuppressions(readPeopleFile(Buffer.from(text)));

describe('readSuppressions', () => {
  it('takes addresses and domains of any file, with their reason, and keeps the rest aside', () => {
    const { entries, aside } = read(
      'who,reason\nAna@Vines.example,asked to\n@slate.example,customer\nnobody here,\nharbour.example,',
    );
    expect(entries).toEqual([
      { kind: 'address', key: 'ana@vines.example', reason: 'asked to' },
      { kind: 'domain', key: 'slate.example', reason: 'customer' },
      { kind: 'domain', key: 'harbour.example', reason: '' },
    ]);
    expect(aside).toMatchObject([{ line: 4, reason: expect.stringContaining('address or a domain') }]);
  });

  it('takes a plain list of domains, its first line too', () => {
    expect(read('slate.example\nharbour.example\n').entries.map((e) => e.key)).toEqual([
      'slate.example',
      'harbour.example',
    ]);
  });
});

describe('readSuppression', () => {
  it.each(['', 'two words', '@', 'nodot', 'a@b@c.example'])('takes %j for neither', (text) =>
    expect(readSuppression(text)).toBeNull(),
  );
});
