import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { firstValueFrom } from 'rxjs';
import { Notices } from '../../live/notices';
import { mailboxesTexts } from '../texts';
import { SignInService } from './sign-in-service';

/** The one press that gives access anew. */
@Component({
  selector: 'bt-sign-in-again',
  imports: [MatButton],
  template: `
    @if (link(); as url) {
      <a matButton="filled" [href]="url" target="_blank" rel="noopener">{{ texts.openThePage }}</a>
    } @else {
      <button matButton="filled" type="button" [disabled]="busy()" (click)="begin()">{{ texts.signInAgain }}</button>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignInAgain {
  protected readonly texts = mailboxesTexts.providerSignIn;
  private readonly service = inject(SignInService);
  private readonly notices = inject(Notices);
  readonly grantId = input.required<number>();
  protected readonly busy = signal(false);
  protected readonly link = signal<string | null>(null);

  protected async begin(): Promise<void> {
    this.busy.set(true);
    try {
      const { providerId, username, id: grantId } = await firstValueFrom(this.service.grant(this.grantId()));
      this.link.set((await this.service.begin({ providerId, username, grantId })).url);
    } catch (error) {
      this.notices.failure(error);
    } finally {
      this.busy.set(false);
    }
  }
}
