import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import type { ImportReading, ImportView } from '@baton/contract';
import { ENCODINGS, type Encoding } from '@baton/core';
import { chosenOption } from '../../look/event-input';
import { IsoDayPipe } from '../../time/workspace-time';
import { peopleImportTexts } from './texts';

/**
 * What a file leaves open and the person who made it knows: whose addresses are whose, the
 * order of its dates, its encoding, its hidden rows.
 */
@Component({
  selector: 'bt-import-questions',
  imports: [IsoDayPipe, MatCheckbox],
  templateUrl: './import-questions.html',
  styleUrl: './import-questions.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ImportQuestions {
  readonly view = input.required<ImportView>();
  readonly busy = input.required<boolean>();
  readonly answer = output<ImportReading>();
  /** The column that holds the addresses of the people. */
  readonly address = output<number>();

  protected readonly texts = peopleImportTexts.importQuestions;
  protected readonly chosenEncoding = chosenOption<Encoding>;
  protected readonly encodings = Object.entries(ENCODINGS).map(([encoding, name]) => ({ encoding, name }));
}
