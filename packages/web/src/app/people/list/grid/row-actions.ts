import { CdkConnectedOverlay, CdkOverlayOrigin } from '@angular/cdk/overlay';
import { A11yModule } from '@angular/cdk/a11y';
import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import type { CellsChanged, FileFormat, FillWith } from '@baton/contract';
import type { ListColumn, ListQuery } from '@baton/core';
import { concatMap, map, of, tap, type Observable } from 'rxjs';
import { Notices } from '../../../live/notices';
import { BELOW } from '../../../look/below';
import { saveFile } from '../../../look/save-file';
import { ListsService } from '../lists-service';
import type { Meant } from './picked-rows';
import { chosenOption, isTicked, typedText } from '../../../look/event-input';

/** What can be done with the rows meant; every button says which and how many these are. */
@Component({
  selector: 'bt-row-actions',
  imports: [MatButton, CdkConnectedOverlay, CdkOverlayOrigin, A11yModule],
  template: `
    @if (removed()) {
      <button matButton="filled" [disabled]="meant().count === 0" (click)="bringBack()">
        Restore {{ meant().words }}
      </button>
    } @else {
      <button
        matButton="outlined"
        cdkOverlayOrigin
        #tag="cdkOverlayOrigin"
        [disabled]="meant().count === 0"
        (click)="open.set('tag')"
      >
        Tag {{ meant().words }}
      </button>
      <button
        matButton="outlined"
        cdkOverlayOrigin
        #fill="cdkOverlayOrigin"
        [disabled]="meant().count === 0"
        (click)="open.set('fill')"
      >
        Fill in {{ meant().words }}
      </button>
      <button
        matButton="outlined"
        cdkOverlayOrigin
        #save="cdkOverlayOrigin"
        [disabled]="meant().count === 0"
        (click)="open.set('save')"
      >
        Export {{ meant().words }}
      </button>
      <button matButton="outlined" [disabled]="meant().count === 0" (click)="takeOff()">
        Remove {{ meant().words }}
      </button>
      <ng-template
        cdkConnectedOverlay
        [cdkConnectedOverlayOpen]="open() !== null"
        [cdkConnectedOverlayOrigin]="open() === 'tag' ? tag : open() === 'fill' ? fill : save"
        [cdkConnectedOverlayPositions]="below"
        [cdkConnectedOverlayHasBackdrop]="true"
        cdkConnectedOverlayBackdropClass="cdk-overlay-transparent-backdrop"
        (backdropClick)="open.set(null)"
      >
        <div class="panel" role="dialog" cdkTrapFocus cdkTrapFocusAutoCapture (keydown.escape)="open.set(null)">
          <section>
            @if (open() === 'tag') {
              <label class="line"
                >Tag&ngsp;<input
                  maxlength="60"
                  [value]="value()"
                  (input)="value.set(typedText($event))"
                  (keydown.enter)="putTag('tag')"
              /></label>
              <div class="pair">
                <button matButton="filled" [disabled]="value().trim() === ''" (click)="putTag('tag')">
                  Add to {{ meant().words }}
                </button>
                <button matButton="outlined" [disabled]="value().trim() === ''" (click)="putTag('untag')">
                  Remove
                </button>
              </div>
            } @else if (open() === 'save') {
              <label class="line"
                >As&ngsp;<select [value]="format()" (change)="format.set(chosenOption($event))">
                  <option value="csv">CSV</option>
                  <option value="xlsx">a sheet (XLSX)</option>
                  <option value="vcard">vCards</option>
                </select></label
              >
              @if (format() !== 'vcard') {
                <label class="check"
                  ><input
                    type="checkbox"
                    class="bare"
                    [checked]="outcomes()"
                    (change)="outcomes.set(isTicked($event))"
                  />with outcomes</label
                >
              }
              <button matButton="filled" (click)="saveFile()">Export {{ meant().words }}</button>
            } @else {
              <label class="line"
                >Column&ngsp;<select [value]="key()" (change)="chosen.set(typedText($event))">
                  @for (c of fillable(); track c.key) {
                    <option [value]="c.key" [selected]="c.key === key()">{{ c.name }}</option>
                  }
                </select></label
              >
              <label class="line"
                >Value&ngsp;<input [value]="value()" (input)="value.set(typedText($event))" (keydown.enter)="fillAll()"
              /></label>
              <button matButton="filled" [disabled]="fillable().length === 0" (click)="fillAll()">
                {{ value().trim() === '' ? 'Clear it in' : 'Fill in' }} {{ meant().words }}
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
  protected readonly chosenOption = chosenOption;
  protected readonly isTicked = isTicked;
  protected readonly typedText = typedText;
  private readonly lists = inject(ListsService);
  private readonly notices = inject(Notices);
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
  protected readonly below = BELOW;

  protected putTag(kind: 'tag' | 'untag'): void {
    const value = this.value().trim();
    if (value === '') return;
    const words = this.meant().words;
    this.run(
      this.tagColumn().pipe(concatMap((key) => this.fill(key, { kind, value }))),
      kind === 'tag' ? `Added “${value}” to ${words}.` : `Removed “${value}” from ${words}.`,
    );
  }

  /** The column of tags; made where the list has none. */
  private tagColumn(): Observable<string> {
    const own = this.columns().find((c) => c.kind === 'tags');
    if (own) return of(own.key);
    return this.lists
      .addColumn(this.listId(), { name: 'tags', kind: 'tags', formula: null, after: null })
      .pipe(map(() => 'tags'));
  }

  protected fillAll(): void {
    const name = this.fillable().find((c) => c.key === this.key())?.name ?? '';
    this.run(
      this.fill(this.key(), { kind: 'set', value: this.value() }),
      `Filled in ${name} for ${this.meant().words}.`,
    );
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
    const { choice, words } = this.meant();
    const people = this.meant().count === 1 ? 'person' : 'people';
    this.run(
      this.lists.removeRows(this.listId(), choice).pipe(
        tap(({ stillWrittenTo: n }) => {
          const still = n === 0 ? '' : ` A campaign still writes to ${n} of them; hold it or stop them there.`;
          this.notices.say(`Removed from the list: ${words} ${people}. Ctrl+Z restores them.${still}`);
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
                ? `${changed} restored; ${refused[0].reason}${refused.length > 1 ? ` and ${refused.length - 1} more` : ''}.`
                : `${changed} restored.`,
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
