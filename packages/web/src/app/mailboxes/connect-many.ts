import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { ConnectedLine } from '@baton/contract';
import { readMailboxFile } from '@baton/core';
import { firstValueFrom } from 'rxjs';
import { Notices } from '../live/notices';
import { sentenceOf } from '../live/sentence-of';
import { MailboxesService } from './mailboxes-service';
import { typedText } from '../look/event-input';

const EXAMPLE = 'address,password,sender name,quota\nines@tidewaterkelp.example,app password,Ines Aldrich,60';

/** Many mailboxes from one file, each tested for real. */
@Component({
  selector: 'bt-connect-many',
  imports: [MatButton, RouterLink],
  templateUrl: './connect-many.html',
  styleUrl: './connect-many.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConnectMany {
  protected readonly typedText = typedText;
  private readonly service = inject(MailboxesService);
  private readonly notices = inject(Notices);
  protected readonly example = EXAMPLE;
  protected readonly text = signal('');
  protected readonly busy = signal(false);
  protected readonly lines = signal<ConnectedLine[] | null>(null);

  /** What the text holds, before anything is tried. */
  protected readonly read = computed(() => {
    if (this.text().trim() === '') return null;
    try {
      return { ...readMailboxFile(this.text()), fault: '' };
    } catch (error) {
      return { mailboxes: [], aside: [], fault: sentenceOf(error) };
    }
  });
  protected readonly working = computed(() => this.lines()?.filter((l) => l.ok).length ?? 0);

  protected async choose(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    input.value = '';
    if (file) this.type(await file.text());
  }

  protected type(text: string): void {
    this.text.set(text);
    this.lines.set(null);
  }

  protected async connect(): Promise<void> {
    this.busy.set(true);
    try {
      this.lines.set(await firstValueFrom(this.service.connectMany(this.text())));
    } catch (error) {
      this.notices.failure(error);
    } finally {
      this.busy.set(false);
    }
  }
}
