import { computed, inject, Injectable, Pipe, type PipeTransform } from '@angular/core';
import { createZones, dayWords, isoDate } from '@baton/core';
import { ShellState } from '../shell/shell-state';

/** Writes instants in the workspace's own zone, and days in words. */
@Injectable({ providedIn: 'root' })
export class WorkspaceTime {
  private readonly shell = inject(ShellState);
  private readonly zone = computed(() => this.shell.view()?.clock.zone ?? 'UTC');
  private readonly formats = computed(() => {
    const make = (options: Intl.DateTimeFormatOptions) =>
      new Intl.DateTimeFormat('en-GB', { timeZone: this.zone(), ...options });
    return {
      time: make({ hour: '2-digit', minute: '2-digit' }),
      day: make({ weekday: 'short', day: 'numeric', month: 'short' }),
    };
  });

  /** The day it is in the workspace, as an ISO date. */
  today(): string {
    const nowMs = this.shell.view()?.clock.nowMs ?? 0;
    return isoDate(createZones().get(this.zone()).toLocal(nowMs).day);
  }

  /** 10:42 */
  time(instantMs: number): string {
    return this.formats().time.format(instantMs);
  }

  /** Tue 24 Nov */
  day(instantMs: number): string {
    return this.formats().day.format(instantMs).replace(',', '');
  }

  /** Tue 24 Nov 10:42 */
  both(instantMs: number): string {
    return `${this.day(instantMs)} ${this.time(instantMs)}`;
  }
}

@Pipe({ name: 'moment' })
export class MomentPipe implements PipeTransform {
  private readonly time = inject(WorkspaceTime);

  transform(instantMs: number | null | undefined, how: 'time' | 'day' | 'both' = 'both'): string {
    return instantMs == null ? '' : this.time[how](instantMs);
  }
}

@Pipe({ name: 'isoDay' })
export class IsoDayPipe implements PipeTransform {
  transform(iso: string | null | undefined, length: 'short' | 'dated' | 'long' = 'short'): string {
    return iso == null ? '' : dayWords(iso, length);
  }
}
