import { HttpClient } from '@angular/common/http';
import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormBuilder, ReactiveFormsModule, Validators } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatError, MatFormField, MatHint, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import type { WorkspaceSettings } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { Notices } from '../live/notices';
import { sentenceOf } from '../live/sentence-of';
import { settingsTexts } from './texts';

/** What holds for the whole workspace: its name, postal address and time zone. */
@Component({
  selector: 'bt-settings',
  imports: [MatButton, MatError, MatFormField, MatHint, MatInput, MatLabel, ReactiveFormsModule],
  templateUrl: './settings.html',
  styleUrl: './settings.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Settings {
  protected readonly texts = settingsTexts.settings;
  protected readonly zoneNames = Intl.supportedValuesOf('timeZone');
  protected readonly problem = signal('');
  protected readonly busy = signal(true);
  private readonly http = inject(HttpClient);
  private readonly notices = inject(Notices);
  protected readonly form = inject(FormBuilder).nonNullable.group({
    name: ['', [Validators.required, Validators.maxLength(120)]],
    postalAddress: ['', Validators.maxLength(500)],
    zone: ['', Validators.required],
  });

  constructor() {
    void this.load();
  }

  private async load(): Promise<void> {
    await this.wait(async () => {
      this.form.setValue(await firstValueFrom(this.http.get<WorkspaceSettings>('/api/settings')));
    });
  }

  protected async save(): Promise<void> {
    this.form.markAllAsTouched();
    if (this.form.invalid) return;
    await this.wait(async () => {
      await firstValueFrom(this.http.put('/api/settings', this.form.getRawValue()));
      this.form.markAsPristine();
      this.notices.say(this.texts.saved);
    });
  }

  private async wait(work: () => Promise<void>): Promise<void> {
    this.busy.set(true);
    this.problem.set('');
    try {
      await work();
    } catch (error) {
      this.problem.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
