import type { ColumnKind } from '@baton/core';

/** What a column of each kind holds. */
export const KIND_NAMES: Record<ColumnKind, string> = {
  text: 'text',
  number: 'numbers',
  date: 'dates',
  tick: 'ticks',
  tags: 'tags',
};
