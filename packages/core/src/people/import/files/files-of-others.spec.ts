import { describe, expect, it } from 'vitest';
import type { FileCase } from '../../../testing/corpus/file-case';
import { FILES_OF_OTHERS } from '../../../testing/corpus/files';
import { cleanTable, dateQuestion } from '../cleaning/clean-table';
import { USUAL_CLEANINGS } from '../cleaning/cleanings';
import { guessColumns } from '../columns/guess-columns';
import { sortRows } from '../../list/sort-rows';
import { readPeopleFile } from './read-people-file';

const NOBODY = { isKnown: () => false, isSuppressed: () => false };

/** What Baton makes of a file, as far as the case says what is true of it. */
function readAs(file: FileCase) {
  const { table } = readPeopleFile(file.bytes);
  const roles = guessColumns(table).map((g) => g.role);
  const cleaned = cleanTable(table, roles, USUAL_CLEANINGS);
  const { taken, aside } = sortRows(cleaned.table, cleaned.roles, NOBODY);
  const nameOf = ({ givenname, familyname, fullname }: Record<string, string>) =>
    givenname === undefined ? (fullname ?? '') : `${givenname} ${familyname ?? ''}`;
  const asked = dateQuestion(table, roles);
  const ofAddress = new Map(taken.map((person) => [person.address, person.fields]));
  return {
    people: Object.fromEntries(taken.map((p) => [p.address, nameOf(p.fields).trim()])),
    fields: Object.fromEntries(
      Object.entries(file.fields ?? {}).map(([address, fields]) => [
        address,
        Object.fromEntries(Object.keys(fields).map((key) => [key, ofAddress.get(address)?.[key]])),
      ]),
    ),
    sendOn: Object.fromEntries(taken.flatMap((p) => (p.sendOn === null ? [] : [[p.address, p.sendOn.slice(0, 10)]]))),
    aside: aside.map((row) => row.line),
    roles: file.roles ? roles : undefined,
    question: asked ? [asked.cell, asked.dayFirst, asked.monthFirst] : undefined,
  };
}

describe('a file of another program, language or person', () => {
  it.each(FILES_OF_OTHERS.map((file) => [file.name, file] as const))('%s', (_, file) => {
    const { people, fields = {}, sendOn = {}, aside = [], roles, question } = file;
    expect(readAs(file)).toEqual({ people, fields, sendOn, aside, roles, question });
  });

  it('has a name of its own in the corpus', () => {
    const names = FILES_OF_OTHERS.map((file) => file.name);
    expect(names.filter((name, i) => names.indexOf(name) !== i)).toEqual([]);
  });
});
