import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DomainError } from '../../../errors';
import { mutated, mutations, SENTENCE, UNSTORABLE } from '../../../testing/mutations';
import { ods, xlsx } from '../../../testing/workbooks';
import { cleanTable } from '../cleaning/clean-table';
import { USUAL_CLEANINGS } from '../cleaning/cleanings';
import { guessColumns } from '../columns/guess-columns';
import { sortRows } from '../../list/sort-rows';
import { readPeopleFile } from './read-people-file';

const text = (content: string, encoding: BufferEncoding = 'utf8') => new Uint8Array(Buffer.from(content, encoding));
const row = (line: number, ...cells: string[]) => ({ line, cells });
const cell = (value: string) => `<table:table-cell><text:p>${value}</text:p></table:table-cell>`;

/** One file of each kind that is read. */
const FILES: Record<string, Uint8Array> = {
  CSV: text('name,email,send on\r\n"Reyes, Ana",ana@x.example,3/4/2026\r\nBo,bo@x.example,24. Dez. 2026\r\n'),
  'UTF-16': text('\ufeffname;email\nJiří;jiri@x.example\n', 'utf16le'),
  'Windows-1252': text('prénom;email\nZoë;zoe@x.example\n', 'latin1'),
  XLSX: xlsx({ A: [row(1, 'name', 'email'), row(2, 'Ana', 'ana@x.example'), row(3, 'Bo', 'bo@x.example')] }),
  ODS: ods({
    A: `<table:table-row>${cell('email')}</table:table-row><table:table-row>${cell('a@x.example')}</table:table-row>`,
  }),
  HTML: text('<html><table><tr><th>name<th>email</tr><tr><td>Ana<td>ana@x.example</table>'),
  'vCard 2.1': text(
    'BEGIN:VCARD\r\nVERSION:2.1\r\nN;QUOTED-PRINTABLE:M=C3=BC=\r\nller;Ana\r\nEMAIL;INTERNET:a@x.example\r\nEND:VCARD\r\n',
  ),
  'vCard 4': text('BEGIN:VCARD\nVERSION:4.0\nFN:Ana\nEMAIL;PREF=1:ana@x.example\nCATEGORIES:a,b\nEND:VCARD\n'),
  'JSON lines': text('{"name":"Ana","email":"ana@x.example"}\n{"name":"Bo","email":"bo@x.example"}\n'),
  JSON: text('{"people":[{"name":"Ana","email":"ana@x.example"},{"name":"Bo","email":"bo@x.example"}]}'),
  'spreadsheet XML': text(
    '<?xml version="1.0"?><Workbook xmlns:ss="urn:schemas-microsoft-com:office:spreadsheet"><Worksheet ss:Name="A"><Table><Row><Cell><Data ss:Type="String">email</Data></Cell></Row><Row ss:Index="4"><Cell ss:MergeDown="2"><Data ss:Type="String">a@x.example</Data></Cell></Row></Table></Worksheet></Workbook>',
  ),
  'aligned columns': text('name         email\nAna Reyes    ana@x.example\nBo Salt      bo@x.example\n'),
  prose: text('Write to Ana <ana@x.example>, «bo@x.example» or cy@x.example/dee@x.example.'),
};

describe('a file that is damaged anyhow', () => {
  it.each(Object.entries(FILES))('is read, or has a sentence: %s', (_, bytes) => {
    expect(readPeopleFile(bytes).table.rows.length).toBeGreaterThan(0);
    fc.assert(
      fc.property(mutations, (damages) => {
        try {
          const { table } = readPeopleFile(mutated(bytes, damages));
          const roles = guessColumns(table).map((g) => g.role);
          const cleaned = cleanTable(table, roles, USUAL_CLEANINGS);
          const nobody = { isKnown: () => false, isSuppressed: () => false };
          const { taken } = sortRows(cleaned.table, cleaned.roles, nobody);
          // Whatever was read can be stored and written to.
          for (const { address, fields } of taken) expect(JSON.stringify([address, fields])).not.toMatch(UNSTORABLE);
        } catch (error) {
          if (!(error instanceof DomainError)) throw error;
          expect(error.message).toMatch(SENTENCE);
        }
      }),
      { numRuns: 300 },
    );
  });
});
