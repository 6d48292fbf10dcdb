import { readPeopleFile } from '@baton/core';
import fc from 'fast-check';
import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { writeSheet } from './write-sheet';

/** Whatever stands in a cell: white space, marks of XML, other scripts. What no XML holds is tried apart. */
const text = fc
  .array(fc.constantFrom('a', 'B', 'ø', '漢', '👩‍🌾', ' ', '  ', '&', '<', '>', '"', "'", '=', ']]>', '&amp;', '\n'), {
    maxLength: 8,
  })
  // An apostrophe that keeps a formula from being run is not part of the text.
  .map((parts) => parts.join('').trim().replace(/^'+/, ''));

describe('a sheet of rows', () => {
  it.each(['xlsx', 'ods'] as const)(
    'is read again as it was written, as %s',
    async (format) => {
      await fc.assert(
        fc.asyncProperty(fc.array(fc.tuple(text, text), { minLength: 1, maxLength: 6 }), async (rows) => {
          const own = rows.map(([a, b], i) => [`p${i}@vines.example`, a, b]);
          const sheet = await writeSheet(format, ['email', 'one', 'two'], [own], []);
          const read = readPeopleFile(sheet).table.rows.map((r) => r.cells);
          expect(read).toEqual(own);
        }),
        { numRuns: 60 },
      );
    },
    60_000,
  );

  it('holds what XML cannot, marked, and is what it says from its first bytes', async () => {
    const ods = await writeSheet('ods', ['email'], [[['a\u0000\ud800b\tc']]], []);
    const content = Buffer.from(unzipSync(ods)['content.xml'] ?? []).toString();
    expect(content).toContain('<text:p>a\ufffd\ufffdb<text:tab/>c</text:p>');
    expect(ods.subarray(30, 38 + 46).toString('latin1')).toBe('mimetypeapplication/vnd.oasis.opendocument.spreadsheet');
  });

  it('says so where it would have too many rows', async () => {
    const rows = Array.from({ length: 200_001 }, () => ['x']);
    await expect(writeSheet('ods', ['email'], [rows], [])).rejects.toThrow('up to 200,000 rows, and these are more');
  });
});
