import { CARD_FILES, PROSE_FILES } from './card-files';
import { DATE_FILES } from './date-files';
import { DELIMITED_FILES } from './delimited-files';
import type { FileCase } from './file-case';
import { FILES_WITH_GUESSES } from './headerless-files';
import { FILES_OF_LANGUAGES } from './language-files';
import { NAME_FILES } from './name-files';
import { WORKBOOK_FILES } from './workbook-files';

/** Files of people as other programs, languages and people write them, each with what is true of it. */
export const FILES_OF_OTHERS: readonly FileCase[] = [
  ...DELIMITED_FILES,
  ...FILES_WITH_GUESSES,
  ...FILES_OF_LANGUAGES,
  ...NAME_FILES,
  ...DATE_FILES,
  ...WORKBOOK_FILES,
  ...CARD_FILES,
  ...PROSE_FILES,
];
