import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatFormField, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { Router, RouterLink } from '@angular/router';
import type { CampaignSummary, PatternView } from '@baton/contract';
import { rateRange, reachedOf } from '@baton/core';
import { firstValueFrom } from 'rxjs';
import { WorkspaceTime } from '../time/workspace-time';
import { LiveUpdates } from '../live/live-updates';
import { Notices } from '../live/notices';
import { CampaignsService } from './campaigns-service';
import { NewCampaigns } from './new-campaigns';
import { ProgressLine } from './progress-line';
import { percentOf } from '../results/results-words';
import { typedText } from '../look/event-input';
import { campaignsTexts } from './texts';

const texts = campaignsTexts.campaigns;

/** Every campaign as one line: its people, its end. */
@Component({
  selector: 'bt-campaigns',
  imports: [MatButton, MatFormField, MatLabel, MatInput, RouterLink, ProgressLine],
  templateUrl: './campaigns.html',
  styleUrl: './campaigns.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Campaigns {
  private readonly time = inject(WorkspaceTime);
  protected readonly texts = texts;
  protected readonly states = campaignsTexts.states;
  protected readonly typedText = typedText;
  private readonly service = inject(CampaignsService);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly newCampaigns = inject(NewCampaigns);
  protected readonly campaigns = inject(LiveUpdates).view(['campaigns', 'progress'], () => this.service.all());
  private readonly kept = inject(LiveUpdates).view(['campaigns', 'messages'], () => this.service.patterns());
  protected readonly patterns = computed(() => (this.kept() ?? []).map((p) => ({ ...p, words: patternWords(p) })));
  protected readonly name = signal('');

  protected ends(c: CampaignSummary): string {
    if (c.state === 'draft') return texts.onTheList(c.people);
    if (c.lastDay === null) return texts.nothingPlanned;
    return `${c.state === 'finished' ? texts.ended : texts.ends} ${this.time.dayWords(c.lastDay)}`;
  }

  /** How many of those reached have replied, with the range; '' before anybody has been reached. */
  protected replied({ results }: CampaignSummary): string {
    if (results === null || reachedOf(results) === 0) return '';
    const { rate, low, high } = rateRange(results.replied, reachedOf(results));
    return texts.replied(percentOf(rate), percentOf(low), percentOf(high));
  }

  protected tone(c: CampaignSummary): string {
    return { draft: 'look', running: 'sea', held: 'bad', finished: '' }[c.state];
  }

  protected beginFrom({ id }: PatternView): void {
    void this.newCampaigns.begin({ kind: 'pattern', patternId: id });
  }

  protected async remove({ id, name }: PatternView): Promise<void> {
    try {
      await firstValueFrom(this.service.removePattern(id));
      this.notices.offer(texts.patternDeleted(name), texts.undo, 15_000, () =>
        this.service.restorePattern(id).subscribe({ error: (error: unknown) => this.notices.failure(error) }),
      );
    } catch (error) {
      this.notices.failure(error);
    }
  }

  protected async begin(event: Event): Promise<void> {
    event.preventDefault();
    try {
      const { id } = await firstValueFrom(this.service.add({ name: this.name().trim() }));
      await this.router.navigate(['/campaigns', id]);
    } catch (error) {
      this.notices.failure(error);
    }
  }
}

/** The messages of a pattern, and how long each waits. */
const patternWords = ({ steps }: PatternView): string =>
  steps
    .map(({ message, delay }, i) => {
      const name = message ?? texts.noMessageAnyMore;
      return i === 0 ? name : texts.daysLater(delay, name);
    })
    .join('; ');
