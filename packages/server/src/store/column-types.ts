import { bigint, customType } from 'drizzle-orm/pg-core';

export const bytea = customType<{ data: Buffer }>({ dataType: () => 'bytea' });
/** Epoch milliseconds UTC, from the workspace clock. */
export const instant = () => bigint({ mode: 'number' });
