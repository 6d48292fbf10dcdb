import type { ConnectedPosition } from '@angular/cdk/overlay';

/** A panel under what opened it, flush with its left edge, or with its right one where there is no room. */
export const BELOW: ConnectedPosition[] = [
  { originX: 'start', originY: 'bottom', overlayX: 'start', overlayY: 'top' },
  { originX: 'end', originY: 'bottom', overlayX: 'end', overlayY: 'top' },
];
