import type { ColumnKind } from '@baton/core';
import { peopleImportTexts } from './texts';

const texts = peopleImportTexts.kindNames;

/** What a column of each kind holds. */
export const KIND_NAMES: Record<ColumnKind, string> = {
  text: texts.text,
  number: texts.numbers,
  date: texts.dates,
  tick: texts.ticks,
  tags: texts.tags,
};
