import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { MailboxChoices, MailboxTest, MailboxView } from '@baton/contract';
import type { Observable } from 'rxjs';

/** Mailboxes over HTTP. */
@Injectable({ providedIn: 'root' })
export class MailboxesService {
  private readonly http = inject(HttpClient);

  all(): Observable<MailboxView[]> {
    return this.http.get<MailboxView[]>('/api/mailboxes');
  }

  connect(id: number | null, choices: MailboxChoices): Observable<{ id: number | null; test: MailboxTest }> {
    return id === null
      ? this.http.post<{ id: number | null; test: MailboxTest }>('/api/mailboxes', choices)
      : this.http.put<{ id: number | null; test: MailboxTest }>(`/api/mailboxes/${id}`, choices);
  }

  setHeld(id: number, held: boolean): Observable<unknown> {
    return this.http.post(`/api/mailboxes/${id}/${held ? 'hold' : 'release'}`, {});
  }
}
