import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { Router, RouterLink, RouterLinkActive } from '@angular/router';
import type { MessageView, RemovedMessage } from '@baton/contract';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { chosenFile } from '../look/event-input';
import { MessagesService } from './messages-service';
import { messagesTexts } from './texts';

const texts = messagesTexts.messageList;

/** The messages there are, and those deleted that can come back. */
@Component({
  selector: 'bt-message-list',
  imports: [MatButton, RouterLink, RouterLinkActive],
  template: `
    <nav [attr.aria-label]="texts.messages">
      <a matButton="filled" routerLink="/messages/new">{{ texts.newMessage }}</a>
      <label class="upload"
        >{{ texts.importAMessage
        }}<input
          type="file"
          class="bare"
          accept=".eml,.html,.htm,.mjml,.txt,.zip"
          (change)="bringIn(chosenFile($event))"
      /></label>
      @for (m of messages(); track m.id) {
        <a class="item" [routerLink]="['/messages', m.id]" routerLinkActive="here" ariaCurrentWhenActive="page">
          <span>{{ m.name }}</span>
          @if (m.fault) {
            <span class="tag bad">{{ texts.hasAnError }}</span>
          } @else if (m.usedBy.length > 0) {
            <small class="quiet">{{ texts.in(m.usedBy.join(', ')) }}</small>
          }
        </a>
      } @empty {
        <p class="quiet">{{ texts.writeAMessageOnceAnd }}</p>
      }
      @if (removed()?.length) {
        <details>
          <summary>{{ texts.deleted(removed()?.length) }}</summary>
          @for (m of removed(); track m.id) {
            <div class="gone">
              <span>{{ m.name }}</span>
              <button class="choice" (click)="restore(m)">{{ texts.restore }}</button>
            </div>
          }
        </details>
      }
      <a class="item files" routerLink="/messages/library" routerLinkActive="here">{{ texts.filesAndPictures }}</a>
    </nav>
  `,
  styles: `
    :host {
      display: block;
      min-height: 0;
      overflow: auto;
      border-right: 1px solid var(--hairline);
    }
    nav {
      display: flex;
      flex-direction: column;
      min-height: 100%;
      padding: 14px 0;
    }
    a[matButton] {
      margin: 0 14px 4px;
    }
    .upload {
      margin: 0 14px 10px;
      padding: 4px 0;
      text-align: center;
    }
    .item {
      display: flex;
      flex-direction: column;
      align-items: flex-start;
      padding: 6px 14px;
      color: var(--ink);
      text-decoration: none;
      line-height: 1.3;
      small {
        display: -webkit-box;
        -webkit-line-clamp: 2;
        -webkit-box-orient: vertical;
        overflow: hidden;
      }
      &:hover {
        background: var(--paper-deep);
      }
      &.here {
        background: var(--brass-soft);
        span:first-child {
          font-weight: 600;
        }
      }
    }
    p,
    details {
      padding: 0 14px;
    }
    summary {
      padding: 6px 0;
      color: var(--ink-2);
      cursor: pointer;
    }
    .gone {
      display: grid;
      padding: 4px 0;
    }
    .files {
      margin-top: auto;
      color: var(--ink-2);
    }
    @media (max-width: 760px) {
      :host {
        border-right: 0;
        border-bottom: 1px solid var(--hairline);
      }
      nav {
        flex-direction: row;
        align-items: center;
        min-height: 0;
        padding: 4px 0;
        > * {
          flex: none;
        }
      }
      .item {
        width: 150px;
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MessageList {
  protected readonly texts = texts;
  protected readonly chosenFile = chosenFile;
  private readonly service = inject(MessagesService);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  readonly messages = input.required<MessageView[] | undefined>();
  protected readonly removed = inject(LiveUpdates).view(['messages'], () => this.service.removed());

  protected bringIn(file: File | null): void {
    if (!file) return;
    this.service.bringIn(file).subscribe({
      next: ({ id }) => void this.router.navigate(['/messages', id]),
      error: (error: unknown) => this.notices.failure(error),
    });
  }

  protected restore(message: RemovedMessage): void {
    this.service.restore(message.id).subscribe({
      next: () => void this.router.navigate(['/messages', message.id]),
      error: (error: unknown) => this.notices.failure(error),
    });
  }
}
