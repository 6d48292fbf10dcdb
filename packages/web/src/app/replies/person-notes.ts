import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  ElementRef,
  inject,
  Injector,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MOST_NOTE, type NoteView } from '@baton/contract';
import { firstValueFrom, type Observable } from 'rxjs';
import { Notices } from '../live/notices';
import { typedText } from '../look/event-input';
import { MomentPipe } from '../time/workspace-time';
import { RepliesService } from './replies-service';
import { repliesTexts } from './texts';

const texts = repliesTexts.notes;

/** What colleagues noted about a person, and where another note is written. */
@Component({
  selector: 'bt-person-notes',
  imports: [MatButton, MomentPipe],
  template: `
    @for (n of notes(); track n.id) {
      <p class="note">
        <span class="text">{{ n.text }}</span>&ngsp;<span class="quiet">{{ n.at | moment: 'day' }}</span>
        <button class="choice" (click)="remove(n.id)">{{ texts.remove }}</button>
      </p>
    }
    @if (writes()) {
      <form (submit)="add($event)">
        <textarea
          #box
          [attr.aria-label]="texts.note"
          [attr.maxlength]="most"
          [value]="typed()"
          (input)="typed.set(typedText($event))"
          (keydown.escape)="writes.set(false)"
        ></textarea>
        <span class="acts">
          <button matButton="filled" [disabled]="typed().trim() === ''">{{ texts.keep }}</button>
          <button matButton type="button" (click)="writes.set(false)">{{ texts.cancel }}</button>
        </span>
      </form>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 6px;
    }
    .note {
      padding: 4px 12px;
      border-left: 3px solid var(--line);
    }
    .text {
      white-space: pre-wrap;
      overflow-wrap: anywhere;
    }
    .choice {
      margin-left: 10px;
      font-size: 13px;
    }
    form {
      display: grid;
      gap: 6px;
    }
    textarea {
      min-height: 64px;
      padding: 6px 10px;
      border: 1px solid var(--line);
      background: var(--sheet);
      font: inherit;
      resize: vertical;
    }
    .acts {
      display: flex;
      gap: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PersonNotes {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  protected readonly most = MOST_NOTE;
  private readonly service = inject(RepliesService);
  private readonly notices = inject(Notices);
  private readonly injector = inject(Injector);
  private readonly box = viewChild<ElementRef<HTMLTextAreaElement>>('box');
  readonly replyId = input.required<number>();
  readonly notes = input.required<readonly NoteView[]>();
  protected readonly writes = signal(false);
  protected readonly typed = signal('');

  /** Opens the box for another note. */
  write(): void {
    this.writes.set(true);
    afterNextRender(() => this.box()?.nativeElement.focus(), { injector: this.injector });
  }

  protected async add(event: Event): Promise<void> {
    event.preventDefault();
    if (await this.tell(this.service.addNote(this.replyId(), this.typed().trim()))) {
      this.typed.set('');
      this.writes.set(false);
    }
  }

  protected async remove(id: number): Promise<void> {
    await this.tell(this.service.removeNote(id));
  }

  private async tell(asked: Observable<unknown>): Promise<boolean> {
    try {
      await firstValueFrom(asked);
      return true;
    } catch (error) {
      this.notices.failure(error);
      return false;
    }
  }
}
