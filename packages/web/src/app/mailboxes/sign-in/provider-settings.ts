import { CdkCopyToClipboard } from '@angular/cdk/clipboard';
import { ChangeDetectionStrategy, Component, effect, inject, input, output, signal, untracked } from '@angular/core';
import { FormBuilder, ReactiveFormsModule, Validators } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatError, MatFormField, MatHint, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import type { ServerChoice, SignInProvider, SignInProviderChoices } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { WaitedFor } from '../../live/waited-for';
import { mailboxesTexts } from '../texts';
import { SignInService } from './sign-in-service';

/** What the form shows of a provider, or of one that is not there yet; a secret is never shown. */
const shown = (p: SignInProvider | null) => ({
  issuer: p?.issuer ?? '',
  name: p?.name ?? '',
  clientId: p?.clientId ?? '',
  clientSecret: '',
  scopes: p?.scopes ?? '',
  authorizationEndpoint: p?.authorizationEndpoint ?? '',
  tokenEndpoint: p?.tokenEndpoint ?? '',
  extraParameters: p?.extraParameters ?? '',
  secretInHeader: p?.secretInHeader ?? false,
  namesItself: p?.namesItself ?? false,
});

/** A provider's sign-in: found by its address, with Baton's registration there. */
@Component({
  selector: 'bt-provider-settings',
  imports: [
    CdkCopyToClipboard,
    MatButton,
    MatCheckbox,
    MatError,
    MatFormField,
    MatHint,
    MatInput,
    MatLabel,
    ReactiveFormsModule,
  ],
  templateUrl: './provider-settings.html',
  styleUrl: './provider-settings.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProviderSettings {
  protected readonly texts = mailboxesTexts.providerSettings;
  private readonly service = inject(SignInService);
  /** Null for a new one. */
  readonly provider = input.required<SignInProvider | null>();
  readonly imap = input.required<ServerChoice>();
  readonly redirectUri = input.required<string>();
  readonly canCancel = input.required<boolean>();
  /** The provider that was saved; null where nothing was. */
  readonly closed = output<number | null>();
  protected readonly work = new WaitedFor();
  protected readonly found = signal('');
  protected readonly form = inject(FormBuilder).nonNullable.group({
    issuer: [''],
    name: ['', [Validators.required, Validators.maxLength(120)]],
    clientId: ['', Validators.required],
    clientSecret: [''],
    scopes: [''],
    authorizationEndpoint: ['', Validators.required],
    tokenEndpoint: ['', Validators.required],
    extraParameters: [''],
    secretInHeader: [false],
    namesItself: [false],
  });

  constructor() {
    effect(() => {
      const provider = this.provider();
      untracked(() => this.form.reset(shown(provider)));
    });
  }

  /** Enter in a field does what its button would; it is not for the form around this one. */
  protected async enter(event: Event): Promise<void> {
    if (!(event.target instanceof HTMLInputElement) || event.target.type === 'checkbox') return;
    event.preventDefault();
    await (event.target.getAttribute('formcontrolname') === 'issuer' ? this.find() : this.save());
  }

  /** Asks the provider, or the mail server where its address is not known, how one signs in. */
  protected async find(): Promise<void> {
    const issuer = this.form.controls.issuer.value.trim();
    this.found.set('');
    await this.work.run(async () => {
      const said = await firstValueFrom(this.service.discover(issuer === '' ? { imap: this.imap() } : { issuer }));
      // What a person chose is better than a guess.
      const { scopes, name } = this.form.getRawValue();
      const host = new URL(said.issuer).host;
      this.form.patchValue({ ...said, scopes: scopes || said.scopes, name: name || host });
      this.found.set(this.texts.found(host));
    });
  }

  protected async save(): Promise<void> {
    this.form.markAllAsTouched();
    if (this.form.invalid) {
      this.work.say(this.texts.someAreMissing);
      return;
    }
    await this.work.run(async () => {
      const value = this.form.getRawValue();
      const keepsSecret = value.clientSecret === '' && this.provider()?.hasSecret === true;
      const choices: SignInProviderChoices = { ...value, clientSecret: keepsSecret ? null : value.clientSecret };
      const { id } = await firstValueFrom(this.service.keep(this.provider()?.id ?? null, choices));
      this.closed.emit(id);
    });
  }

  protected async remove(id: number): Promise<void> {
    await this.work.run(async () => {
      await firstValueFrom(this.service.remove(id));
      this.closed.emit(null);
    });
  }
}
