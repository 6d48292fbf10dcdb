import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type {
  PatternView,
  BriefChange,
  BriefView,
  CampaignSummary,
  ChangeView,
  NewCampaign,
  PersonActRequest,
  PersonActResult,
  RecipientPage,
  RecipientQuery,
  StartProgress,
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

  add(campaign: NewCampaign): Observable<{ id: number }> {
    return this.http.post<{ id: number }>('/api/campaigns', campaign);
  }

  brief(id: number): Observable<BriefView> {
    return this.http.get<BriefView>(`/api/campaigns/${id}`);
  }

  change(id: number, change: BriefChange): Observable<BriefView> {
    return this.http.put<BriefView>(`/api/campaigns/${id}`, change);
  }

  /** What a change of a campaign that runs would do. */
  previewChange(id: number, change: BriefChange): Observable<ChangeView> {
    return this.http.post<ChangeView>(`/api/campaigns/${id}/changes/preview`, change);
  }

  applyChange(id: number, change: BriefChange): Observable<BriefView> {
    return this.http.post<BriefView>(`/api/campaigns/${id}/changes`, change);
  }

  goOn(id: number, endDate: string | null): Observable<BriefView> {
    return this.http.post<BriefView>(`/api/campaigns/${id}/go-on`, { endDate });
  }

  undoChange(id: number): Observable<BriefView> {
    return this.http.post<BriefView>(`/api/campaigns/${id}/changes/undo`, {});
  }

  start(id: number, shown: StartRequest): Observable<unknown> {
    return this.http.post(`/api/campaigns/${id}/start`, shown);
  }

  startProgress(id: number): Observable<{ progress: StartProgress | null }> {
    return this.http.get<{ progress: StartProgress | null }>(`/api/campaigns/${id}/start`);
  }

  cancelStart(id: number): Observable<unknown> {
    return this.http.delete(`/api/campaigns/${id}/start`);
  }

  setHeld(id: number, held: boolean): Observable<unknown> {
    return this.http.post(`/api/campaigns/${id}/${held ? 'hold' : 'release'}`, {});
  }

  patterns(): Observable<PatternView[]> {
    return this.http.get<PatternView[]>('/api/patterns');
  }

  keepPattern(id: number, name: string): Observable<unknown> {
    return this.http.post(`/api/campaigns/${id}/pattern`, { name });
  }

  removePattern(id: number): Observable<unknown> {
    return this.http.delete(`/api/patterns/${id}`);
  }

  restorePattern(id: number): Observable<unknown> {
    return this.http.post(`/api/patterns/${id}/restore`, {});
  }

  recipients(id: number, query: RecipientQuery): Observable<RecipientPage> {
    return this.http.get<RecipientPage>(`/api/campaigns/${id}/recipients`, { params: { ...query } });
  }

  /** Does something about recipients. */
  act(id: number, request: PersonActRequest): Observable<PersonActResult> {
    return this.http.post<PersonActResult>(`/api/campaigns/${id}/people`, request);
  }

  end(id: number): Observable<unknown> {
    return this.http.post(`/api/campaigns/${id}/end`, {});
  }

  /** What a person found out about an unconfirmed message. */
  settle(deliveryId: number, left: boolean): Observable<unknown> {
    return this.http.post(`/api/deliveries/${deliveryId}/settle`, { left });
  }
}
