import { CdkOverlayOrigin } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { CellsChanged, FileFormat, FillWith } from '@baton/contract';
import type { ListColumn, ListQuery } from '@baton/core';
import { concatMap, map, of, tap, type Observable } from 'rxjs';
import { NewCampaigns } from '../../../campaigns/new-campaigns';
import { Notices } from '../../../live/notices';
import { Below } from '../../../look/below';
import { saveFile } from '../../../look/save-file';
import { ListsService } from '../lists-service';
import type { Meant } from './picked-rows';
import { chosenOption, isTicked, typedText } from '../../../look/event-input';
import { peopleListTexts } from '../texts';
import { Panel } from '../../../look/panel';

const texts = peopleListTexts.rowActions;

/** What can be done with the rows meant; every button says which and how many these are. */
@Component({
  selector: 'bt-row-actions',
  imports: [MatButton, Below, CdkOverlayOrigin, Panel],
  template: `
    @if (removed()) {
      <button matButton="filled" [disabled]="meant().count === 0" (click)="bringBack()">
        {{ texts.restore(meant().words) }}
      </button>
    } @else {
      <button matButton="outlined" [disabled]="meant().count === 0" (click)="writeTo()">
        {{ texts.writeTo(meant().words) }}
      </button>
      <button
        matButton="outlined"
        cdkOverlayOrigin
        #tag="cdkOverlayOrigin"
        [disabled]="meant().count === 0"
        (click)="open.set('tag')"
      >
        {{ texts.tag(meant().words) }}
      </button>
      <button
        matButton="outlined"
        cdkOverlayOrigin
        #fill="cdkOverlayOrigin"
        [disabled]="meant().count === 0"
        (click)="open.set('fill')"
      >
        {{ texts.fillIn(meant().words) }}
      </button>
      <button
        matButton="outlined"
        cdkOverlayOrigin
        #save="cdkOverlayOrigin"
        [disabled]="meant().count === 0"
        (click)="open.set('save')"
      >
        {{ texts.export(meant().words) }}
      </button>
      <button matButton="outlined" [disabled]="meant().count === 0" (click)="takeOff()">
        {{ texts.remove(meant().words) }}
      </button>
      <ng-template
        [btBelow]="open() === 'tag' ? tag : open() === 'fill' ? fill : save"
        [btBelowOpen]="open() !== null"
        (pressedBeside)="open.set(null)"
      >
        <div [btPanel]="title()" (closed)="open.set(null)">
          <section>
            @if (open() === 'tag') {
              <label class="line"
                >{{ texts.tagLabel }}&ngsp;<input
                  maxlength="60"
                  [value]="value()"
                  (input)="value.set(typedText($event))"
                  (keydown.enter)="putTag('tag')"
              /></label>
              <div class="pair">
                <button matButton="filled" [disabled]="value().trim() === ''" (click)="putTag('tag')">
                  {{ texts.addTo(meant().words) }}
                </button>
                <button matButton="outlined" [disabled]="value().trim() === ''" (click)="putTag('untag')">
                  {{ texts.removeTag }}
                </button>
              </div>
            } @else if (open() === 'save') {
              <label class="line"
                >{{ texts.as }}&ngsp;<select [value]="format()" (change)="format.set(chosenOption($event))">
                  <option value="csv">{{ texts.csv }}</option>
                  <option value="tsv">{{ texts.tsv }}</option>
                  <option value="xlsx">{{ texts.aSheetXlsx }}</option>
                  <option value="ods">{{ texts.aSheetOds }}</option>
                  <option value="vcard">{{ texts.vCards }}</option>
                </select></label
              >
              @if (format() !== 'vcard') {
                <label class="check"
                  ><input
                    type="checkbox"
                    class="bare"
                    [checked]="outcomes()"
                    (change)="outcomes.set(isTicked($event))"
                  />{{ texts.withOutcomes }}</label
                >
              }
              <button matButton="filled" (click)="saveFile()">{{ texts.export(meant().words) }}</button>
            } @else {
              <label class="line"
                >{{ texts.column }}&ngsp;<select [value]="key()" (change)="chosen.set(typedText($event))">
                  @for (c of fillable(); track c.key) {
                    <option [value]="c.key" [selected]="c.key === key()">{{ c.name }}</option>
                  }
                </select></label
              >
              <label class="line"
                >{{ texts.value }}&ngsp;<input
                  [value]="value()"
                  (input)="value.set(typedText($event))"
                  (keydown.enter)="fillAll()"
              /></label>
              <button matButton="filled" [disabled]="fillable().length === 0" (click)="fillAll()">
                {{ value().trim() === '' ? texts.clearItIn : texts.fillInValue }} {{ meant().words }}
              </button>
            }
          </section>
        </div>
      </ng-template>
    }
  `,
  styleUrl: './panel.scss',
  styles: `
    :host {
      display: flex;
      gap: 8px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RowActions {
  protected readonly texts = texts;
  protected readonly chosenOption = chosenOption;
  protected readonly isTicked = isTicked;
  protected readonly typedText = typedText;
  private readonly lists = inject(ListsService);
  private readonly notices = inject(Notices);
  private readonly campaigns = inject(NewCampaigns);
  readonly listId = input.required<number>();
  /** Of the list: what a file of it is called. */
  readonly name = input.required<string>();
  readonly columns = input.required<ListColumn[]>();
  /** In whose order rows are saved. */
  readonly query = input.required<ListQuery>();
  readonly meant = input.required<Meant>();
  readonly removed = input.required<boolean>();
  /** A change of rows whose answer the page waits for. */
  readonly changed = output();

  protected readonly open = signal<'tag' | 'fill' | 'save' | null>(null);
  /** What the panel is, as the button that opens it says. */
  protected readonly title = computed(() => {
    const { words } = this.meant();
    const open = this.open();
    return open === 'tag' ? texts.tag(words) : open === 'fill' ? texts.fillIn(words) : texts.export(words);
  });
  protected readonly value = signal('');
  protected readonly format = signal<FileFormat>('csv');
  protected readonly outcomes = signal(false);
  protected readonly chosen = signal('');
  protected readonly fillable = computed(() =>
    this.columns().filter((c) => c.role !== 'address' && c.formula === null && !c.hidden),
  );
  protected readonly key = computed(
    () => this.fillable().find((c) => c.key === this.chosen())?.key ?? this.fillable()[0]?.key ?? '',
  );

  /** A new campaign for them. */
  protected writeTo(): void {
    void this.campaigns.begin({ kind: 'rows', listId: this.listId(), choice: this.meant().choice }, this.name());
  }

  protected putTag(kind: 'tag' | 'untag'): void {
    const value = this.value().trim();
    if (value === '') return;
    const words = this.meant().words;
    this.run(
      this.tagColumn().pipe(concatMap((key) => this.fill(key, { kind, value }))),
      kind === 'tag' ? texts.addedTo(value, words) : texts.removedFrom(value, words),
    );
  }

  /** The column of tags; made where the list has none. */
  private tagColumn(): Observable<string> {
    const own = this.columns().find((c) => c.kind === 'tags');
    if (own) return of(own.key);
    return this.lists
      .addColumn(this.listId(), { name: texts.tags, kind: 'tags', formula: null, after: null })
      .pipe(map(() => 'tags'));
  }

  protected fillAll(): void {
    const name = this.fillable().find((c) => c.key === this.key())?.name ?? '';
    this.run(this.fill(this.key(), { kind: 'set', value: this.value() }), texts.filledInFor(name, this.meant().words));
  }

  private fill(key: string, fill: FillWith): Observable<CellsChanged> {
    return this.lists.fill(this.listId(), this.meant().choice, key, fill);
  }

  protected saveFile(): void {
    const { choice } = this.meant();
    const what = 'rows' in choice ? choice : { query: this.query() };
    const format = this.format();
    this.open.set(null);
    this.lists.file(this.listId(), what, format, this.outcomes()).subscribe({
      next: (file) => saveFile(file, `${this.name()}.${format === 'vcard' ? 'vcf' : format}`),
      error: (error: unknown) => this.notices.failure(error),
    });
  }

  protected takeOff(): void {
    const { choice, count } = this.meant();
    this.run(
      this.lists.removeRows(this.listId(), choice).pipe(
        tap(({ stillWrittenTo: n }) => {
          const still = n === 0 ? '' : texts.aCampaignStillWritesTo(n);
          this.notices.say(texts.removedFromTheList(count, still));
        }),
      ),
      null,
    );
  }

  protected bringBack(): void {
    this.run(
      this.lists
        .restoreRows(this.listId(), this.meant().choice)
        .pipe(
          tap(({ changed, refused }) =>
            this.notices.say(
              refused[0]
                ? texts.restored(
                    changed,
                    refused[0].reason,
                    refused.length > 1 ? texts.andMore(refused.length - 1) : '',
                  )
                : texts.restoredAll(changed),
            ),
          ),
        ),
      null,
    );
  }

  private run(request: Observable<unknown>, words: string | null): void {
    this.open.set(null);
    request.subscribe({
      next: () => {
        if (words !== null) this.notices.say(words);
        this.value.set('');
        this.changed.emit();
      },
      error: (error: unknown) => this.notices.failure(error),
    });
  }
}
