import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  AnswerDraft,
  IncomingView,
  Outcome,
  ReplyChange,
  ReplyFilter,
  ReplyPage,
  SayableKind,
  SnippetView,
  ThreadView,
} from '@baton/contract';
import type { Observable } from 'rxjs';
import { FROM_OUR_PAGES } from '../live/from-our-pages';

/** Which messages are listed; '' of `search` and `assigned` finds all. */
export interface ListAsked {
  show: ReplyFilter;
  search: string;
  assigned: string;
}

/** What came back, over HTTP. */
@Injectable({ providedIn: 'root' })
export class RepliesService {
  private readonly http = inject(HttpClient);

  page(asked: ListAsked & { offset: number; limit: number }): Observable<ReplyPage> {
    return this.http.get<ReplyPage>('/api/replies', { params: { ...asked } });
  }

  change(ids: readonly number[], change: ReplyChange): Observable<{ changed: number }> {
    return this.http.patch<{ changed: number }>('/api/replies', { ids, change });
  }

  one(id: number): Observable<IncomingView> {
    return this.http.get<IncomingView>(`/api/replies/${id}`);
  }

  thread(id: number): Observable<ThreadView> {
    return this.http.get<ThreadView>(`/api/replies/${id}/thread`);
  }

  setOutcome(id: number, outcome: Outcome | null): Observable<unknown> {
    return this.http.put(`/api/replies/${id}/outcome`, { outcome });
  }

  undo(id: number): Observable<unknown> {
    return this.http.post(`/api/replies/${id}/undo`, {});
  }

  releaseColleagues(id: number): Observable<unknown> {
    return this.http.post(`/api/replies/${id}/release-colleagues`, {});
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

  /** Changes the person's address in the list. */
  changeAddress(id: number, address: string): Observable<{ list: string }> {
    return this.http.post<{ list: string }>(`/api/replies/${id}/address`, { address });
  }

  keepAnswer(id: number, draft: AnswerDraft): Observable<unknown> {
    return this.http.put(`/api/replies/${id}/answer`, draft);
  }

  /** The same as a page is closed: the browser sends it on when the page is gone. */
  keepAnswerAtLast(id: number, draft: AnswerDraft): void {
    const headers = { 'Content-Type': 'application/json', ...FROM_OUR_PAGES };
    // Nobody is there any more to be told that it failed.
    void fetch(`/api/replies/${id}/answer`, {
      method: 'PUT',
      keepalive: true,
      headers,
      body: JSON.stringify(draft),
    }).catch(() => undefined);
  }

  sendAnswer(id: number, draft: AnswerDraft): Observable<{ letterId: number }> {
    return this.http.post<{ letterId: number }>(`/api/replies/${id}/answer`, draft);
  }

  takeBack(letterId: number): Observable<unknown> {
    return this.http.post(`/api/letters/${letterId}/take-back`, {});
  }

  settleLetter(letterId: number, left: boolean): Observable<unknown> {
    return this.http.post(`/api/letters/${letterId}/settle`, { left });
  }

  snippets(id: number): Observable<SnippetView[]> {
    return this.http.get<SnippetView[]>(`/api/replies/${id}/snippets`);
  }

  keepSnippet(name: string, text: string): Observable<{ id: number }> {
    return this.http.put<{ id: number }>('/api/snippets', { name, text });
  }

  removeSnippet(id: number): Observable<unknown> {
    return this.http.delete(`/api/snippets/${id}`);
  }

  addNote(id: number, text: string): Observable<{ id: number }> {
    return this.http.post<{ id: number }>(`/api/replies/${id}/notes`, { text });
  }

  removeNote(noteId: number): Observable<unknown> {
    return this.http.delete(`/api/notes/${noteId}`);
  }
}
