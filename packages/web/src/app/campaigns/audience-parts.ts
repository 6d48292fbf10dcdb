import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MOST_PARTS, type AudiencePart, type ListView, type SegmentView } from '@baton/contract';
import { takenOption } from '../look/event-input';
import { campaignsTexts } from './texts';

const texts = campaignsTexts.audienceParts;

/** A list, or one of its segments, as it is offered. */
interface Offered extends AudiencePart {
  key: string;
  name: string;
}

const keyOf = ({ listId, segmentId }: AudiencePart): string => `${listId}/${segmentId ?? ''}`;

/** Further lists whose people belong to an audience, or are left out of it. */
@Component({
  selector: 'bt-audience-parts',
  imports: [MatButton],
  template: `
    <label class="line"
      ><span>{{ label() }}</span>
      <select (change)="add($event)" [disabled]="isFull()">
        <option value="">{{ parts().length === 0 ? texts.none : texts.chooseAnother }}</option>
        @for (o of others(); track o.key) {
          <option [value]="o.key">{{ o.name }}</option>
        }
      </select></label
    >
    @for (o of chosen(); track o.key) {
      <div class="part">
        <span>{{ o.name }}</span>
        <button matButton [attr.aria-label]="texts.removeOne(o.name)" (click)="remove(o)">{{ texts.remove }}</button>
      </div>
    }
  `,
  styleUrls: ['./brief-lines.scss', './audience-parts.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class AudienceParts {
  protected readonly texts = texts;
  readonly label = input.required<string>();
  readonly parts = input.required<readonly AudiencePart[]>();
  /** What cannot be chosen here, as it is chosen elsewhere. */
  readonly taken = input.required<readonly AudiencePart[]>();
  readonly lists = input.required<readonly ListView[]>();
  readonly segments = input.required<readonly SegmentView[]>();
  readonly changed = output<AudiencePart[]>();

  private readonly offered = computed(() =>
    this.lists().flatMap(({ id: listId, name, people }): Offered[] => [
      { ...own({ listId, segmentId: null }), name: texts.list(name, people) },
      ...this.segments()
        .filter((s) => s.listId === listId)
        .map((s) => ({ ...own({ listId, segmentId: s.id }), name: texts.segment(name, s.name, s.people) })),
    ]),
  );
  protected readonly others = computed(() => {
    const taken = new Set([...this.parts(), ...this.taken()].map(keyOf));
    return this.offered().filter((o) => !taken.has(o.key));
  });
  protected readonly chosen = computed(() =>
    this.parts().map((part) => this.offered().find((o) => o.key === keyOf(part)) ?? { ...own(part), name: texts.gone }),
  );
  protected readonly isFull = computed(() => this.parts().length >= MOST_PARTS);

  protected add(event: Event): void {
    const key = takenOption(event);
    const part = this.offered().find((o) => o.key === key);
    if (part) this.changed.emit([...this.parts(), plain(part)]);
  }

  protected remove({ key }: Offered): void {
    this.changed.emit(this.parts().filter((p) => keyOf(p) !== key));
  }
}

const plain = ({ listId, segmentId }: AudiencePart): AudiencePart => ({ listId, segmentId });
const own = (part: AudiencePart) => ({ ...part, key: keyOf(part) });
