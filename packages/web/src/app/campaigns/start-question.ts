import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import { MAT_DIALOG_DATA } from '@angular/material/dialog';
import type { BriefView } from '@baton/contract';
import { watchWords } from '@baton/core';
import { WorkspaceTime } from '../time/workspace-time';
import { DIALOG_PARTS } from '../look/dialog-parts';
import { planSentence, saidOf, startWords } from './brief-words';
import { campaignsTexts } from './texts';

const texts = campaignsTexts.startQuestion;

/** Repeats the numbers before a campaign starts, and asks whether these people may be written to. */
@Component({
  selector: 'bt-start-question',
  imports: [DIALOG_PARTS, MatCheckbox],
  template: `
    <h2 mat-dialog-title>{{ texts.start(brief.name) }}</h2>
    <mat-dialog-content>
      <p>{{ sentence() }}</p>
      <p>{{ plan() }}</p>
      <p>{{ watching() }}</p>
      <mat-checkbox [checked]="sure()" (change)="sure.set($event.checked)">{{
        texts.thesePeopleMayBeWritten
      }}</mat-checkbox>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button matButton mat-dialog-close>{{ texts.notYet }}</button>
      <button matButton="filled" [mat-dialog-close]="true" [disabled]="!sure()">{{ words() }}</button>
    </mat-dialog-actions>
  `,
  styles: `
    p {
      margin-bottom: 12px;
      color: var(--ink);
      font: 400 17px/1.45 var(--serif);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StartQuestion {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  protected readonly brief = inject<BriefView>(MAT_DIALOG_DATA);
  protected readonly sure = signal(false);
  protected readonly words = computed(() => startWords(this.brief, this.time.form()));
  protected readonly plan = computed(() => planSentence(this.brief.forecast, this.time.form()));
  protected readonly watching = computed(() => watchWords(this.brief, this.brief.canWatch));
  protected readonly sentence = computed(() => {
    const { forecast, mailboxes, steps } = this.brief;
    const left = forecast.leftOut.reduce((sum, l) => sum + l.people, 0);
    return texts.sentence(
      forecast.people,
      saidOf(this.brief).audience,
      steps.length,
      forecast.messages,
      mailboxes.length,
      left,
    );
  });
}
