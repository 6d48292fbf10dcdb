import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { SAYABLE_KINDS, type IncomingView, type SayableKind } from '@baton/contract';
import { incomingEntry } from '@baton/core';
import { firstValueFrom, tap, type Observable } from 'rxjs';
import { Notices } from '../live/notices';
import { typedText } from '../look/event-input';
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
    const isMoved = kind === 'address_changed';
    const who = [name, role, address].filter((part) => part !== null).join(', ');
    return { address, name: name ?? '', isMoved, words: isMoved ? texts.newAddress(address) : texts.names(who) };
  });
  /** Whether a person has said that somebody else is meant, whom the message does not name. */
  protected readonly asksWho = computed(() => this.reply().outcome === 'wrong_person' && this.named() === null);
  protected readonly other = signal({ name: '', address: '' });
  protected readonly whose = signal('');

  undo(): Promise<void> {
    return this.reply().canUndo ? this.tell(this.service.undo(this.reply().id)) : Promise.resolve();
  }

  protected releaseColleagues(): Promise<void> {
    return this.tell(this.service.releaseColleagues(this.reply().id));
  }

  protected say(kind: SayableKind): Promise<void> {
    return this.tell(this.service.setKind(this.reply().id, kind));
  }

  protected belongs(address: string | null): Promise<void> {
    return this.tell(this.service.setPerson(this.reply().id, address));
  }

  protected readonly typedText = typedText;

  protected assign(event: Event): Promise<void> {
    event.preventDefault();
    return this.belongs(this.whose().trim());
  }

  protected async takeOntoList({ address, name }: { address: string; name: string }): Promise<void> {
    await this.tell(
      this.service
        .takeOntoList(this.reply().id, { address, name })
        .pipe(tap(({ list }) => this.notices.say(texts.isOnList(address, list)))),
    );
  }

  protected async takeOther(event: Event): Promise<void> {
    event.preventDefault();
    const { name, address } = this.other();
    await this.takeOntoList({ name: name.trim(), address: address.trim() });
  }

  protected async changeAddress(address: string): Promise<void> {
    await this.tell(
      this.service
        .changeAddress(this.reply().id, address)
        .pipe(tap(({ list }) => this.notices.say(texts.isChanged(address, list)))),
    );
  }

  private async tell(asked: Observable<unknown>): Promise<void> {
    try {
      await firstValueFrom(asked, { defaultValue: null });
    } catch (error) {
      this.notices.failure(error);
    }
  }
}
