import {
  ChangeDetectionStrategy,
  ChangeDetectorRef,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  input,
  signal,
} from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatFormField, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { MatProgressBar } from '@angular/material/progress-bar';
import { Router } from '@angular/router';
import type { ImportColumn, ImportReading, ImportState, ImportView } from '@baton/contract';
import {
  COLUMN_KINDS,
  COLUMN_ROLES,
  type Cleaning,
  type ColumnKind,
  type ColumnRole,
  type PeopleFileKind,
} from '@baton/core';
import { catchError, firstValueFrom, of, type Observable } from 'rxjs';
import { LiveUpdates } from '../../live/live-updates';
import { Notices } from '../../live/notices';
import { onceAtATime } from '../../live/once-at-a-time';
import { sentenceOf } from '../../live/sentence-of';
import { ImportCleanings } from './import-cleanings';
import { ImportQuestions } from './import-questions';
import { KIND_NAMES } from './kind-names';
import { ListRail } from '../list/list-rail';
import { ListsService } from '../list/lists-service';
import { PeopleService } from '../person/people-service';
import { chosenOption, typedText } from '../../look/event-input';
import { peopleImportTexts } from './texts';
import { CountPipe } from '../../look/count-pipe';

const texts = peopleImportTexts.importPage;

const ROLE_WORDS: Record<ColumnRole, string> = {
  address: texts.address,
  given_name: texts.givenName,
  family_name: texts.familyName,
  full_name: texts.fullName,
  company: texts.company,
  title: texts.title,
  time_zone: texts.timeZoneOrPlace,
  send_on: texts.sendOnDate,
  verification: texts.verifiersResult,
  cc: texts.cc,
  bcc: texts.bcc,
  attachment: texts.attachment,
  picture: texts.picture,
  field: 'field',
  ignore: texts.ignore,
};
const KIND_WORDS: Record<PeopleFileKind, string> = {
  delimited: '',
  xlsx: texts.xlsxWorkbook,
  ods: texts.odsWorkbook,
  html: texts.htmlTable,
  vcard: texts.contactCards,
  json: texts.json,
  json_lines: texts.jsonLines,
  xml: texts.spreadsheetXml,
  free_text: texts.addressesFoundInText,
};
const DELIMITER_WORDS: Record<string, string> = {
  ',': texts.commas,
  ';': texts.semicolons,
  '\t': texts.tabs,
  '|': texts.bars,
};

const HOWS = [
  { how: 'add', words: texts.addNewPeopleOnly },
  { how: 'update', words: texts.addNewPeopleAndUpdate },
  { how: 'replace', words: texts.replaceTheList },
];
/** What a column is, as one choice of many. */
const choiceOf = ({ role, kind }: Pick<ImportColumn, 'role' | 'kind'>): string =>
  role === 'field' ? `${role}:${kind}` : role;

