import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { SimulatedCounts, SimulatedMail, SimulatedPerson } from '@baton/contract';
import type { Observable } from 'rxjs';

/** The simulated recipients, over HTTP. */
@Injectable({ providedIn: 'root' })
export class InboxesService {
  private readonly http = inject(HttpClient);
  private readonly path = (address: string) => `/api/simulator/people/${encodeURIComponent(address)}`;

  people(): Observable<SimulatedPerson[]> {
    return this.http.get<SimulatedPerson[]>('/api/simulator/people');
  }

  counts(): Observable<SimulatedCounts> {
    return this.http.get<SimulatedCounts>('/api/simulator/counts');
  }

  inbox(address: string): Observable<SimulatedMail[]> {
    return this.http.get<SimulatedMail[]>(`${this.path(address)}/inbox`);
  }

  reply(address: string, id: number, text: string): Observable<unknown> {
    return this.http.post(`${this.path(address)}/reply`, { id, text });
  }

  act(address: string, id: number, kind: 'unsubscribe_link' | 'one_click' | 'complaint'): Observable<unknown> {
    return this.http.post(`${this.path(address)}/act`, { id, kind });
  }

  setAway(address: string, awayUntil: string | null): Observable<unknown> {
    return this.http.put(this.path(address), { awayUntil });
  }
}
