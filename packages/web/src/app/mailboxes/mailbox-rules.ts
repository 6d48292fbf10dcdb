import { ChangeDetectionStrategy, Component, effect, inject, signal, untracked, viewChild } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { MailboxRules } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { IsoDayPipe } from '../time/workspace-time';
import { MailboxesService } from './mailboxes-service';
import { chosenFile, isTicked, typedText } from '../look/event-input';
import { mailboxesTexts } from './texts';
import { DateField } from '../time/date-field';

const texts = mailboxesTexts.mailboxRules;

type NumberRule = 'bounces' | 'among' | 'complaints' | 'days';

/** What holds for every mailbox: when it rests by itself, how much goes to one domain, days off. */
@Component({
  selector: 'bt-mailbox-rules',
  imports: [DateField, MatButton, IsoDayPipe],
  templateUrl: './mailbox-rules.html',
  styleUrl: './mailbox-rules.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MailboxRulesPanel {
  protected readonly texts = texts;
  protected readonly isTicked = isTicked;
  protected readonly typedText = typedText;
  protected readonly chosenFile = chosenFile;
  private readonly service = inject(MailboxesService);
  private readonly notices = inject(Notices);
  private readonly stored = inject(LiveUpdates).view(['mailboxes'], () => this.service.rules());
  /** As they are being changed. */
  protected readonly rules = signal<MailboxRules | null>(null);
  private saving = 0;
  private saved: Promise<boolean> = Promise.resolve(true);
  private readonly dayField = viewChild(DateField);
  protected readonly newDay = signal('');
  protected readonly newName = signal('');

  constructor() {
    effect(() => {
      const stored = this.stored();
      // While a save is under way, the stored rules are about to change.
      if (stored && this.saving === 0) untracked(() => this.rules.set(stored));
    });
  }

  protected setNumber(rule: NumberRule, text: string): void {
    const rules = this.rules();
    // The server says what is wrong with one that is none.
    const n = text.trim() === '' ? null : Number(text);
    if (rules) void this.keep({ ...rules, rest: { ...rules.rest, [rule]: n } });
  }

  protected setTooMuch(tooMuch: boolean): void {
    const rules = this.rules();
    if (rules) void this.keep({ ...rules, rest: { ...rules.rest, tooMuch } });
  }

  protected setCap(text: string): void {
    const rules = this.rules();
    if (rules) void this.keep({ ...rules, domainCap: text.trim() === '' ? null : Number(text) });
  }

  protected async addDay(): Promise<void> {
    const rules = this.rules();
    if (!rules) return;
    if (this.newDay() === '') {
      this.dayField()?.ask();
      return;
    }
    const added = { day: this.newDay(), name: this.newName().trim() };
    if (await this.keep({ ...rules, holidays: [...rules.holidays.filter((h) => h.day !== added.day), added] })) {
      this.newDay.set('');
      this.newName.set('');
    }
  }

  protected removeDay(day: string): void {
    const rules = this.rules();
    if (rules) void this.keep({ ...rules, holidays: rules.holidays.filter((h) => h.day !== day) });
  }

  protected async takeCalendar(file: File | null): Promise<void> {
    if (!file) return;
    try {
      const { days } = await firstValueFrom(this.service.takeHolidays(await file.text()));
      this.notices.say(days === 0 ? texts.thatCalendarHasNoNew : texts.holidaysImportedFrom(days, file.name));
    } catch (error) {
      this.notices.failure(error);
    }
  }

  /** One save after another; each change starts from the one before. */
  private async keep(rules: MailboxRules): Promise<boolean> {
    this.rules.set(rules);
    this.saving++;
    const before = this.saved;
    this.saved = before.then(() => this.send(rules));
    const kept = await this.saved;
    this.saving--;
    if (!kept && this.saving === 0) {
      // What was refused is not left standing as if it held: drawn anew, as it is stored.
      this.rules.set(null);
      setTimeout(() => this.rules.set(this.stored() ?? null));
    }
    return kept;
  }

  private async send(rules: MailboxRules): Promise<boolean> {
    try {
      await firstValueFrom(this.service.setRules(rules));
      return true;
    } catch (error) {
      this.notices.failure(error);
      return false;
    }
  }
}
