/** How long deleted lists and people taken off a list can come back. */
export const KEPT_DAYS = 30;
