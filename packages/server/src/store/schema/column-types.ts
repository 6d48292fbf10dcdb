import { bigint, customType } from 'drizzle-orm/pg-core';

export const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' });
/** Text that is compared by its bytes, whatever the database's language: quicker to look up and to put in order. */
export const identifier = customType<{ data: string }>({ dataType: () => 'text COLLATE "C"' });
/** Epoch milliseconds UTC, from the workspace clock. */
export const instant = () => bigint({ mode: 'number' });
