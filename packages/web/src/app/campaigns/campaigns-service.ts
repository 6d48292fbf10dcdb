import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  BriefChoices,
  BriefView,
  CampaignSummary,
  RecipientPage,
  RecipientQuery,
  StartRequest,
} from '@baton/contract';
import type { Observable } from 'rxjs';

/** Campaigns over HTTP. */
@Injectable({ providedIn: 'root' })
export class CampaignsService {
  private readonly http = inject(HttpClient);

  all(): Observable<CampaignSummary[]> {
    return this.http.get<CampaignSummary[]>('/api/campaigns');
  }

  add(name: string): Observable<{ id: number }> {
    return this.http.post<{ id: number }>('/api/campaigns', { name });
  }

  brief(id: number): Observable<BriefView> {
    return this.http.get<BriefView>(`/api/campaigns/${id}`);
  }

  change(id: number, choices: BriefChoices): Observable<BriefView> {
    return this.http.put<BriefView>(`/api/campaigns/${id}`, choices);
  }

  start(id: number, shown: StartRequest): Observable<unknown> {
    return this.http.post(`/api/campaigns/${id}/start`, shown);
  }

  setHeld(id: number, held: boolean): Observable<unknown> {
    return this.http.post(`/api/campaigns/${id}/${held ? 'hold' : 'release'}`, {});
  }

  recipients(id: number, query: RecipientQuery): Observable<RecipientPage> {
    return this.http.get<RecipientPage>(`/api/campaigns/${id}/recipients`, { params: { ...query } });
  }

  /** What a person found out about an unconfirmed message. */
  settle(deliveryId: number, left: boolean): Observable<unknown> {
    return this.http.post(`/api/deliveries/${deliveryId}/settle`, { left });
  }
}
