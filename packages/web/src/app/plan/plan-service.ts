import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { BatchPage, MoveResult, PlanBoard, PlanVariant, PlanWork } from '@baton/contract';
import type { PlanChange } from '@baton/core';
import type { Observable } from 'rxjs';

/** The plan over HTTP. */
@Injectable({ providedIn: 'root' })
export class PlanService {
  private readonly http = inject(HttpClient);

  board(): Observable<PlanBoard> {
    return this.http.get<PlanBoard>('/api/plan');
  }

  work(): Observable<PlanWork> {
    return this.http.get<PlanWork>('/api/plan/work');
  }

  apply(changes: PlanChange[]): Observable<unknown> {
    return this.http.post('/api/plan/apply', { changes });
  }

  batch(day: string, mailbox: number, offset: number, limit: number): Observable<BatchPage> {
    return this.http.get<BatchPage>('/api/plan/batch', { params: { day, mailbox, offset, limit } });
  }

  setHeld(day: string, mailboxId: number | null, held: boolean): Observable<{ messages: number }> {
    return this.http.post<{ messages: number }>('/api/plan/batch', { day, mailboxId, held });
  }

  move(deliveryId: number, day: string): Observable<MoveResult> {
    return this.http.post<MoveResult>(`/api/plan/messages/${deliveryId}/move`, { day });
  }

  variants(): Observable<PlanVariant[]> {
    return this.http.get<PlanVariant[]>('/api/plan/variants');
  }

  keepVariant(name: string, changes: PlanChange[]): Observable<{ id: number }> {
    return this.http.post<{ id: number }>('/api/plan/variants', { name, changes });
  }

  removeVariant(id: number): Observable<unknown> {
    return this.http.delete(`/api/plan/variants/${id}`);
  }

  setSubscribed(subscribed: boolean): Observable<{ path: string | null }> {
    return this.http.post<{ path: string | null }>('/api/plan/calendar', { subscribed });
  }
}
