import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  ImportInto,
  ImportProgress,
  ImportState,
  ImportTaken,
  ImportReading,
  ImportView,
  PersonProof,
  PersonView,
  SuppressionImport,
  SuppressionList,
} from '@baton/contract';
import type { Cleaning, ColumnKind, ColumnRole } from '@baton/core';
import type { Observable } from 'rxjs';

/** Imports, single people and the suppression list over HTTP. */
@Injectable({ providedIn: 'root' })
export class PeopleService {
  private readonly http = inject(HttpClient);

  upload(name: string, content: Blob): Observable<ImportView> {
    return this.http.post<ImportView>('/api/imports', content, {
      headers: { 'X-File-Name': encodeURIComponent(name), 'Content-Type': 'application/octet-stream' },
    });
  }

  importView(importId: number): Observable<ImportView> {
    return this.http.get<ImportView>(`/api/imports/${importId}`);
  }

  importState(importId: number): Observable<ImportState> {
    return this.http.get<ImportState>(`/api/imports/${importId}/state`);
  }

  /** Large imports that are being taken, or wait for a yes. */
  imports(): Observable<{ id: number; name: string; state: ImportView['state']; progress: ImportProgress | null }[]> {
    return this.http.get<{ id: number; name: string; state: ImportView['state']; progress: ImportProgress | null }[]>(
      '/api/large-imports',
    );
  }

  chooseInto(importId: number, into: ImportInto): Observable<ImportView> {
    return this.http.put<ImportView>(`/api/imports/${importId}/into`, { into });
  }

  chooseRoles(importId: number, roles: ColumnRole[], kinds: Record<number, ColumnKind>): Observable<ImportView> {
    return this.http.put<ImportView>(`/api/imports/${importId}/columns`, { roles, kinds });
  }

  chooseReading(importId: number, reading: ImportReading): Observable<ImportView> {
    return this.http.put<ImportView>(`/api/imports/${importId}/reading`, reading);
  }

  chooseSheet(importId: number, sheet: number): Observable<ImportView> {
    return this.http.put<ImportView>(`/api/imports/${importId}/sheet`, { sheet });
  }

  chooseCleanings(importId: number, cleanings: readonly Cleaning[]): Observable<ImportView> {
    return this.http.put<ImportView>(`/api/imports/${importId}/cleanings`, { cleanings });
  }

  mendCell(importId: number, cell: { line: number; column: number; value: string }): Observable<ImportView> {
    return this.http.put<ImportView>(`/api/imports/${importId}/cells`, cell);
  }

  mendDomains(importId: number): Observable<ImportView> {
    return this.http.post<ImportView>(`/api/imports/${importId}/mend-domains`, {});
  }

  keep(importId: number, name: string): Observable<ImportTaken> {
    return this.http.post<ImportTaken>(`/api/imports/${importId}/keep`, { name });
  }

  drop(importId: number): Observable<unknown> {
    return this.http.delete(`/api/imports/${importId}`);
  }

  person(contactId: number): Observable<PersonView> {
    return this.http.get<PersonView>(`/api/people/${contactId}`);
  }

  proof(contactId: number, campaignId: number, step: number): Observable<PersonProof> {
    return this.http.get<PersonProof>(`/api/people/${contactId}/campaigns/${campaignId}/messages/${step}`);
  }

  erase(contactId: number): Observable<unknown> {
    return this.http.delete(`/api/people/${contactId}`);
  }

  suppressions(search = ''): Observable<SuppressionList> {
    return this.http.get<SuppressionList>('/api/suppressions', { params: search === '' ? {} : { search } });
  }

  suppress(what: string, reason: string): Observable<unknown> {
    return this.http.post('/api/suppressions', { what, reason });
  }

  importSuppressions(name: string, content: Blob): Observable<SuppressionImport> {
    return this.http.post<SuppressionImport>('/api/suppressions/import', content, {
      headers: { 'X-File-Name': encodeURIComponent(name), 'Content-Type': 'application/octet-stream' },
    });
  }

  unsuppress(id: number): Observable<unknown> {
    return this.http.delete(`/api/suppressions/${id}`);
  }
}
