import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  signal,
  untracked,
} from '@angular/core';
import { FormBuilder, ReactiveFormsModule, Validators } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatError, MatFormField, MatHint, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { Router, RouterLink } from '@angular/router';
import type { MailboxChoices, MailboxTest, MailboxView } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { minuteOf, clockWords } from '../campaigns/brief-words';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { sentenceOf } from '../live/sentence-of';
import { ShellState } from '../shell/shell-state';
import { MailboxesService } from './mailboxes-service';

const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
type Security = MailboxChoices['smtp']['security'];

/** A mailbox's page: connection with a real test, quota, window, pace, signature. */
@Component({
  selector: 'bt-mailbox-page',
  imports: [
    ReactiveFormsModule,
    MatButton,
    MatCheckbox,
    MatFormField,
    MatLabel,
    MatHint,
    MatError,
    MatInput,
    RouterLink,
  ],
  templateUrl: './mailbox-page.html',
  styleUrl: './mailbox-page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MailboxPage {
  private readonly service = inject(MailboxesService);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly shell = inject(ShellState);
  readonly mailboxId = input.required<string>();

  private readonly mailboxes = inject(LiveUpdates).view(['mailboxes'], () => this.service.all());
  protected readonly isNew = computed(() => this.mailboxId() === 'new');
  protected readonly mailbox = computed(() => this.mailboxes()?.find((m) => m.id === Number(this.mailboxId())));
  protected readonly test = signal<MailboxTest | null>(null);
  protected readonly problem = signal('');
  protected readonly busy = signal(false);
  protected readonly weekdayNames = WEEKDAYS;
  protected readonly weekdays = signal([1, 2, 3, 4, 5]);
  private filled = '';

  protected readonly form = inject(FormBuilder).nonNullable.group({
    address: ['', [Validators.required, Validators.email]],
    senderName: ['', Validators.required],
    signature: [''],
    username: [''],
    password: [''],
    smtpHost: ['', Validators.required],
    smtpPort: [465, [Validators.required, Validators.min(1), Validators.max(65535)]],
    smtpSecurity: ['tls' as Security],
    imapHost: ['', Validators.required],
    imapPort: [993, [Validators.required, Validators.min(1), Validators.max(65535)]],
    imapSecurity: ['tls' as Security],
    dailyQuota: [40, [Validators.required, Validators.min(0), Validators.max(100_000)]],
    providerLimit: [null as number | null],
    paceSeconds: [120, [Validators.required, Validators.min(0), Validators.max(86_400)]],
    from: ['9:00', Validators.required],
    to: ['16:30', Validators.required],
    zone: [Intl.DateTimeFormat().resolvedOptions().timeZone, Validators.required],
    ramps: [false],
    rampFirst: [10, Validators.min(1)],
    rampAdd: [4, Validators.min(1)],
    rampEvery: [1, Validators.min(1)],
    keepsSent: [true],
  });

  constructor() {
    effect(() => {
      const m = this.mailbox();
      this.shell.setTitle(this.isNew() ? 'Connect a mailbox' : (m?.address ?? null));
      // Filled once: what is being typed is not overwritten by what changes meanwhile.
      if (m && this.filled !== this.mailboxId()) untracked(() => this.fill(m));
    });
    effect(() => {
      const zone = this.shell.view()?.clock.zone;
      if (zone && this.isNew() && !this.form.controls.zone.dirty) this.form.controls.zone.setValue(zone);
    });
    inject(DestroyRef).onDestroy(() => this.shell.setTitle(null));
  }

  private fill(m: MailboxView): void {
    this.filled = this.mailboxId();
    const open = m.windows.map((spans, i) => (spans.length > 0 ? i + 1 : 0)).filter((d) => d > 0);
    const span = m.windows.find((spans) => spans.length > 0)?.[0] ?? [540, 990];
    this.weekdays.set(open);
    this.form.setValue({
      address: m.address,
      senderName: m.senderName,
      signature: m.signature,
      username: m.username,
      password: '',
      smtpHost: m.smtp.host,
      smtpPort: m.smtp.port,
      smtpSecurity: m.smtp.security,
      imapHost: m.imap.host,
      imapPort: m.imap.port,
      imapSecurity: m.imap.security,
      dailyQuota: m.dailyQuota,
      providerLimit: m.providerLimit24h,
      paceSeconds: m.paceSeconds,
      from: clockWords(span[0]),
      to: clockWords(span[1]),
      zone: m.zone,
      ramps: m.ramp !== null,
      rampFirst: m.ramp?.first ?? 10,
      rampAdd: m.ramp?.add ?? 4,
      rampEvery: m.ramp?.every ?? 1,
      keepsSent: m.keepsSent,
    });
  }

  protected toggleWeekday(day: number, on: boolean): void {
    this.weekdays.update((days) => (on ? [...days, day].sort() : days.filter((d) => d !== day)));
  }

  /** The usual names of a domain's mail servers, where nothing has been typed yet. */
  protected guessServers(): void {
    const { address, smtpHost, imapHost, username } = this.form.controls;
    const domain = address.value.split('@')[1];
    if (!domain) return;
    if (smtpHost.value === '') smtpHost.setValue(`smtp.${domain}`);
    if (imapHost.value === '') imapHost.setValue(`imap.${domain}`);
    if (username.value === '') username.setValue(address.value);
  }

  private choices(): MailboxChoices | string {
    const v = this.form.getRawValue();
    const from = minuteOf(v.from);
    const to = minuteOf(v.to);
    if (from === null || to === null || from >= to)
      return 'The window must begin and end at times such as 9:00 and 16:30, and end after it begins.';
    if (this.weekdays().length === 0) return 'Choose at least one day of the week.';
    return {
      address: v.address,
      senderName: v.senderName,
      signature: v.signature,
      username: v.username || v.address,
      password: v.password,
      smtp: { host: v.smtpHost, port: v.smtpPort, security: v.smtpSecurity },
      imap: { host: v.imapHost, port: v.imapPort, security: v.imapSecurity },
      zone: v.zone,
      windows: WEEKDAYS.map((_, i) => (this.weekdays().includes(i + 1) ? [[from, to]] : [])),
      dailyQuota: v.dailyQuota,
      providerLimit24h: v.providerLimit || null,
      paceSeconds: v.paceSeconds,
      ramp: v.ramps ? { first: v.rampFirst, add: v.rampAdd, every: v.rampEvery } : null,
      keepsSent: v.keepsSent,
    };
  }

  protected async connect(): Promise<void> {
    this.form.markAllAsTouched();
    this.test.set(null);
    const choices = this.choices();
    this.problem.set(
      typeof choices === 'string'
        ? choices
        : this.form.invalid
          ? 'Something above is missing or out of bounds; it is marked.'
          : '',
    );
    if (typeof choices === 'string' || this.form.invalid) return;
    this.busy.set(true);
    try {
      const answer = await firstValueFrom(
        this.service.connect(this.isNew() ? null : Number(this.mailboxId()), choices),
      );
      this.test.set(answer.test);
      if (answer.id === null) return;
      this.notices.say(`${choices.address} sends and can be read.`);
      await this.router.navigate(['/mailboxes']);
    } catch (error) {
      this.problem.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}
