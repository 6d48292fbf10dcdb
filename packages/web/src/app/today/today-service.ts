import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { Need, TodayView } from '@baton/contract';
import type { Observable } from 'rxjs';

/** The day over HTTP. */
@Injectable({ providedIn: 'root' })
export class TodayService {
  private readonly http = inject(HttpClient);

  today(): Observable<TodayView> {
    return this.http.get<TodayView>('/api/today');
  }

  /** Until a day, an ISO date; null brings it back. */
  putOff(key: string, until: string | null): Observable<unknown> {
    return this.http.put('/api/today/put-off', { key, until });
  }

  /** What keeps drafts from starting. */
  drafts(): Observable<Need[]> {
    return this.http.get<Need[]>('/api/today/drafts');
  }
}
