import { HttpClient } from '@angular/common/http';
import { inject, Injectable, signal } from '@angular/core';
import type { ClockChange, ShellView } from '@baton/contract';
import { firstValueFrom, type Observable } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';

/** What every page shows: clock, today's load, what waits. */
@Injectable({ providedIn: 'root' })
export class ShellState {
  private readonly http = inject(HttpClient);
  private readonly notices = inject(Notices);
  readonly view = inject(LiveUpdates).view(['clock', 'today', 'replies', 'mailboxes'], () =>
    this.http.get<ShellView>('/api/shell'),
  );

  private readonly name = signal<string | null>(null);
  /** The title of what is open on the page, where it has one of its own. */
  readonly openTitle = this.name.asReadonly();

  setTitle(title: string | null): void {
    this.name.set(title);
  }

  setClock(change: ClockChange): Promise<void> {
    return this.send(this.http.put('/api/clock', change));
  }

  setHeldAll(held: boolean): Promise<void> {
    return this.send(this.http.post(held ? '/api/hold-all' : '/api/release-all', {}));
  }

  private async send(request: Observable<unknown>): Promise<void> {
    try {
      await firstValueFrom(request);
    } catch (error) {
      this.notices.failure(error);
    }
  }
}
