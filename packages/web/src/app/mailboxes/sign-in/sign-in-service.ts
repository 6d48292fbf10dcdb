import { DOCUMENT, inject, Injectable } from '@angular/core';
import { HttpClient } from '@angular/common/http';
import type { FoundProvider, GrantView, ServerChoice, SignInProviderChoices, SignInProviders } from '@baton/contract';
import { firstValueFrom, type Observable } from 'rxjs';

/** A sign-in that has begun. */
export interface BegunSignIn {
  grantId: number;
  /** The provider's page, where the browser would not open it by itself; null where it did. */
  url: string | null;
}

/** Providers, and sign-ins at them in a page of their own. */
@Injectable({ providedIn: 'root' })
export class SignInService {
  private readonly http = inject(HttpClient);
  private readonly window = inject(DOCUMENT).defaultView;

  providers(): Observable<SignInProviders> {
    return this.http.get<SignInProviders>('/api/sign-in/providers');
  }

  grant(id: number): Observable<GrantView> {
    return this.http.get<GrantView>(`/api/sign-in/grants/${id}`);
  }

  /** What is said of a sign-in at its address, or by a mail server. */
  discover(at: { issuer: string } | { imap: ServerChoice }): Observable<FoundProvider> {
    return this.http.post<FoundProvider>('/api/sign-in/discovery', at);
  }

  keep(id: number | null, choices: SignInProviderChoices): Observable<{ id: number }> {
    return id === null
      ? this.http.post<{ id: number }>('/api/sign-in/providers', choices)
      : this.http.put<{ id: number }>(`/api/sign-in/providers/${id}`, choices);
  }

  remove(id: number): Observable<unknown> {
    return this.http.delete(`/api/sign-in/providers/${id}`);
  }

  /**
   * Opens the provider's page. The page is opened before it is known what is on it: later, the browser would take it for
   * one that nobody asked for.
   */
  async begin(asked: { providerId: number; username: string; grantId: number | null }): Promise<BegunSignIn> {
    const page = this.window?.open('', '_blank') ?? null;
    try {
      const begun = await firstValueFrom(
        this.http.post<{ grantId: number; url: string }>('/api/sign-in/grants', asked),
      );
      if (page === null) return begun;
      // What is opened knows nothing of the page that opened it.
      page.opener = null;
      page.location.replace(begun.url);
      return { grantId: begun.grantId, url: null };
    } catch (error) {
      page?.close();
      throw error;
    }
  }
}
