import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogRef } from '@angular/material/dialog';
import { toSignal } from '@angular/core/rxjs-interop';
import { contentText, type MessageContent } from '@baton/core';
import { diffWordsWithSpace } from 'diff';
import { DIALOG_PARTS } from '../look/dialog-parts';
import { MomentPipe } from '../time/workspace-time';
import { MessagesService } from './messages-service';
import { messagesTexts } from './texts';

const texts = messagesTexts.versions;

/** What a message was before, beside what it is. Closes with the content to go back to, or with nothing. */
@Component({
  selector: 'bt-versions',
  imports: [DIALOG_PARTS, MomentPipe],
  templateUrl: './versions.html',
  styles: `
    mat-dialog-content {
      display: grid;
      grid-template-columns: 190px minmax(0, 1fr);
      gap: 18px;
    }
    nav {
      display: grid;
      align-content: start;
      button {
        padding: 6px 8px;
        border: 0;
        background: none;
        text-align: left;
        cursor: pointer;
      }
      [aria-pressed='true'] {
        background: var(--brass-soft);
        font-weight: 600;
      }
    }
    pre {
      margin: 0;
      max-height: 420px;
      overflow: auto;
      font: 14px/1.55 var(--sans);
      white-space: pre-wrap;
    }
    ins {
      background: var(--moss-soft);
      text-decoration: none;
    }
    del {
      background: var(--brick-soft);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Versions {
  protected readonly texts = texts;
  private readonly service = inject(MessagesService);
  private readonly ref = inject<MatDialogRef<Versions, MessageContent>>(MatDialogRef);
  protected readonly data = inject<{ id: number; content: MessageContent }>(MAT_DIALOG_DATA);
  protected readonly versions = toSignal(this.service.versions(this.data.id));
  protected readonly chosen = signal(0);
  protected readonly version = computed(() => this.versions()?.[this.chosen()]);
  /** What has come into the message since then, and what has gone. */
  protected readonly parts = computed(() => {
    const version = this.version();
    return version ? diffWordsWithSpace(contentText(version.content), contentText(this.data.content)) : [];
  });

  protected goBack(): void {
    const version = this.version();
    if (version) this.ref.close(version.content);
  }
}
