import { HttpClient } from '@angular/common/http';
import { inject, Injectable } from '@angular/core';
import type { CampaignResults, MessageResults, ResultGroups, ResultsBy, ResultsOverview } from '@baton/contract';
import type { Period } from '@baton/core';
import type { Observable } from 'rxjs';

/** What became of campaigns, over HTTP. */
@Injectable({ providedIn: 'root' })
export class ResultsService {
  private readonly http = inject(HttpClient);

  all(period: Period | null): Observable<ResultsOverview> {
    return this.http.get<ResultsOverview>('/api/results', { params: { ...period } });
  }

  campaign(id: number): Observable<CampaignResults> {
    return this.http.get<CampaignResults>(`/api/results/${id}`);
  }

  message(id: number): Observable<MessageResults> {
    return this.http.get<MessageResults>(`/api/results/messages/${id}`);
  }

  groups(id: number, by: ResultsBy): Observable<ResultGroups> {
    return this.http.get<ResultGroups>(`/api/results/${id}/groups`, { params: { by } });
  }
}
