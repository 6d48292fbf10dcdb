import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { SAYABLE_KINDS, type IncomingView, type SayableKind } from '@baton/contract';
import { incomingEntry } from '@baton/core';
import { firstValueFrom, type Observable } from 'rxjs';
import { Notices } from '../live/notices';
import { RepliesService } from './replies-service';
import { repliesTexts } from './texts';

const texts = repliesTexts.decided;

/** What Baton decided about a message that came in, with its reasons, and where a person sets it right. */
@Component({
  selector: 'bt-decided',
  imports: [MatButton, MatMenu, MatMenuItem, MatMenuTrigger],
  templateUrl: './decided.html',
  styleUrl: './decided.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Decided {
  protected readonly texts = texts;
  private readonly service = inject(RepliesService);
  private readonly notices = inject(Notices);
  readonly reply = input.required<IncomingView>();

  protected readonly isUnsure = computed(() => this.reply().match === 'unsure');
  protected readonly isUnmatched = computed(() => this.reply().match === null && this.reply().kind !== 'noise');
  protected readonly readAs = computed(() => {
    const { readAs, kind } = this.reply();
    return readAs === null || readAs === kind ? null : texts.readAs(incomingEntry(readAs).words);
  });
  protected readonly serverSaid = computed(() => {
    const { serverWords, code } = this.reply().details;
    const words = serverWords ?? code ?? null;
    return words === null ? null : texts.serverSaid(words);
  });
  protected readonly otherKinds = computed(() =>
    SAYABLE_KINDS.filter((kind) => kind !== this.reply().kind).map((kind) => ({ kind, words: texts.kinds[kind] })),
  );
  /** Whom the message names to write to instead, where an address is known. */
  protected readonly named = computed(() => {
    const { details, kind, match } = this.reply();
    const contact = details.contact;
    if (!contact?.address || match === null) return null;
    const { name, address, role } = contact;
    const who = [name, role, address].filter((part) => part !== null).join(', ');
    return {
      address,
      name: name ?? '',
      words: kind === 'address_changed' ? texts.newAddress(address) : texts.names(who),
    };
  });
  protected readonly whose = signal('');

  undo(): Promise<void> {
    return this.reply().canUndo ? this.tell(this.service.undo(this.reply().id)) : Promise.resolve();
  }

  protected say(kind: SayableKind): Promise<void> {
    return this.tell(this.service.setKind(this.reply().id, kind));
  }

  protected belongs(address: string | null): Promise<void> {
    return this.tell(this.service.setPerson(this.reply().id, address));
  }

  protected typed(event: Event): void {
    this.whose.set((event.target as HTMLInputElement).value);
  }

  protected assign(event: Event): Promise<void> {
    event.preventDefault();
    return this.belongs(this.whose().trim());
  }

  protected async takeOntoList(named: { address: string; name: string }): Promise<void> {
    try {
      const { list } = await firstValueFrom(this.service.takeOntoList(this.reply().id, named));
      this.notices.say(texts.isOnList(named.address, list));
    } catch (error) {
      this.notices.failure(error);
    }
  }

  private async tell(asked: Observable<unknown>): Promise<void> {
    try {
      await firstValueFrom(asked);
    } catch (error) {
      this.notices.failure(error);
    }
  }
}
