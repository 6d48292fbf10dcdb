import { computed, inject, Injectable, Pipe, type PipeTransform } from '@angular/core';
import { createZones, dayWords, isoDate, type DateForm } from '@baton/core';
import { ShellState } from '../shell/shell-state';

/** Writes instants in the workspace's own zone, and days in words. */
@Injectable({ providedIn: 'root' })
export class WorkspaceTime {
  private readonly shell = inject(ShellState);
  private readonly zones = createZones();
  private readonly zone = computed(() => this.shell.view()?.clock.zone ?? 'UTC');
  private readonly formats = computed(() => {
    const make = (options: Intl.DateTimeFormatOptions) =>
      new Intl.DateTimeFormat('en-GB', { timeZone: this.zone(), ...options });
    return { time: make({ hour: '2-digit', minute: '2-digit' }) };
  });
  /** How the workspace writes dates. */
  readonly form = computed<DateForm>(() => this.shell.view()?.dateForm ?? 'day_month');

  /** The day it is in the workspace, as an ISO date. */
  today(): string {
    return this.isoDay(this.shell.view()?.clock.nowMs ?? 0);
  }

  /** 10:42 */
  time(instantMs: number): string {
    return this.formats().time.format(instantMs);
  }

  /** Tue 24 Nov, or as the workspace writes it. */
  day(instantMs: number): string {
    return this.dayWords(this.isoDay(instantMs));
  }

  /** Tue 24 Nov 2026 */
  dated(instantMs: number): string {
    return this.dayWords(this.isoDay(instantMs), 'dated');
  }

  /** A date in words, as the workspace writes it. */
  dayWords(iso: string, length: 'short' | 'dated' | 'long' = 'short'): string {
    return dayWords(iso, length, this.form());
  }

  /** An instant's day as an ISO date. */
  isoDay(instantMs: number): string {
    return isoDate(this.zones.get(this.zone()).toLocal(instantMs).day);
  }

  /** Tue 24 Nov 10:42 */
  both(instantMs: number): string {
    return `${this.day(instantMs)} ${this.time(instantMs)}`;
  }
}

/** Not pure: zone and form of dates may come later than the first moment that is shown. */
@Pipe({ name: 'moment', pure: false })
export class MomentPipe implements PipeTransform {
  private readonly time = inject(WorkspaceTime);

  transform(instantMs: number | null | undefined, how: 'time' | 'day' | 'dated' | 'both' = 'both'): string {
    return instantMs == null ? '' : this.time[how](instantMs);
  }
}

/** Not pure, see {@link MomentPipe}. */
@Pipe({ name: 'isoDay', pure: false })
export class IsoDayPipe implements PipeTransform {
  private readonly time = inject(WorkspaceTime);

  transform(iso: string | null | undefined, length: 'short' | 'dated' | 'long' = 'short'): string {
    return iso == null ? '' : this.time.dayWords(iso, length);
  }
}
