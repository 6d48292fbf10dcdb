import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { MessageDraft, MessageFault, MessageView, ProofView } from '@baton/contract';
import type { Observable } from 'rxjs';

/** Messages and proofs over HTTP. */
@Injectable({ providedIn: 'root' })
export class MessagesService {
  private readonly http = inject(HttpClient);

  all(): Observable<MessageView[]> {
    return this.http.get<MessageView[]>('/api/messages');
  }

  add(draft: MessageDraft): Observable<{ id: number }> {
    return this.http.post<{ id: number }>('/api/messages', draft);
  }

  save(id: number, draft: MessageDraft): Observable<{ fault: MessageFault | null }> {
    return this.http.put<{ fault: MessageFault | null }>(`/api/messages/${id}`, draft);
  }

  /** Outlives the page; nobody is left to hear the answer. */
  saveOnLeaving(id: number, draft: MessageDraft): void {
    void fetch(`/api/messages/${id}`, {
      method: 'PUT',
      keepalive: true,
      headers: { 'Content-Type': 'application/json', 'X-Baton': '1' },
      body: JSON.stringify(draft),
    });
  }

  proof(draft: MessageDraft, listId: number, index: number): Observable<{ proof?: ProofView; fault?: MessageFault }> {
    return this.http.post<{ proof?: ProofView; fault?: MessageFault }>('/api/proof', { ...draft, listId, index });
  }
}
