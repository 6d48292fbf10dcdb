import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import {
  MAT_DIALOG_DATA,
  MatDialogActions,
  MatDialogClose,
  MatDialogContent,
  MatDialogTitle,
} from '@angular/material/dialog';
import type { PersonProof } from '@baton/contract';
import { MailFrame } from '../messages/mail-frame';

/** One message to one person, as they get it. */
@Component({
  selector: 'bt-person-proof',
  imports: [MatButton, MailFrame, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle],
  template: `
    <h2 mat-dialog-title>{{ proof.subject }}</h2>
    <mat-dialog-content>
      <p class="quiet">From {{ proof.from }} to {{ proof.to }}</p>
      @if (proof.sentSubject !== null && proof.sentSubject !== proof.subject) {
        <p>
          It left as “{{ proof.sentSubject }}”; the row’s values have changed since, and this is what they make of it
          now.
        </p>
      }
      <div class="frame"><bt-mail-frame [html]="proof.html" [label]="proof.subject" /></div>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton="filled" mat-dialog-close>Close</button>
    </mat-dialog-actions>
  `,
  styles: `
    .frame {
      height: 380px;
      margin-top: 12px;
      border: 1px solid var(--hairline);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PersonProofView {
  protected readonly proof = inject<PersonProof>(MAT_DIALOG_DATA);
}
