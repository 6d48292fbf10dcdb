import { ChangeDetectionStrategy, Component, computed, inject, input, model, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import type { ServerChoice, SignInProvider } from '@baton/contract';
import { of } from 'rxjs';
import { LiveUpdates } from '../../live/live-updates';
import { WaitedFor } from '../../live/waited-for';
import { typedText } from '../../look/event-input';
import { MomentPipe } from '../../time/workspace-time';
import { mailboxesTexts } from '../texts';
import { ProviderSettings } from './provider-settings';
import { SignInService } from './sign-in-service';

/** Lets a mailbox in by a sign-in at its provider: at which, and how that went. */
@Component({
  selector: 'bt-provider-sign-in',
  imports: [MatButton, MomentPipe, ProviderSettings],
  templateUrl: './provider-sign-in.html',
  styleUrl: './provider-sign-in.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProviderSignIn {
  protected readonly texts = mailboxesTexts.providerSignIn;
  protected readonly typedText = typedText;
  private readonly service = inject(SignInService);
  private readonly live = inject(LiveUpdates);
  readonly username = input.required<string>();
  /** The mail server that is read, which may know the provider. */
  readonly imap = input.required<ServerChoice>();
  readonly grantId = model.required<number | null>();

  private readonly known = this.live.view(['mailboxes'], () => this.service.providers());
  protected readonly providers = computed(() => this.known()?.providers ?? []);
  protected readonly redirectUri = computed(() => this.known()?.redirectUri ?? '');
  protected readonly grant = this.live.viewOf(toObservable(this.grantId), ['mailboxes'], (id) =>
    id === null ? of(null) : this.service.grant(id),
  );
  private readonly chosen = signal<number | 'new' | null>(null);
  /** The one that was chosen, that of the access there is, or the first. */
  protected readonly provider = computed<SignInProvider | null>(() => {
    const chosen = this.chosen();
    if (chosen === 'new') return null;
    const id = chosen ?? this.grant()?.providerId;
    return this.providers().find((p) => p.id === id) ?? this.providers()[0] ?? null;
  });
  private readonly editing = signal(false);
  protected readonly isEditing = computed(() => this.known() !== undefined && (this.editing() || !this.provider()));
  protected readonly work = new WaitedFor();
  /** The provider's page, where the browser did not open it. */
  protected readonly link = signal<string | null>(null);
  /** Where the person signs in. */
  protected readonly at = computed(() => new URL(this.provider()?.authorizationEndpoint ?? 'http://nowhere').host);
  /** Whether there is access of this account at this provider. */
  protected readonly isGiven = computed(() => {
    const grant = this.grant();
    return grant?.state === 'given' && grant.providerId === this.provider()?.id && grant.username === this.username();
  });

  protected choose(value: string): void {
    this.chosen.set(value === 'new' ? 'new' : Number(value));
    this.editing.set(value === 'new');
    this.work.say('');
  }

  protected edit(): void {
    this.editing.set(true);
  }

  /** @param id of what was saved; null where nothing was, or it is gone */
  protected endEditing(id: number | null): void {
    this.chosen.set(id);
    this.editing.set(false);
  }

  protected async begin(): Promise<void> {
    const provider = this.provider();
    if (!provider) return;
    await this.work.run(async () => {
      const asked = { providerId: provider.id, username: this.username(), grantId: this.grantId() };
      const { grantId, url } = await this.service.begin(asked);
      this.link.set(url);
      this.grantId.set(grantId);
    });
  }
}
