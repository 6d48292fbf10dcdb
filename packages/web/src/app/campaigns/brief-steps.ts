import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { RouterLink } from '@angular/router';
import { MOST_DELAY_DAYS, type BriefChoices, type BriefView, type StepChoice } from '@baton/contract';
import {
  clockWords,
  FOLLOW_UP_CONDITIONS,
  goesToBoth,
  minuteOf,
  termsAt,
  usualTerms,
  type FollowUpCondition,
} from '@baton/core';
import { LiveUpdates } from '../live/live-updates';
import { chosenOption, typedText, wholeNumber } from '../look/event-input';
import { MessagesService } from '../messages/messages-service';
import { DateField } from '../time/date-field';
import { choicesOf, evenShares, letterOf } from './brief-words';
import { campaignsTexts } from './texts';

const texts = campaignsTexts.briefPanel;

/** The messages of a campaign in order, how each goes out, and their variants. */
@Component({
  selector: 'bt-brief-steps',
  imports: [DateField, MatCheckbox, MatButton, RouterLink],
  templateUrl: './brief-steps.html',
  styleUrls: ['./brief-lines.scss', './brief-steps.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BriefSteps {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  protected readonly clockWords = clockWords;
  protected readonly mostDelayDays = MOST_DELAY_DAYS;
  protected readonly conditions = FOLLOW_UP_CONDITIONS;
  protected readonly goesToBoth = goesToBoth;
  protected readonly bothEnds = ['from', 'to'] as const;
  readonly brief = input.required<BriefView>();
  readonly changes = output<Partial<BriefChoices>>();
  /** What was typed that cannot be, in a sentence. */
  readonly refused = output<string>();
  private readonly messagesService = inject(MessagesService);
  protected readonly messages = inject(LiveUpdates).view(['messages'], () => this.messagesService.all());
  protected readonly isDraft = computed(() => this.brief().state === 'draft');
  private readonly steps = computed(() => choicesOf(this.brief().steps));
  protected readonly timeOf = (minute: number | null): string => (minute === null ? '' : clockWords(minute));

  protected chooseMessage(step: number, id: string): void {
    this.changeStep(step, { messageId: id === '' ? null : Number(id) });
  }

  /** The variants after the first, by their letters. */
  protected readonly otherVariants = computed(() =>
    this.brief()
      .variants.slice(1)
      .map((_, i) => ({ at: i, letter: letterOf(i + 1) })),
  );
  protected readonly letterOf = letterOf;

  protected chooseOther(step: number, at: number, id: string): void {
    const others = this.otherVariants().map((o) => this.steps()[step]?.others[o.at] ?? null);
    others[at] = id === '' ? null : Number(id);
    this.changeStep(step, { others });
  }

  /** Two variants to begin with, then one more at a time, all with the same share. */
  protected addVariant(): void {
    const n = Math.max(2, this.brief().variants.length + 1);
    this.changes.emit({ variants: evenShares(n) });
  }

  /** @param at its place among all, 1 or more: the first has nothing to be compared with */
  protected removeVariant(at: number): void {
    const variants = this.brief().variants.filter((_, i) => i !== at);
    const steps = this.steps().map((s) => ({ ...s, others: s.others.filter((_, i) => i !== at - 1) }));
    this.changes.emit({ variants: variants.length < 2 ? [] : variants, steps });
  }

  protected setShare(at: number, event: Event): void {
    const { variants } = this.brief();
    const share = wholeNumber(event, 0, 100);
    if (share === null) this.refuse(event, String(variants[at]), texts.shareRange);
    else this.changes.emit({ variants: variants.map((v, i) => (i === at ? share : v)) });
  }

  protected changeStep(step: number, change: Partial<StepChoice>): void {
    this.changes.emit({ steps: this.steps().map((s, i) => (i === step ? { ...s, ...change } : s)) });
  }

  protected chooseIfClicked(step: number, id: string): void {
    this.changeStep(step, { ifClicked: id === '' ? null : Number(id) });
  }

  protected setDelay(step: number, event: Event): void {
    const delay = wholeNumber(event, 1, MOST_DELAY_DAYS);
    if (delay === null) this.refuse(event, String(this.steps()[step]?.delay), texts.delayRange(MOST_DELAY_DAYS));
    else this.changeStep(step, { delay });
  }

  protected addStep(): void {
    this.changes.emit({
      steps: [
        ...this.steps(),
        {
          number: null,
          messageId: null,
          others: [],
          ifClicked: null,
          renews: false,
          ...usualTerms(this.steps().length),
        },
      ],
    });
  }

  protected removeStep(step: number): void {
    const left = this.steps().filter((_, i) => i !== step);
    this.changes.emit({ steps: left.map((s, i) => (i === 0 ? { ...s, ...termsAt(0, s), ifClicked: null } : s)) });
  }

  /** Puts a message before the one that it follows. */
  protected moveUp(step: number): void {
    const steps = this.steps();
    const [one, before] = [steps[step], steps[step - 1]];
    if (!one || !before) return;
    // What follows another message waits for it; the first does not.
    const swapped =
      step === 1
        ? [
            { ...one, ...termsAt(0, one), ifClicked: null },
            { ...before, delay: one.delay, tolerance: one.tolerance, condition: one.condition },
          ]
        : [one, before];
    this.changes.emit({ steps: [...steps.slice(0, step - 1), ...swapped, ...steps.slice(step + 1)] });
  }

  /** Whether a message may come before the one that it follows: what has left first stays the first. */
  protected canMoveUp(step: number): boolean {
    return step > 1 || (step === 1 && this.brief().steps[0]?.sent === 0);
  }

  /** Hours of its own, or those of the campaign where both are left blank. */
  protected setHours(step: number, which: 'from' | 'to', event: Event): void {
    const typed = typedText(event).trim();
    const { window, steps } = this.brief();
    const own = steps[step]?.hours ?? { from: window.from, to: window.to };
    const minute = typed === '' ? window[which] : minuteOf(typed);
    const hours = minute === null ? null : { ...own, [which]: minute };
    const back = this.timeOf(steps[step]?.hours?.[which] ?? null);
    if (hours === null) this.refuse(event, back, texts.noTime(typed));
    else if (hours.to <= hours.from) this.refuse(event, back, texts.endsBeforeItBegins);
    else {
      const isAll = hours.from <= window.from && hours.to >= window.to;
      this.changeStep(step, { hours: isAll ? null : hours });
    }
  }

  protected setCondition(step: number, event: Event): void {
    const condition = chosenOption<FollowUpCondition>(event);
    this.changeStep(step, { condition });
  }

  protected setRenews(step: number, renews: boolean): void {
    this.changeStep(step, { renews });
  }

  /** What cannot be is said, and the field shows again what holds. */
  private refuse(event: Event, was: string, words: string): void {
    (event.target as HTMLInputElement).value = was;
    this.refused.emit(words);
  }
}
