import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  AssetView,
  LayoutView,
  MessageDraft,
  MessageVersion,
  MessageView,
  PersonalLine,
  PersonalLines,
  ProofAsked,
  ProofView,
  Reading,
  RemovedMessage,
  TestAsked,
} from '@baton/contract';
import type { ContentFault, Layout, MessageContent } from '@baton/core';
import type { Observable } from 'rxjs';
import { addressOf } from '../live/addresses';

/** Messages, proofs, files and layouts over HTTP. */
@Injectable({ providedIn: 'root' })
export class MessagesService {
  private readonly http = inject(HttpClient);

  all(): Observable<MessageView[]> {
    return this.http.get<MessageView[]>('/api/messages');
  }

  add(draft: MessageDraft): Observable<{ id: number }> {
    return this.http.post<{ id: number }>('/api/messages', draft);
  }

  save(id: number, draft: MessageDraft): Observable<{ fault: ContentFault | null }> {
    return this.http.put<{ fault: ContentFault | null }>(`/api/messages/${id}`, draft);
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

  remove(id: number): Observable<unknown> {
    return this.http.delete(`/api/messages/${id}`);
  }

  removed(): Observable<RemovedMessage[]> {
    return this.http.get<RemovedMessage[]>('/api/messages/removed');
  }

  restore(id: number): Observable<unknown> {
    return this.http.post(`/api/messages/${id}/restore`, {});
  }

  versions(id: number): Observable<MessageVersion[]> {
    return this.http.get<MessageVersion[]>(`/api/messages/${id}/versions`);
  }

  proof(asked: ProofAsked): Observable<{ proof?: ProofView; fault?: ContentFault }> {
    return this.http.post<{ proof?: ProofView; fault?: ContentFault }>('/api/proof', asked);
  }

  /** The exact bytes of a proof. */
  source(asked: ProofAsked): Observable<Blob> {
    return this.http.post('/api/proof/source', asked, { responseType: 'blob' });
  }

  reading(content: MessageContent, listId: number): Observable<Reading> {
    return this.http.post<Reading>('/api/reading', { content, listId });
  }

  /** Notes that proofs of this content have been read. */
  noteRead(id: number, content: MessageContent): Observable<unknown> {
    return this.http.post(`/api/messages/${id}/read`, { content });
  }

  sendTest(asked: TestAsked): Observable<{ from: string }> {
    return this.http.post<{ from: string }>('/api/test-email', asked);
  }

  assets(): Observable<AssetView[]> {
    return this.http.get<AssetView[]>('/api/assets');
  }

  addAsset(file: File): Observable<{ id: number }> {
    return this.upload('/api/assets', file);
  }

  /** A message from a file. */
  bringIn(file: File): Observable<{ id: number }> {
    return this.upload('/api/messages/bring-in', file);
  }

  private upload(address: string, file: File): Observable<{ id: number }> {
    return this.http.post<{ id: number }>(address, file, {
      headers: { 'Content-Type': 'application/octet-stream', 'X-File-Name': encodeURIComponent(file.name) },
    });
  }

  removeAsset(id: number): Observable<unknown> {
    return this.http.delete(`/api/assets/${id}`);
  }

  assetBytes(id: number): Observable<Blob> {
    return this.http.get(addressOf.asset(id), { responseType: 'blob' });
  }

  layouts(): Observable<LayoutView[]> {
    return this.http.get<LayoutView[]>('/api/layouts');
  }

  keepLayout(name: string, layout: Layout): Observable<{ id: number }> {
    return this.http.post<{ id: number }>('/api/layouts', { name, layout });
  }

  removeLayout(id: number): Observable<unknown> {
    return this.http.delete(`/api/layouts/${id}`);
  }

  lines(listId: number): Observable<PersonalLines> {
    return this.http.get<PersonalLines>(`/api/lists/${listId}/lines`);
  }

  line(listId: number, index: number): Observable<PersonalLine> {
    return this.http.get<PersonalLine>(`/api/lists/${listId}/lines/${index}`);
  }

  writeLine(
    listId: number,
    rowId: number,
    line: string,
    decision: 'approved' | 'rejected' | 'written',
  ): Observable<unknown> {
    return this.http.put(`/api/lists/${listId}/rows/${rowId}/line`, { line, decision });
  }
}
