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
import { takeUntilDestroyed, toSignal } from '@angular/core/rxjs-interop';
import { FormBuilder, ReactiveFormsModule, Validators } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatError, MatFormField, MatHint, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { Router, RouterLink } from '@angular/router';
import type { MailboxChoices, MailboxTest, MailboxView, ServerCertificate, ServerChoice } from '@baton/contract';
import { readDays, restWords, suggestRamp } from '@baton/core';
import { firstValueFrom } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { sentenceOf } from '../live/sentence-of';
import { ShellState } from '../shell/shell-state';
import { MomentPipe, WorkspaceTime } from '../time/workspace-time';
import { DomainRecords } from './domain-records';
import { healthRates } from './health-words';
import { MailboxHistoryView } from './mailbox-history';
import { MailboxesService } from './mailboxes-service';
import { paceWords } from './pace-words';
import { RampCurve } from './ramp-curve';
import { ProviderSignIn } from './sign-in/provider-sign-in';
import { SignInAgain } from './sign-in/sign-in-again';
import { readWeek, spansWords } from './window-words';
import { weekdays } from '../look/language';
import { mailboxesTexts } from './texts';
import { CountPipe } from '../look/count-pipe';

const texts = mailboxesTexts.mailboxPage;

const WEEKDAYS = weekdays('short');
/** What providers commonly take in 24 hours, by kind of account; their own pages say for certain. */
const PROVIDER_LIMITS = [
  { words: texts.freeMailAccount, limit: 500 },
  { words: texts.paidBusinessAccount, limit: 2000 },
  { words: texts.mailWithWebHosting, limit: 300 },
];

type Security = MailboxChoices['smtp']['security'];