/** One page from a dropped file or pasted cells to a list: the sheet with the guesses over it, the counts below. */
@Component({
  selector: 'bt-import-page',
  imports: [
    CountPipe,
    ImportCleanings,
    ImportQuestions,
    ListRail,
    MatButton,
    MatFormField,
    MatLabel,
    MatInput,
    MatProgressBar,
  ],
  templateUrl: './import-page.html',
  styleUrl: './import-page.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ImportPage {
  protected readonly texts = texts;
  protected readonly chosenOption = chosenOption;
  protected readonly typedText = typedText;
  private readonly people = inject(PeopleService);
  private readonly listsService = inject(ListsService);
  private readonly live = inject(LiveUpdates);
  private readonly notices = inject(Notices);
  private readonly router = inject(Router);
  private readonly host = inject(ElementRef);
  private readonly changes = inject(ChangeDetectorRef);

  protected readonly view = signal<ImportView | null>(null);
  protected readonly name = signal('');
  protected readonly pasted = signal('');
  protected readonly problem = signal('');
  protected readonly busy = signal(false);
  protected readonly over = signal(false);
  protected readonly showAside = signal(false);
  /** When the last row set aside is mended, the sheet comes back by itself. */
  protected readonly asideShown = computed(() => this.showAside() && (this.view()?.aside.length ?? 0) > 0);
  /** What a column can be; a field is read in one of several ways. */
  protected readonly choices = COLUMN_ROLES.flatMap((role) =>
    role === 'field'
      ? COLUMN_KINDS.map((kind) => ({
          value: choiceOf({ role, kind }),
          words: kind === 'text' ? ROLE_WORDS.field : KIND_NAMES[kind],
          isField: true,
        }))
      : [{ value: choiceOf({ role, kind: 'text' }), words: ROLE_WORDS[role], isField: false }],
  );
  protected readonly choiceOf = choiceOf;
  protected readonly setAside = computed(() => {
    const counts = this.view()?.counts;
    return counts ? counts.invalid + counts.doubled : 0;
  });
  protected readonly goesToList = (listId: number): boolean => this.goesTo() === String(listId);
  protected readonly percentRead = computed(() => 100 * (this.view()?.progress?.share ?? 0));
  /** Whether the file has rows that are neither in the sheet nor set aside. */
  protected readonly hasMoreRows = computed(() => {
    const v = this.view();
    return v !== null && v.rows > v.sample.length + v.aside.length;
  });

  /** The list that the page was opened for, and the import that it is opened on, from the address. */
  readonly into = input<string>();
  readonly importId = input<string>();
  protected readonly lists = this.live.view(['people'], () => this.listsService.lists());
  protected readonly hows = HOWS;
  protected readonly goesTo = computed(() => {
    const into = this.view()?.into;
    return into?.kind === 'list' ? String(into.listId) : 'new';
  });
  protected readonly isBusy = computed(() => this.busy() || this.view()?.state === 'taking');
  protected readonly takeWords = computed(() => {
    const v = this.view();
    if (!v) return '';
    if (v.state === 'taking') return texts.importing;
    if (v.share < 1) {
      if (v.state === 'counted') return texts.import((v.effect?.added ?? 0) + (v.effect?.there ?? 0));
      return v.into.kind === 'list' ? texts.readAndCountTheWhole : texts.importAll;
    }
    const there = v.into.kind === 'list' && v.into.how === 'add' ? (v.effect?.there ?? 0) : 0;
    return texts.import(this.taken() - there);
  });
  protected readonly takingWords = computed(() => {
    const p = this.view()?.progress;
    if (!p) return texts.waitingForTheWorker;
    return p.step === 'reading'
      ? texts.rowsReadOfTheFile(p.rows, Math.floor(100 * p.share))
      : texts.rowsReadAddingThemTo(p.rows);
  });
  /** What it does to the list it goes into. */
  protected readonly effectWords = computed(() => {
    const v = this.view();
    const e = v?.effect;
    if (!v || !e || v.into.kind !== 'list') return '';
    const there = v.into.how === 'add' ? texts.stayAsTheyAre(e.there) : texts.willBeUpdated(e.there);
    const off = v.into.how === 'replace' ? texts.areNotInTheFile(e.off) : '';
    return texts.effect(e.added, there, off);
  });

  constructor() {
    // What is under way survives a reload, and shows how far it is.
    effect((clean) => {
      const id = Number(this.importId() ?? 0);
      if (id === 0) return;
      const watch = this.live
        .on('imports')
        .pipe(onceAtATime(() => this.people.importState(id).pipe(catchError(() => of(null)))))
        .subscribe((state) => this.follow(id, state));
      clean(() => watch.unsubscribe());
    });
  }

  private follow(id: number, state: ImportState | null): void {
    const view = this.view();
    if (!state) this.ended();
    else if (view?.id === id && state.state === 'taking')
      this.view.set({ ...view, state: state.state, progress: state.progress });
    else if (view?.state !== state.state)
      this.people.importView(id).subscribe({ next: (v) => this.view.set(v), error: () => this.ended() });
  }

  /** The import that was watched is over: taken, or dropped. */
  private ended(): void {
    const before = this.view();
    this.view.set(null);
    if (before?.state !== 'taking') return;
    const into = before.into;
    void this.router.navigate(into.kind === 'list' ? ['/people', into.listId] : ['/people']);
    this.notices.say(texts.isFinishedItsPeopleAre(before.name));
  }

  protected readonly taken = computed(() => {
    const c = this.view()?.counts;
    return c ? c.new + c.known : 0;
  });
  protected readonly shares = computed(() => {
    const c = this.view()?.counts;
    if (!c) return [];
    const all = Math.max(1, c.new + c.known + c.doubled + c.invalid);
    return [
      { tone: 'new', width: (100 * c.new) / all },
      { tone: 'known', width: (100 * c.known) / all },
      { tone: 'aside', width: (100 * (c.doubled + c.invalid)) / all },
    ];
  });
  protected readonly about = computed(() => {
    const v = this.view();
    if (!v) return '';
    const parts = [texts.rows(v.rows), KIND_WORDS[v.kind], v.encoding];
    if (v.delimiter !== '') parts.push(texts.separatedBy(DELIMITER_WORDS[v.delimiter] ?? v.delimiter));
    if (v.otherLines > 0 && v.encoding.includes('mixed')) parts.push(texts.linesInTheOtherEncoding(v.otherLines));
    if (v.hiddenRows > 0 && !v.withHidden) parts.push(texts.hiddenRows(v.hiddenRows));
    if (v.titleRows > 0) parts.push(texts.headerInRowAboveIt(v.headerLine, v.titleRows));
    if (v.headerLine === null && (v.delimiter !== '' || v.sheets.length > 0)) parts.push(texts.noHeaderRowColumnsAre);
    return parts.filter((p) => p !== '').join(' · ');
  });

  protected takeDrop(event: DragEvent): void {
    event.preventDefault();
    this.over.set(false);
    const file = event.dataTransfer?.files[0];
    if (file) void this.send(file.name, file);
  }

  protected dragOver(event: DragEvent): void {
    event.preventDefault();
    this.over.set(true);
  }

  protected takeFile(input: HTMLInputElement): void {
    const file = input.files?.[0];
    if (file) void this.send(file.name, file);
    input.value = '';
  }

  protected takePasted(): void {
    void this.send(texts.pastedRows, new Blob([this.pasted()]));
  }

  private async send(name: string, content: Blob): Promise<void> {
    this.problem.set('');
    const view = await this.wait(this.people.upload(name, content));
    if (!view) return;
    this.view.set(view);
    // The keyboard goes on at the sheet: the button that was pressed is gone.
    this.changes.detectChanges();
    (this.host.nativeElement as HTMLElement).querySelector<HTMLElement>('h2[tabindex]')?.focus();
    this.name.set(name.replace(/\.[^.]+$/, ''));
    const into = Number(this.into() ?? 0);
    if (into > 0) await this.show((id) => this.people.chooseInto(id, { kind: 'list', listId: into, how: 'update' }));
  }

  protected chooseList(value: string): Promise<void> {
    const into = this.view()?.into;
    const how = into?.kind === 'list' ? into.how : 'update';
    return this.show((id) =>
      this.people.chooseInto(
        id,
        value === 'new' ? { kind: 'new', name: this.name() } : { kind: 'list', listId: Number(value), how },
      ),
    );
  }

  protected async chooseHow(how: 'add' | 'update' | 'replace'): Promise<void> {
    const into = this.view()?.into;
    if (into?.kind === 'list') await this.show((id) => this.people.chooseInto(id, { ...into, how }));
  }

  protected async choose(column: number, choice: string): Promise<void> {
    const view = this.view();
    if (!view) return;
    const [chosen, kind] = choice.split(':') as [ColumnRole, ColumnKind | undefined];
    const once = chosen !== 'field' && chosen !== 'ignore';
    const roles = view.columns
      .filter((c) => !c.derived)
      .map((c, i) => (i === column ? chosen : once && c.role === chosen ? 'field' : c.role));
    await this.show((id) => this.people.chooseRoles(id, roles, kind ? { [column]: kind } : {}));
  }

  protected chooseSheet(sheet: number): Promise<void> {
    return this.show((id) => this.people.chooseSheet(id, sheet));
  }

  protected read(reading: ImportReading): Promise<void> {
    return this.show((id) => this.people.chooseReading(id, reading));
  }

  protected clean(cleanings: readonly Cleaning[]): Promise<void> {
    return this.show((id) => this.people.chooseCleanings(id, cleanings));
  }

  /** The cell being mended, by line and column. */
  protected readonly editing = signal<{ line: number; column: number } | null>(null);

  protected edit(line: number, column: number): void {
    if (this.view()?.columns[column]?.derived) return;
    this.editing.set({ line, column });
    // At once: the next key must already go into the cell.
    this.changes.detectChanges();
    (this.host.nativeElement as HTMLElement).querySelector<HTMLInputElement>('.cell')?.select();
  }

  protected isEdited(line: number, column: number): boolean {
    const e = this.editing();
    return e?.line === line && e.column === column;
  }

  protected async mend(line: number, column: number, value: string): Promise<void> {
    this.editing.set(null);
    await this.show((id) => this.people.mendCell(id, { line, column, value }));
  }

  /** The column of addresses, in which a row set aside can be mended. */
  protected readonly addressColumn = computed(() => this.view()?.columns.findIndex((c) => c.role === 'address') ?? -1);

  protected mendDomains(): Promise<void> {
    return this.show((id) => this.people.mendDomains(id));
  }

  private async show(request: (importId: number) => Observable<ImportView>): Promise<void> {
    const view = this.view();
    const next = view && (await this.wait(request(view.id)));
    if (next) this.view.set(next);
  }

  protected async keep(): Promise<void> {
    const view = this.view();
    if (!view) return;
    const kept = await this.wait(this.people.keep(view.id, this.name()));
    if (!kept) return;
    if (kept.listId === null) {
      this.view.update((v) => v && { ...v, state: 'taking', progress: null });
      await this.router.navigate([], { queryParams: { importId: view.id } });
      return;
    }
    this.notices.say(this.effectWords() || texts.peopleAreNowOnThe(this.taken()));
    await this.router.navigate(['/people', kept.listId]);
  }

  protected async drop(): Promise<void> {
    const view = this.view();
    if (view) await this.wait(this.people.drop(view.id));
    this.view.set(null);
    if (this.importId() !== undefined) await this.router.navigate(['/people/import']);
  }

  /** What the request gives, or null with the sentence shown where the person looks. */
  private async wait<T>(request: Observable<T>): Promise<T | null> {
    this.busy.set(true);
    try {
      return await firstValueFrom(request);
    } catch (error) {
      this.problem.set(sentenceOf(error));
      return null;
    } finally {
      this.busy.set(false);
    }
  }
}
