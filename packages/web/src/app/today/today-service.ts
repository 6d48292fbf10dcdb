import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { Need, Outcome, TodayView } from '@baton/contract';
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

  /** An answer is to be written to again on a day. */
  writeAgain(id: number, remindOn: string | null): Observable<unknown> {
    return this.http.patch('/api/replies', { ids: [id], change: { remindOn } });
  }

  setOutcome(id: number, outcome: Outcome | null): Observable<unknown> {
    return this.http.put(`/api/replies/${id}/outcome`, { outcome });
  }

  /** Lets a day's messages of a mailbox go. */
  release(day: string, mailboxId: number): Observable<unknown> {
    return this.http.post('/api/plan/batch', { day, mailboxId, held: false });
  }

  sayLeft(what: 'delivery' | 'letter', id: number, left: boolean): Observable<unknown> {
    return this.http.post(`/api/${what === 'delivery' ? 'deliveries' : 'letters'}/${id}/settle`, { left });
  }

  /** What keeps drafts from starting. */
  drafts(): Observable<Need[]> {
    return this.http.get<Need[]>('/api/today/drafts');
  }
}
