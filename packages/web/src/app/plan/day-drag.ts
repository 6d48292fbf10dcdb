import type { CdkDragEnd, CdkDragMove } from '@angular/cdk/drag-drop';
import { Injectable, signal } from '@angular/core';
import { underPoint } from '../look/under-point';

/** Something of the plan that is being dragged onto a day of the board. */
@Injectable()
export class DayDrag {
  private readonly day = signal('');
  /** The ISO date of the day it is over; '' for none. */
  readonly over = this.day.asReadonly();

  moved(event: CdkDragMove): void {
    this.day.set(underPoint(event.pointerPosition, 'day', event.source.element.nativeElement as Element) ?? '');
  }

  /** Puts what was dragged back into its place. @returns the day it was let go over; null for none */
  ended(event: CdkDragEnd): string | null {
    event.source.reset();
    this.day.set('');
    return underPoint(event.dropPoint, 'day', event.source.element.nativeElement as Element);
  }
}
