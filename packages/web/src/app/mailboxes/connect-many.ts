import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { ConnectedLine } from '@baton/contract';
import { readMailboxFile } from '@baton/core';
import { firstValueFrom } from 'rxjs';
import { Notices } from '../live/notices';
import { sentenceOf } from '../live/sentence-of';
import { MailboxesService } from './mailboxes-service';
import { chosenFile, typedText } from '../look/event-input';
import { mailboxesTexts } from './texts';

const texts = mailboxesTexts.connectMany;

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
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  protected readonly chosenFile = chosenFile;
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
  /** What became of each row; before anything is tried, those that cannot be read. */
  protected readonly results = computed<ConnectedLine[]>(
    () =>
      this.lines() ??
      (this.read()?.aside ?? []).map(({ line, address, reason }) => ({ line, address, ok: false, words: reason })),
  );
  protected readonly working = computed(() => this.lines()?.filter((l) => l.ok).length ?? 0);
  protected readonly failed = computed(() => (this.lines()?.length ?? 0) - this.working());

  protected async choose(file: File | null): Promise<void> {
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
