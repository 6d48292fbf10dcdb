import {
  cleanTable,
  DomainError,
  guessColumns,
  readPeopleFile,
  sortRows,
  USUAL_CLEANINGS,
  type KnownPeople,
} from '@baton/core';

const NOBODY: KnownPeople = { isKnown: () => false, isSuppressed: () => false };

/**
 * Says how a file of people would be imported into an empty workspace.
 *
 * @returns JSON objects: first the file with its columns, guesses, what cleaning puts right (or would) and counts; then
 *   each row that would not be taken, with line and reason. Of a file that cannot be read, one object with `error`.
 */
export function checkList(name: string, bytes: Uint8Array): object[] {
  try {
    const file = readPeopleFile(bytes);
    const guesses = guessColumns(file.table);
    const roles = guesses.map((g) => g.role);
    const columns = guesses.map((g, i) => ({ header: file.table.header[i], ...g }));
    const about = {
      file: name,
      kind: file.kind,
      ...(file.sheets.length > 0
        ? { sheet: file.sheets[file.sheet]?.name, sheets: file.sheets, hiddenRows: file.hiddenRows }
        : {}),
      ...(file.encoding === '' ? {} : { encoding: file.encoding }),
      headerLine: file.table.headerLine,
      columns,
    };
    if (!roles.includes('address')) {
      const obstacle = `No column holds email addresses; the columns are ${file.table.header.slice(0, 8).join(', ')}.`;
      return [{ ...about, obstacle }, ...file.table.aside];
    }
    const cleaned = cleanTable(file.table, roles, USUAL_CLEANINGS);
    const sorted = sortRows(cleaned.table, cleaned.roles, NOBODY);
    const { new: taken, doubled, invalid } = sorted.counts;
    const aside = sorted.aside.map(({ line, cells, reason }) => ({ line, cells, reason }));
    return [{ ...about, cleanings: cleaned.found, counts: { taken, doubled, notValid: invalid } }, ...aside];
  } catch (error) {
    if (!(error instanceof DomainError)) throw error;
    return [{ file: name, error: error.message }];
  }
}
