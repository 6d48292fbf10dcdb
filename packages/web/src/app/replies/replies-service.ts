import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { IncomingView, Outcome, ReplyFilter, ReplyPage, SayableKind, ThreadMessage } from '@baton/contract';
import type { Observable } from 'rxjs';

/** What came back, over HTTP. */
@Injectable({ providedIn: 'root' })
export class RepliesService {
  private readonly http = inject(HttpClient);

  page(show: ReplyFilter, search: string, limit: number): Observable<ReplyPage> {
    return this.http.get<ReplyPage>('/api/replies', { params: { show, search, limit } });
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

  undo(id: number): Observable<unknown> {
    return this.http.post(`/api/replies/${id}/undo`, {});
  }

  setKind(id: number, kind: SayableKind): Observable<unknown> {
    return this.http.put(`/api/replies/${id}/kind`, { kind });
  }

  /** @param address null for nobody who was written to */
  setPerson(id: number, address: string | null): Observable<unknown> {
    return this.http.put(`/api/replies/${id}/person`, { address });
  }

  takeOntoList(id: number, named: { address: string; name: string }): Observable<{ list: string }> {
    return this.http.post<{ list: string }>(`/api/replies/${id}/contact`, named);
  }
}
