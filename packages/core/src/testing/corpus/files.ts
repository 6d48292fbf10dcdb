import { CARD_FILES, PROSE_FILES } from './card-files';
import { DATE_FILES } from './date-files';
import { DELIMITED_FILES } from './delimited-files';
import type { FileCase } from './file-case';
import { FILES_WITH_GUESSES } from './headerless-files';
import { FILES_OF_LANGUAGES } from './language-files';
import { NAME_FILES } from './name-files';
import { LAID_OUT_FILES } from './laid-out-files';
import { ODS_FILES } from './ods-files';
import { PAGE_FILES } from './page-files';
import { XLSX_FILES } from './xlsx-files';

/** Files of people as other programs, languages and people write them, each with what is true of it. */
export const FILES_OF_OTHERS: readonly FileCase[] = [
  ...DELIMITED_FILES,
  ...LAID_OUT_FILES,
  ...FILES_WITH_GUESSES,
  ...FILES_OF_LANGUAGES,
  ...NAME_FILES,
  ...DATE_FILES,
  ...XLSX_FILES,
  ...ODS_FILES,
  ...PAGE_FILES,
  ...CARD_FILES,
  ...PROSE_FILES,
];
