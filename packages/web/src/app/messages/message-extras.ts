import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { followingText, MOST_MAIL_BYTES, type Attachment, type MessageContent } from '@baton/core';
import { firstValueFrom } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { sentenceOf } from '../live/sentence-of';
import { fileSize } from '../look/file-size';
import type { FieldChoice } from './editor/field-choice';
import { LineEditor } from './editor/line-editor';
import { MessagesService } from './messages-service';
import { chosenFiles, takenOption, typedText } from '../look/event-input';
import { messagesTexts } from './texts';

const texts = messagesTexts.messageExtras;

/** A column from which each person's own file is named, to begin with. */
const PER_PERSON = '{{ attachment }}';

/** What goes with the text: from whom, copies, files, and the plain part. */
@Component({
  selector: 'bt-message-extras',
  imports: [MatButton, LineEditor],
  templateUrl: './message-extras.html',
  styleUrl: './message-extras.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MessageExtras {
  protected readonly texts = texts;
  protected readonly chosenFiles = chosenFiles;
  protected readonly typedText = typedText;
  protected readonly takenOption = takenOption;
  private readonly service = inject(MessagesService);
  readonly content = input.required<MessageContent>();
  readonly choices = input.required<readonly FieldChoice[]>();
  /** Bytes of one finished message with all that goes with it; null until they are known. */
  readonly bytes = input.required<number | null>();
  readonly changed = output<{ to: Partial<MessageContent>; kind: string }>();
  protected readonly assets = inject(LiveUpdates).view(['messages'], () => this.service.assets());
  protected readonly problem = signal('');

  protected readonly headers: { key: 'senderName' | 'replyTo' | 'cc' | 'bcc'; name: string; hint: string }[] = [
    { key: 'senderName', name: texts.senderName, hint: texts.theMailboxsName },
    { key: 'replyTo', name: texts.replyTo, hint: texts.theMailbox },
    { key: 'cc', name: texts.cc, hint: texts.noneAFieldGivesEach },
    { key: 'bcc', name: texts.bcc, hint: texts.nobody },
  ];
  protected readonly files = computed(() =>
    this.content().attachments.map((a) => {
      if (a.kind === 'named') return { attachment: a, name: a.name, size: null };
      const asset = this.assets()?.find((x) => x.id === a.assetId);
      return { attachment: a, name: asset?.name ?? texts.aFileThatWasDeleted, size: asset?.size ?? null };
    }),
  );
  protected readonly others = computed(() => {
    const taken = new Set(this.content().attachments.flatMap((a) => (a.kind === 'asset' ? [a.assetId] : [])));
    return this.assets()?.filter((a) => !taken.has(a.id)) ?? [];
  });
  protected readonly share = computed(() => {
    const bytes = this.bytes();
    return bytes === null ? null : Math.min(100, (100 * bytes) / MOST_MAIL_BYTES);
  });
  protected readonly following = computed(() => followingText(this.content()));
  /** Whether the plain part, written by hand, is behind the text. */
  protected readonly isApart = computed(() => {
    const plain = this.content().plain;
    return plain !== null && plain !== this.following();
  });

  protected readonly perPerson = PER_PERSON;

  protected size(bytes: number | null): string {
    return bytes === null ? '' : fileSize(bytes);
  }

  protected write(key: keyof MessageContent, text: string): void {
    this.changed.emit({ to: { [key]: text }, kind: key });
  }

  protected attach(attachment: Attachment): void {
    this.changed.emit({ to: { attachments: [...this.content().attachments, attachment] }, kind: 'attach' });
  }

  protected attachByName(): void {
    this.attach({ kind: 'named', name: PER_PERSON });
  }

  protected attachAsset(id: string): void {
    if (id !== '') this.attach({ kind: 'asset', assetId: Number(id) });
  }

  protected detach(at: number): void {
    const attachments = this.content().attachments.filter((_, i) => i !== at);
    this.changed.emit({ to: { attachments }, kind: 'detach' });
  }

  protected nameFile(at: number, name: string): void {
    const attachments = this.content().attachments.map((a, i) => (i === at ? { kind: 'named' as const, name } : a));
    this.changed.emit({ to: { attachments }, kind: texts.file(at) });
  }

  protected async upload(files: FileList | null): Promise<void> {
    this.problem.set('');
    try {
      for (const file of files ?? [])
        this.attach({ kind: 'asset', assetId: (await firstValueFrom(this.service.addAsset(file))).id });
    } catch (error) {
      this.problem.set(sentenceOf(error));
    }
  }
}
