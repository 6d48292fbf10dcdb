import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { AssetView } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { fileSize } from '../look/file-size';
import { MessageList } from './message-list';
import { MessagesService } from './messages-service';
import { chosenFiles } from '../look/event-input';
import { messagesTexts } from './texts';
import { addressOf } from '../live/addresses';

const texts = messagesTexts.library;

/** Files and pictures that messages use. */
@Component({
  selector: 'bt-library',
  imports: [MessageList, MatButton],
  templateUrl: './library.html',
  styleUrl: './library-page.scss',
  host: { '(dragover)': '$event.preventDefault()', '(drop)': 'drop($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Library {
  protected readonly texts = texts;
  protected readonly addressOf = addressOf;
  protected readonly chosenFiles = chosenFiles;
  private readonly service = inject(MessagesService);
  private readonly live = inject(LiveUpdates);
  private readonly notices = inject(Notices);
  protected readonly messages = this.live.view(['messages', 'campaigns'], () => this.service.all());
  protected readonly assets = this.live.view(['messages'], () => this.service.assets());
  protected readonly busy = signal(false);
  protected readonly total = computed(() => this.assets()?.reduce((sum, a) => sum + a.size, 0) ?? 0);

  protected isPicture(asset: AssetView): boolean {
    return asset.type.startsWith('image/');
  }

  protected readonly size = fileSize;

  protected drop(event: DragEvent): void {
    event.preventDefault();
    void this.bringIn(event.dataTransfer?.files ?? null);
  }

  protected async bringIn(files: FileList | null): Promise<void> {
    this.busy.set(true);
    try {
      for (const file of files ?? []) await firstValueFrom(this.service.addAsset(file));
    } catch (error) {
      this.notices.failure(error);
    } finally {
      this.busy.set(false);
    }
  }

  protected remove(asset: AssetView): void {
    this.service.removeAsset(asset.id).subscribe({
      next: () => this.notices.say(texts.wasDeletedFromTheLibrary(asset.name)),
      error: (error: unknown) => this.notices.failure(error),
    });
  }
}
