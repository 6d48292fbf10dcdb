import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { DIALOG_PARTS } from './dialog-parts';
import { typedText } from './event-input';
import { lookTexts } from './texts';

const texts = lookTexts.askName;

/** Asks for one name. Closes with it, or with nothing. */
@Component({
  selector: 'bt-ask-name',
  imports: [DIALOG_PARTS],
  template: `
    <h2 mat-dialog-title>{{ data.title }}</h2>
    <mat-dialog-content>
      <input
        #box
        maxlength="120"
        (focus)="box.select()"
        [attr.aria-label]="data.title"
        [value]="name()"
        (input)="name.set(typedText($event))"
        (keydown.enter)="done()"
      />
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton mat-dialog-close>{{ texts.cancel }}</button>
      <button matButton="filled" [disabled]="name().trim() === ''" (click)="done()">{{ data.label }}</button>
    </mat-dialog-actions>
  `,
  styles: `
    input {
      width: 100%;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AskName {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  private readonly ref = inject<MatDialogRef<AskName, string>>(MatDialogRef);
  protected readonly data = inject<{ title: string; value: string; label: string }>(MAT_DIALOG_DATA);
  protected readonly name = signal(this.data.value);

  protected done(): void {
    if (this.name().trim() !== '') this.ref.close(this.name().trim());
  }
}
