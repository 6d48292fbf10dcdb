import { zipSync, strToU8 } from 'fflate';
import { afterAll, describe, expect, it } from 'vitest';
import { BoundedReader, READING_LIMITS } from './bounded-reader';

const csv = (name: string) => Buffer.from(`name,email\n${name},${name.toLowerCase()}@x.example\n`);
const names = async (reader: BoundedReader, bytes: Uint8Array) =>
  (await reader.read('people', bytes)).table.rows.map((r) => r.cells[0]);

/** A workbook of one sheet whose XML is so many times the same row. */
function workbook(row: (n: number) => string, rows: number): Uint8Array {
  const lines = Array.from({ length: rows }, (_, i) => row(i + 1)).join('');
  return zipSync({
    'xl/workbook.xml': strToU8(
      '<workbook xmlns:r="r"><sheets><sheet name="A" sheetId="1" r:id="rId1"/></sheets></workbook>',
    ),
    'xl/_rels/workbook.xml.rels': strToU8(
      '<Relationships><Relationship Id="rId1" Target="worksheets/a.xml"/></Relationships>',
    ),
    'xl/worksheets/a.xml': strToU8(`<worksheet><sheetData>${lines}</sheetData></worksheet>`),
  });
}

describe('reading in a thread of its own', () => {
  const reader = new BoundedReader();

  it('gives what the file holds, one after another, and the sentence for what cannot be read', async () => {
    const asked = ['Ana', 'Bo', 'Cy'].map((name) => names(reader, csv(name)));
    const broken = reader.read('people', new Uint8Array([0x50, 0x4b, 0x03, 0x04, 1, 2, 3]));
    await expect(broken).rejects.toMatchObject({ code: 'invalid' });
    expect(await Promise.all(asked)).toEqual([['Ana'], ['Bo'], ['Cy']]);
    expect(await names(reader, csv('Dee'))).toEqual(['Dee']);
  });

  it('ends the thread and not the server when a file takes too much memory, and reads the next one', async () => {
    const small = new BoundedReader({ ...READING_LIMITS, memoryMb: 24 });
    const cell = (n: number, column: string) =>
      `<c r="${column}${n}" t="str"><v>${'x'.repeat(40)}${n}${column}</v></c>`;
    const many = workbook(
      (n) => `<row r="${n}">${['A', 'B', 'C', 'D'].map((c) => cell(n, c)).join('')}</row>`,
      120_000,
    );
    await expect(small.read('people', many)).rejects.toMatchObject({
      code: 'too_large',
      message: expect.stringContaining('takes more memory') as string,
    });
    expect(await names(small, csv('Eva'))).toEqual(['Eva']);
  });

  it('ends it when a file takes too long', async () => {
    const hasty = new BoundedReader({ ...READING_LIMITS, timeMs: 1 });
    const many = workbook((n) => `<row r="${n}"><c r="A${n}" t="str"><v>a${n}@x.example</v></c></row>`, 60_000);
    await expect(hasty.read('people', many)).rejects.toMatchObject({
      message: expect.stringContaining('takes more time') as string,
    });
  });

  it('takes the sparse sheet that once took gigabytes', async () => {
    const sparse = workbook(
      (n) => `<row r="${n}"><c r="A${n}" t="str"><v>a${n}@x.example</v></c><c r="VR${n}"><v>1</v></c></row>`,
      100_000,
    );
    const { table } = await reader.read('people', sparse);
    expect(table.rows).toHaveLength(100_000);
    expect(table.rows[0]?.cells).toEqual(['a1@x.example', '1']);
  });

  afterAll(async () => {
    // Nothing is left running that would hold the process open.
    await reader.read('people', csv('Fay'));
  });
});
