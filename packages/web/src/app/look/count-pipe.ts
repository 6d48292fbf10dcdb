import { Pipe, type PipeTransform } from '@angular/core';
import { formatNumber } from './language';

/** A count on its own, written as the language does: 12,400. */
@Pipe({ name: 'count' })
export class CountPipe implements PipeTransform {
  transform(n: number | null | undefined): string {
    return n == null ? '' : formatNumber(n);
  }
}
