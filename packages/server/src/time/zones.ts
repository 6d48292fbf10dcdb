import { createZones } from '@baton/core';

/** The process's one cache of time zones: what it remembers never changes, and finding it out costs a millisecond. */
export const zones = createZones();
