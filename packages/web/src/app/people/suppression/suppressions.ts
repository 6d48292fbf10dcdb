import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatFormField, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import type { SuppressionView } from '@baton/contract';
import { debounceTime, firstValueFrom } from 'rxjs';
import { LiveUpdates } from '../../live/live-updates';
import { Notices } from '../../live/notices';
import { sentenceOf } from '../../live/sentence-of';
import { MomentPipe } from '../../time/workspace-time';
import { ListRail } from '../list/list-rail';
import { PeopleService } from '../person/people-service';
import { typedText } from '../../look/event-input';
import { peopleSuppressionTexts } from './texts';

const texts = peopleSuppressionTexts.suppressions;

const SEARCH_PAUSE_MS = 150;
/** Of the lines of a file that were not taken, those that are named. */
const ASIDE_SAID = 5;

/** Addresses and domains that get nothing, whatever else says so. */
@Component({
  selector: 'bt-suppressions',
  imports: [ListRail, MatButton, MatFormField, MatLabel, MatInput, MomentPipe],
  templateUrl: './suppressions.html',
  styleUrl: './suppressions.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Suppressions {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  private readonly people = inject(PeopleService);
  private readonly notices = inject(Notices);
  protected readonly search = signal('');
  protected readonly list = inject(LiveUpdates).viewOf(
    toObservable(this.search).pipe(debounceTime(SEARCH_PAUSE_MS)),
    ['people'],
    (search) => this.people.suppressions(search),
  );
  /** How many there are, and how many of them are seen. */
  protected readonly words = computed(() => {
    const list = this.list();
    if (!list || list.total === 0) return '';
    const shown = list.found > list.entries.length ? texts.showingTheNewest(list.entries.length) : '';
    return list.found === list.total
      ? texts.onTheList(list.total, shown)
      : texts.foundOf(list.found, list.total, shown);
  });
  protected readonly what = signal('');
  protected readonly reason = signal('');
  protected readonly problem = signal('');
  /** The entry about to be taken off, until the person has said yes. */
  protected readonly leaving = signal<number | null>(null);

  protected async add(event: Event): Promise<void> {
    event.preventDefault();
    try {
      await firstValueFrom(this.people.suppress(this.what(), this.reason()));
      this.notices.say(texts.isSuppressedFromNowOn(this.what().trim()));
      this.what.set('');
      this.reason.set('');
      this.problem.set('');
    } catch (error) {
      this.problem.set(sentenceOf(error));
    }
  }

  protected async takeFile(input: HTMLInputElement): Promise<void> {
    const file = input.files?.[0];
    input.value = '';
    if (!file) return;
    try {
      const done = await firstValueFrom(this.people.importSuppressions(file.name, file));
      const more = done.asideTotal > ASIDE_SAID ? texts.andMore(done.asideTotal - ASIDE_SAID) : '';
      const first = done.aside.slice(0, ASIDE_SAID).map((a) => texts.line(a.line, a.reason));
      this.problem.set(first.length === 0 ? '' : texts.notImported(first.join('; '), more));
      this.notices.say(texts.addedAlreadyOnTheList(done.added, done.known));
    } catch (error) {
      this.problem.set(sentenceOf(error));
    }
  }

  protected async remove(entry: SuppressionView): Promise<void> {
    if (this.leaving() !== entry.id) {
      this.leaving.set(entry.id);
      return;
    }
    this.leaving.set(null);
    try {
      await firstValueFrom(this.people.unsuppress(entry.id));
      this.notices.say(texts.mayBeWrittenToAgain(entry.key));
    } catch (error) {
      this.notices.failure(error);
    }
  }
}
