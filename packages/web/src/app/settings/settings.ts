import { HttpClient } from '@angular/common/http';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormBuilder, ReactiveFormsModule, Validators } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatError, MatFormField, MatHint, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { DATE_FORMS, dayWords, type DateForm } from '@baton/core';
import type { PublicAddressTest, WorkspaceSettingsView } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { Notices } from '../live/notices';
import { sentenceOf } from '../live/sentence-of';
import { WaitedFor } from '../live/waited-for';
import { settingsTexts } from './texts';

/** A day on which no figure could be the month. */
const EXAMPLE = '2026-11-24';

/** What holds for the whole workspace: its name, postal address, time zone, form of dates and public address. */
@Component({
  selector: 'bt-settings',
  imports: [MatButton, MatError, MatFormField, MatHint, MatInput, MatLabel, ReactiveFormsModule],
  templateUrl: './settings.html',
  styleUrl: './settings.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Settings {
  protected readonly texts = settingsTexts.settings;
  /** A day in each form, to choose from. */
  protected readonly dateForms = DATE_FORMS.map((form) => ({ form, words: dayWords(EXAMPLE, 'dated', form) }));
  protected readonly zoneNames = Intl.supportedValuesOf('timeZone');
  protected readonly work = new WaitedFor();
  private readonly http = inject(HttpClient);
  private readonly notices = inject(Notices);
  protected readonly form = inject(FormBuilder).nonNullable.group({
    name: ['', [Validators.required, Validators.maxLength(120)]],
    postalAddress: ['', Validators.maxLength(500)],
    zone: ['', Validators.required],
    dateForm: ['day_month' as DateForm],
    publicAddress: ['', Validators.maxLength(500)],
    rowsFolder: ['', Validators.maxLength(500)],
  });
  /** Where the pages for recipients are on this machine. */
  protected readonly pages = signal('');
  /** What was last written into the folder for rows. */
  protected readonly rowsFound = signal('');
  protected readonly testing = signal(false);
  protected readonly tested = signal<PublicAddressTest | null>(null);

  constructor() {
    void this.load();
    // What was found of one address says nothing of another.
    this.form.controls.publicAddress.valueChanges.pipe(takeUntilDestroyed()).subscribe(() => this.tested.set(null));
  }

  private async load(): Promise<void> {
    await this.work.run(async () => {
      const { publicPages, rowsFound, ...settings } = await firstValueFrom(
        this.http.get<WorkspaceSettingsView>('/api/settings'),
      );
      this.form.setValue(settings);
      this.pages.set(publicPages);
      this.rowsFound.set(rowsFound);
    });
  }

  protected async save(): Promise<void> {
    this.form.markAllAsTouched();
    if (this.form.invalid) return;
    await this.work.run(async () => {
      await firstValueFrom(this.http.put('/api/settings', this.form.getRawValue()));
      this.form.markAsPristine();
      this.notices.say(this.texts.saved);
    });
  }

  protected async test(): Promise<void> {
    const { publicAddress } = this.form.getRawValue();
    this.testing.set(true);
    this.tested.set(null);
    try {
      const asked = this.http.post<PublicAddressTest>('/api/settings/public-address-test', { publicAddress });
      this.tested.set(await firstValueFrom(asked));
    } catch (error) {
      this.tested.set({ ok: false, said: sentenceOf(error) });
    } finally {
      this.testing.set(false);
    }
  }
}
