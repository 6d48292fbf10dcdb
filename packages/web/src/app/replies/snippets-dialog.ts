import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA } from '@angular/material/dialog';
import type { SnippetView } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { sentenceOf } from '../live/sentence-of';
import { DIALOG_PARTS } from '../look/dialog-parts';
import { typedText } from '../look/event-input';
import { RepliesService } from './replies-service';
import { repliesTexts } from './texts';

const texts = repliesTexts.snippets;

/** The message at hand, and a text to begin a new snippet with. */
export interface SnippetsAsked {
  replyId: number;
  text: string;
}

/** Texts for answers: written, changed, and taken away. */
@Component({
  selector: 'bt-snippets-dialog',
  imports: [...DIALOG_PARTS],
  templateUrl: './snippets-dialog.html',
  styleUrl: './snippets-dialog.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SnippetsDialog {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  private readonly service = inject(RepliesService);
  private readonly asked = inject<SnippetsAsked>(MAT_DIALOG_DATA);
  protected readonly all = signal<SnippetView[]>([]);
  /** The one at hand; null for a new one. */
  protected readonly at = signal<number | null>(null);
  protected readonly name = signal('');
  protected readonly text = signal(this.asked.text);
  protected readonly problem = signal('');
  protected readonly isWhole = computed(() => this.name().trim() !== '' && this.text().trim() !== '');
  /** How the one at hand reads for the person, as it was last saved. */
  protected readonly reads = computed(() => {
    const kept = this.all().find((s) => s.id === this.at());
    return kept && kept.text === this.text() ? (kept.filled ?? kept.problem) : '';
  });

  constructor() {
    void this.load();
  }

  protected choose(snippet: SnippetView | null): void {
    this.at.set(snippet?.id ?? null);
    this.name.set(snippet?.name ?? '');
    this.text.set(snippet?.text ?? '');
    this.problem.set('');
  }

  protected async save(): Promise<void> {
    const name = this.name().trim();
    const renamed = this.all().find((s) => s.id === this.at() && s.name !== name);
    await this.tell(async () => {
      const { id } = await firstValueFrom(this.service.keepSnippet(name, this.text()));
      if (renamed) await firstValueFrom(this.service.removeSnippet(renamed.id));
      await this.load();
      this.at.set(id);
    });
  }

  protected async remove(id: number): Promise<void> {
    await this.tell(async () => {
      await firstValueFrom(this.service.removeSnippet(id));
      await this.load();
      this.choose(null);
    });
  }

  private async load(): Promise<void> {
    await this.tell(async () => this.all.set(await firstValueFrom(this.service.snippets(this.asked.replyId))));
  }

  private async tell(work: () => Promise<void>): Promise<void> {
    try {
      await work();
      this.problem.set('');
    } catch (error) {
      this.problem.set(sentenceOf(error));
    }
  }
}