/** A mailbox's page: connection with a real test, quota, window, pace, signature. */
@Component({
  selector: 'bt-mailbox-page',
  imports: [
    CountPipe,
    DomainRecords,
    MomentPipe,
    ReactiveFormsModule,
    MatButton,
    MatCheckbox,
    MatFormField,
    MatLabel,
    MatHint,
    MatError,
    MatInput,
    MailboxHistoryView,
    ProviderSignIn,
    RampCurve,
    RouterLink,
    SignInAgain,
  ],
  templateUrl: './mailbox-page.html',
  styleUrl: './mailbox-page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MailboxPage {
  protected readonly texts = texts;
  private readonly service = inject(MailboxesService);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly shell = inject(ShellState);
  private readonly time = inject(WorkspaceTime);
  readonly mailboxId = input.required<string>();
  /** A mailbox whose connection a new one shares. */
  readonly like = input<string>();

  private readonly mailboxes = inject(LiveUpdates).view(['mailboxes'], () => this.service.all());
  protected readonly isNew = computed(() => this.mailboxId() === 'new');
  protected readonly mailbox = computed(() => this.mailboxes()?.find((m) => m.id === Number(this.mailboxId())));
  protected readonly rates = computed(() => {
    const health = this.mailbox()?.health;
    return health ? healthRates(health) : [];
  });
  protected readonly providerLimits = PROVIDER_LIMITS;
  protected readonly zoneNames = Intl.supportedValuesOf('timeZone');
  protected readonly found = signal('');
  protected readonly suggestion = signal('');
  protected readonly likeMailbox = computed(() => this.mailboxes()?.find((m) => m.id === Number(this.like())));
  /** What the provider has shown to be its limit, unless the form has that or less already. */
  protected readonly learnt = computed(() => {
    const learnt = this.mailbox()?.learntLimit24h ?? null;
    const own = this.typed()?.providerLimit ?? null;
    return learnt !== null && (own === null || own > learnt) ? learnt : null;
  });
  protected readonly test = signal<MailboxTest | null>(null);
  protected readonly problem = signal('');
  protected readonly busy = signal(false);
  protected readonly weekdayNames = WEEKDAYS;
  private filled = '';

  private readonly builder = inject(FormBuilder).nonNullable;
  protected readonly form = this.builder.group({
    address: ['', [Validators.required, Validators.email]],
    senderName: ['', Validators.required],
    signature: [''],
    username: [''],
    way: ['password' as 'password' | 'provider'],
    password: [''],
    smtpHost: ['', Validators.required],
    smtpPort: [465, [Validators.required, Validators.min(1), Validators.max(65535)]],
    smtpSecurity: ['tls' as Security],
    /** A certificate that is trusted for the host; '' for none. */
    smtpTrusted: [''],
    imapHost: ['', Validators.required],
    imapPort: [993, [Validators.required, Validators.min(1), Validators.max(65535)]],
    imapSecurity: ['tls' as Security],
    imapTrusted: [''],
    dailyQuota: [40, [Validators.required, Validators.min(0), Validators.max(100_000)]],
    providerLimit: [null as number | null],
    paceSeconds: [120, [Validators.required, Validators.min(0), Validators.max(86_400)]],
    hours: this.builder.array(WEEKDAYS.map((_, i) => this.builder.control(i < 5 ? '9:00–16:30' : ''))),
    replyTo: [''],
    daysOff: [''],
    zone: [Intl.DateTimeFormat().resolvedOptions().timeZone, Validators.required],
    ramps: [false],
    rampFirst: [10, Validators.min(1)],
    rampAdd: [4, Validators.min(1)],
    rampEvery: [1, Validators.min(1)],
    archiveFolder: [''],
  });

  private readonly typed = toSignal(this.form.valueChanges);
  /** The access by which it signs in at its provider. */
  protected readonly grantId = signal<number | null>(null);
  protected readonly hasPassword = computed(() => this.mailbox()?.grantId === null);
  protected readonly isAtProvider = computed(() => this.typed()?.way === 'provider');
  protected readonly signInName = computed(() => (this.typed()?.username ?? '').trim());
  protected readonly imapServer = computed((): ServerChoice => {
    const { imapHost = '', imapPort = 993, imapSecurity = 'tls' } = this.typed() ?? {};
    return { host: imapHost.trim(), port: imapPort, security: imapSecurity };
  });
  /** What quota, hours and pace come to, while they are typed. */
  protected readonly pace = computed(() => {
    this.typed();
    const { hours, dailyQuota: quota, providerLimit, paceSeconds } = this.form.getRawValue();
    const windows = readWeek(hours, WEEKDAYS);
    return typeof windows === 'string' ? null : paceWords({ quota, providerLimit, paceSeconds }, windows, WEEKDAYS);
  });

  constructor() {
    effect(() => {
      const m = this.mailbox();
      this.shell.setTitle(this.isNew() ? texts.connectAMailbox : (m?.address ?? null));
      // Filled once: text being typed is not overwritten by changes that arrive meanwhile.
      if (m && this.filled !== this.mailboxId()) untracked(() => this.fill(m));
    });
    effect(() => {
      const like = this.likeMailbox();
      if (like && this.isNew()) untracked(() => this.shareConnection(like));
    });
    effect(() => {
      const zone = this.shell.view()?.clock.zone;
      if (zone && this.isNew() && !this.form.controls.zone.dirty) this.form.controls.zone.setValue(zone);
    });
    inject(DestroyRef).onDestroy(() => this.shell.setTitle(null));
    // Whoever names another server has not looked at its certificate.
    const { smtpHost, smtpTrusted, imapHost, imapTrusted } = this.form.controls;
    smtpHost.valueChanges.pipe(takeUntilDestroyed()).subscribe(() => smtpTrusted.setValue(''));
    imapHost.valueChanges.pipe(takeUntilDestroyed()).subscribe(() => imapTrusted.setValue(''));
  }

  private shareConnection(m: MailboxView): void {
    if (this.filled === m.address) return;
    this.filled = m.address;
    this.grantId.set(m.grantId);
    this.form.patchValue(connectionOf(m));
  }

  private fill(m: MailboxView): void {
    this.filled = this.mailboxId();
    this.grantId.set(m.grantId);
    this.form.setValue({
      address: m.address,
      senderName: m.senderName,
      signature: m.signature,
      ...connectionOf(m),
      password: '',
      dailyQuota: m.dailyQuota,
      replyTo: m.replyTo,
      daysOff: m.daysOff.map((day) => this.time.dayWords(day, 'dated')).join(', '),
      zone: m.zone,
      ramps: m.ramp !== null,
      rampFirst: m.ramp?.first ?? 10,
      rampAdd: m.ramp?.add ?? 4,
      rampEvery: m.ramp?.every ?? 1,
      archiveFolder: m.archiveFolder,
    });
  }

  /** Why nothing leaves, in sentences; '' when something does. */
  protected readonly trouble = computed(() => {
    const m = this.mailbox();
    if (!m) return '';
    if (m.problem !== null) return texts.cannotSignIn(m.problem);
    return m.restUntil === null
      ? ''
      : texts.restsUntil(this.time.dayWords(m.restUntil), restWords(m.restReason, m.restMoved));
  });

  /** The hours of Monday for every working day. */
  protected asMonday(): void {
    const { controls } = this.form.controls.hours;
    for (const day of controls.slice(1, 5)) day.setValue(controls[0]?.value ?? '');
  }

  /** Where the address's mail is sent and read, as its domain says or the usual names have it, where nothing is typed yet. */
  protected async guessServers(): Promise<void> {
    const { address, smtpHost, smtpPort, smtpSecurity, imapHost, imapPort, imapSecurity, username } =
      this.form.controls;
    if (address.invalid || address.value === '') return;
    if (username.value === '') username.setValue(address.value);
    if (smtpHost.value !== '' && imapHost.value !== '') return;
    try {
      const { smtp, imap, announced } = await firstValueFrom(this.service.servers(address.value));
      // Nothing is put under the hands of somebody who has begun to type there.
      const typing = document.activeElement?.getAttribute('formcontrolname');
      if (smtpHost.value === '' && typing !== 'smtpHost') {
        smtpHost.setValue(smtp.host);
        smtpPort.setValue(smtp.port);
        smtpSecurity.setValue(smtp.security);
      }
      if (imapHost.value === '' && typing !== 'imapHost') {
        imapHost.setValue(imap.host);
        imapPort.setValue(imap.port);
        imapSecurity.setValue(imap.security);
      }
      this.found.set(announced ? texts.publishedByTheDomain : texts.guessedFromTheUsualNames);
    } catch {
      // Without an answer they are typed by hand.
    }
  }

  protected suggestRamp(age: string): void {
    const days = age.trim() === '' ? null : Number(age);
    const { ramp, because } = suggestRamp(days, this.mailbox()?.mostSent ?? 0, this.form.controls.dailyQuota.value);
    this.suggestion.set(ramp ? texts.suggestedBecause(because) : texts.noRampIsNeeded(because));
    this.form.patchValue(
      ramp ? { ramps: true, rampFirst: ramp.first, rampAdd: ramp.add, rampEvery: ramp.every } : { ramps: false },
    );
  }

  private choices(): MailboxChoices | string {
    const v = this.form.getRawValue();
    const windows = readWeek(v.hours, WEEKDAYS);
    if (typeof windows === 'string') return windows;
    const daysOff = readDays(v.daysOff, this.time.today(), this.time.form());
    if ('wrong' in daysOff) return texts.daysOffIsNotA(daysOff.wrong);
    const grantId = v.way === 'provider' ? this.grantId() : null;
    if (v.way === 'provider' && grantId === null) return texts.signInAtTheProviderFirst;
    return {
      address: v.address,
      senderName: v.senderName,
      signature: v.signature,
      username: v.username || v.address,
      password: v.password,
      grantId,
      smtp: { host: v.smtpHost, port: v.smtpPort, security: v.smtpSecurity, ...trusting(v.smtpTrusted) },
      imap: { host: v.imapHost, port: v.imapPort, security: v.imapSecurity, ...trusting(v.imapTrusted) },
      zone: v.zone,
      windows,
      replyTo: v.replyTo.trim(),
      daysOff: daysOff.days,
      dailyQuota: v.dailyQuota,
      providerLimit24h: v.providerLimit || null,
      paceSeconds: v.paceSeconds,
      ramp: v.ramps ? { first: v.rampFirst, add: v.rampAdd, every: v.rampEvery } : null,
      archiveFolder: v.archiveFolder.trim(),
    };
  }

  /** Trusts a certificate for its host, and tries again. */
  protected async trust({ host, pem }: ServerCertificate): Promise<void> {
    const { smtpHost, smtpTrusted, imapHost, imapTrusted } = this.form.controls;
    if (smtpHost.value === host) smtpTrusted.setValue(pem);
    if (imapHost.value === host) imapTrusted.setValue(pem);
    await this.connect();
  }

  protected async connect(): Promise<void> {
    this.form.markAllAsTouched();
    this.test.set(null);
    const choices = this.choices();
    this.problem.set(typeof choices === 'string' ? choices : this.form.invalid ? texts.someFieldsAboveAreMissing : '');
    if (typeof choices === 'string' || this.form.invalid) return;
    this.busy.set(true);
    try {
      const answer = await firstValueFrom(
        this.service.connect(this.isNew() ? null : Number(this.mailboxId()), choices),
      );
      this.test.set(answer.test);
      if (answer.id === null) return;
      this.notices.say(texts.isConnected(choices.address));
      await this.router.navigate(['/mailboxes']);
    } catch (error) {
      this.problem.set(sentenceOf(error));
    } finally {
      this.busy.set(false);
    }
  }
}

const trusting = (trusted: string) => (trusted === '' ? {} : { trusted });

/** What addresses on one connection have in common. */
function connectionOf(m: MailboxView) {
  return {
    username: m.username,
    way: m.grantId === null ? ('password' as const) : ('provider' as const),
    smtpHost: m.smtp.host,
    smtpPort: m.smtp.port,
    smtpSecurity: m.smtp.security,
    smtpTrusted: m.smtp.trusted ?? '',
    imapHost: m.imap.host,
    imapPort: m.imap.port,
    imapSecurity: m.imap.security,
    imapTrusted: m.imap.trusted ?? '',
    providerLimit: m.providerLimit24h,
    hours: m.windows.map(spansWords),
    paceSeconds: m.paceSeconds,
  };
}
