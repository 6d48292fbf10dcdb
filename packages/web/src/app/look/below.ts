import { CdkConnectedOverlay, type ConnectedPosition } from '@angular/cdk/overlay';
import { Directive, inject } from '@angular/core';

/** A panel under what opened it, flush with its left edge, or with its right one; above it where there is no room under it. */
export const BELOW: ConnectedPosition[] = [
  { originX: 'start', originY: 'bottom', overlayX: 'start', overlayY: 'top' },
  { originX: 'end', originY: 'bottom', overlayX: 'end', overlayY: 'top' },
  { originX: 'start', originY: 'top', overlayX: 'start', overlayY: 'bottom' },
  { originX: 'end', originY: 'top', overlayX: 'end', overlayY: 'bottom' },
];

/** A template that is shown under what opened it, until somebody presses beside it. */
@Directive({
  selector: '[btBelow]',
  hostDirectives: [
    {
      directive: CdkConnectedOverlay,
      inputs: ['cdkConnectedOverlayOrigin: btBelow', 'cdkConnectedOverlayOpen: btBelowOpen'],
      outputs: ['backdropClick: pressedBeside'],
    },
  ],
})
export class Below {
  constructor() {
    const overlay = inject(CdkConnectedOverlay);
    overlay.positions = BELOW;
    overlay.hasBackdrop = true;
    overlay.backdropClass = 'cdk-overlay-transparent-backdrop';
  }
}
