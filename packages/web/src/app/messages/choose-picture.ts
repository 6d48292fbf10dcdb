import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatDialogRef } from '@angular/material/dialog';
import { firstValueFrom } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { DIALOG_PARTS } from '../look/dialog-parts';
import { sentenceOf } from '../live/sentence-of';
import { MessagesService } from './messages-service';
import { chosenFiles, typedText } from '../look/event-input';
import { messagesTexts } from './texts';
import { addressOf } from '../live/addresses';

const texts = messagesTexts.choosePicture;

/** A picture as the text has it. */
export interface ChosenPicture {
  src: string;
  alt: string;
}

/** A picture of the library, of the web, or one per person by a field. Closes with it, or with nothing. */
@Component({
  selector: 'bt-choose-picture',
  imports: [DIALOG_PARTS],
  templateUrl: './choose-picture.html',
  styleUrl: './library.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChoosePicture {
  protected readonly texts = texts;
  protected readonly addressOf = addressOf;
  protected readonly chosenFiles = chosenFiles;
  protected readonly typedText = typedText;
  private readonly service = inject(MessagesService);
  private readonly ref = inject<MatDialogRef<ChoosePicture, ChosenPicture>>(MatDialogRef);
  private readonly assets = inject(LiveUpdates).view(['messages'], () => this.service.assets());
  protected readonly pictures = computed(() => this.assets()?.filter((a) => a.type.startsWith('image/')));
  protected readonly chosen = signal<number | null>(null);
  protected readonly address = signal('');
  protected readonly alt = signal('');
  protected readonly problem = signal('');
  protected readonly src = computed(() => {
    const written = this.address().trim();
    if (written !== '') return written;
    return this.chosen() === null ? '' : `asset:${this.chosen()}`;
  });

  protected choose(id: number): void {
    this.chosen.set(id);
    this.address.set('');
  }

  protected async upload(files: FileList | null): Promise<void> {
    this.problem.set('');
    try {
      for (const file of files ?? []) this.choose((await firstValueFrom(this.service.addAsset(file))).id);
    } catch (error) {
      this.problem.set(sentenceOf(error));
    }
  }

  protected done(): void {
    if (this.src() !== '') this.ref.close({ src: this.src(), alt: this.alt().trim() });
  }
}
