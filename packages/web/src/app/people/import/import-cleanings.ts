import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import type { ImportView } from '@baton/contract';
import type { Cleaning } from '@baton/core';
import { CountPipe } from '../../look/count-pipe';
import { peopleImportTexts } from './texts';

const texts = peopleImportTexts.importCleanings;

const CLEANING_WORDS: Record<Cleaning, string> = {
  spaces: texts.tidySpaces,
  broken_letters: texts.repairBrokenCharacters,
  named_address: texts.takeNamesOutOfAddress,
  name_case: texts.fixCapitalsInNames,
  split_name: texts.splitFullNames,
  first_address: texts.takeTheFirstAddress,
  legal_form: texts.removeLegalFormsFromCompanies,
  dates: texts.writeDatesAsIso,
};

/** What can be mended in the cells while they are imported, each with how many cells it changes and an example. */
@Component({
  selector: 'bt-import-cleanings',
  imports: [CountPipe, MatButton, MatCheckbox],
  templateUrl: './import-cleanings.html',
  styleUrl: './import-cleanings.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ImportCleanings {
  readonly view = input.required<ImportView>();
  readonly busy = input.required<boolean>();
  /** All cleanings that are on from now on. */
  readonly choose = output<readonly Cleaning[]>();
  readonly mendDomains = output<void>();

  protected readonly texts = texts;
  protected readonly cleanings = computed(() =>
    this.view().cleanings.map((c) => ({ ...c, words: CLEANING_WORDS[c.cleaning], example: c.examples[0] })),
  );

  protected toggle(cleaning: Cleaning, on: boolean): void {
    const others = this.cleanings().flatMap((c) => (c.on && c.cleaning !== cleaning ? [c.cleaning] : []));
    this.choose.emit(on ? [...others, cleaning] : others);
  }
}
