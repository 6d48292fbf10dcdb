import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { IncomingView, Outcome, ReplyFilter, ReplyPage, ThreadMessage } from '@baton/contract';
import type { Observable } from 'rxjs';

/** What came back, over HTTP. */
@Injectable({ providedIn: 'root' })
export class RepliesService {
  private readonly http = inject(HttpClient);

  page(show: ReplyFilter, limit: number): Observable<ReplyPage> {
    return this.http.get<ReplyPage>('/api/replies', { params: { show, limit } });
  }

  one(id: number): Observable<IncomingView> {
    return this.http.get<IncomingView>(`/api/replies/${id}`);
  }

  thread(id: number): Observable<ThreadMessage[]> {
    return this.http.get<ThreadMessage[]>(`/api/replies/${id}/thread`);
  }

  setOutcome(id: number, outcome: Outcome | null): Observable<unknown> {
    return this.http.put(`/api/replies/${id}/outcome`, { outcome });
  }
}
