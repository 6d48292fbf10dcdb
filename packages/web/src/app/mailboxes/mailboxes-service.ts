import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  ConnectedLine,
  FoundServers,
  MailboxChoices,
  MailboxHistory,
  MailboxRules,
  MailboxTest,
  MailboxView,
} from '@baton/contract';
import type { RecordFinding } from '@baton/core';
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

  /** Where an address's mail is probably sent and read. */
  servers(address: string): Observable<FoundServers> {
    return this.http.get<FoundServers>('/api/mailboxes/servers', { params: { address } });
  }

  /** What receivers find about the mailbox's domain. */
  records(id: number): Observable<RecordFinding[]> {
    return this.http.get<RecordFinding[]>(`/api/mailboxes/${id}/records`);
  }

  history(id: number): Observable<MailboxHistory> {
    return this.http.get<MailboxHistory>(`/api/mailboxes/${id}/history`);
  }

  rules(): Observable<MailboxRules> {
    return this.http.get<MailboxRules>('/api/mailboxes/rules');
  }

  setRules(rules: MailboxRules): Observable<unknown> {
    return this.http.put('/api/mailboxes/rules', rules);
  }

  /** Tests and connects every mailbox of a file. */
  connectMany(file: string): Observable<ConnectedLine[]> {
    return this.http.post<ConnectedLine[]>('/api/mailboxes/many', { file });
  }

  takeHolidays(calendar: string): Observable<{ days: number }> {
    return this.http.post<{ days: number }>('/api/mailboxes/holidays', { calendar });
  }
}
