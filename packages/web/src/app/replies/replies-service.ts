import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { IncomingView, Outcome, ThreadMessage } from '@baton/contract';
import type { Observable } from 'rxjs';

/** What came back, over HTTP. */
@Injectable({ providedIn: 'root' })
export class RepliesService {
  private readonly http = inject(HttpClient);

  all(): Observable<IncomingView[]> {
    return this.http.get<IncomingView[]>('/api/replies');
  }

  thread(id: number): Observable<ThreadMessage[]> {
    return this.http.get<ThreadMessage[]>(`/api/replies/${id}/thread`);
  }

  setOutcome(id: number, outcome: Outcome | null): Observable<unknown> {
    return this.http.put(`/api/replies/${id}/outcome`, { outcome });
  }
}
