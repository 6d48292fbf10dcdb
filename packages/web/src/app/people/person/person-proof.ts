import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA } from '@angular/material/dialog';
import type { PersonProof } from '@baton/contract';
import { DIALOG_PARTS } from '../../look/dialog-parts';
import { ProofLetter } from '../../messages/proof/proof-letter';
import { peoplePersonTexts } from './texts';

const texts = peoplePersonTexts.personProof;

/** One message to one person, as they get it. */
@Component({
  selector: 'bt-person-proof',
  imports: [DIALOG_PARTS, ProofLetter],
  template: `
    <h2 mat-dialog-title>{{ proof.subject }}</h2>
    <mat-dialog-content>
      <p class="quiet">{{ texts.fromTo(proof.from, proof.to) }}</p>
      @if (proof.sentSubject !== null && proof.sentSubject !== proof.subject) {
        <p>
          {{ texts.itLeftAsTheRows(proof.sentSubject) }}
        </p>
      }
      <div class="frame"><bt-proof-letter [proof]="proof" [label]="proof.subject" /></div>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton="filled" mat-dialog-close>{{ texts.close }}</button>
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
  protected readonly texts = texts;
  protected readonly proof = inject<PersonProof>(MAT_DIALOG_DATA);
}
