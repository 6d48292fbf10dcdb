import { CdkConnectedOverlay, type CdkOverlayOrigin } from '@angular/cdk/overlay';
import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  input,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import {
  letterDoc,
  readRichDoc,
  richText,
  type EitherNode as Either,
  type FieldNode as Field,
  type RichDoc,
} from '@baton/core';
import { Editor, type JSONContent } from '@tiptap/core';
import { Slice } from '@tiptap/pm/model';
import { Below, BELOW } from '../../look/below';
import { ChipPanel } from './chip-panel';
import { cleanPaste } from './clean-paste';
import { editorExtensions } from './editor-extensions';
import { isKnown, matching, nearest, type FieldChoice } from './field-choice';
import { lineContent } from './field-nodes';
import { messagesEditorTexts } from './texts';

const texts = messagesEditorTexts.richEditor;

/** A chip that is pressed or pointed at: its position in the text and on the screen. */
interface ChipAt {
  position: number;
  at: CdkOverlayOrigin | ElementRef<HTMLElement>;
  node: Field | Either;
}

interface Picking {
  from: number;
  to: number;
  typed: string;
  at: ElementRef<HTMLElement>;
}

/** Fields that the picker shows at once; typing narrows them down. */
const MOST_OFFERED = 12;

/** A text with its form and fields; or one line of text with fields. */
@Component({
  selector: 'bt-rich-editor',
  imports: [Below, CdkConnectedOverlay, ChipPanel],
  templateUrl: './rich-editor.html',
  styleUrl: './rich-editor.scss',
  host: { '[class.line]': 'singleLine()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RichEditor {
  protected readonly texts = texts;
  readonly label = input.required<string>();
  readonly singleLine = input(false);
  readonly placeholder = input('');
  /** The text; of a single line, its first paragraph. */
  readonly doc = input.required<RichDoc>();
  readonly choices = input.required<readonly FieldChoice[]>();
  /** What a field is for the next few people, for a look at it. */
  readonly samples = input<(name: string) => string[]>(() => []);
  /** Text that does not parse, to be marked. */
  readonly faultAt = input<string | null>(null);
  readonly docChange = output<RichDoc>();
  readonly focused = output();

  private readonly host = viewChild.required<ElementRef<HTMLElement>>('text');
  /** Where the caret is, for the picker. */
  private readonly caret = viewChild.required<ElementRef<HTMLElement>>('caret');
  private readonly editor = signal<Editor | null>(null);
  private written = '';
  /** Counts changes of text and selection, so that the tools follow. */
  readonly turn = signal(0);
  protected readonly picking = signal<Picking | null>(null);
  protected readonly typedName = computed(() => this.picking()?.typed.trim() ?? '');
  protected readonly active = signal(0);
  protected readonly chip = signal<ChipAt | null>(null);
  protected readonly hovered = signal<{ at: ElementRef<HTMLElement>; name: string; values: string[] } | null>(null);
  /** Fields that match the text typed; if none does, those with the nearest names. */
  protected readonly offered = computed(() => {
    const picking = this.picking();
    if (!picking) return { fields: [], others: 0, isNear: false };
    const found = matching(this.choices(), picking.typed);
    const fields = found.length > 0 ? found.slice(0, MOST_OFFERED) : nearest(this.choices(), picking.typed, 3);
    return { fields, others: Math.max(0, found.length - MOST_OFFERED), isNear: found.length === 0 };
  });
  protected readonly matches = computed(() => this.offered().fields);
  protected readonly below = BELOW;

  constructor() {
    afterNextRender(() => this.start());
    effect(() => {
      const [doc, editor] = [this.doc(), this.editor()];
      if (editor) untracked(() => this.show(editor, doc));
    });
    effect(() => {
      const editor = this.editor();
      this.choices();
      this.faultAt();
      // Chips that are no field of the list are marked anew.
      if (editor) untracked(() => this.mark(editor));
    });
    inject(DestroyRef).onDestroy(() => this.editor()?.destroy());
  }

  private start(): void {
    const editor = new Editor({
      element: this.host().nativeElement,
      extensions: editorExtensions(this.singleLine(), () => this.placeholder()),
      content: this.doc() as JSONContent,
      editorProps: {
        attributes: {
          'aria-label': this.label(),
          'aria-multiline': String(!this.singleLine()),
          role: 'textbox',
          spellcheck: 'true',
        },
        transformPastedHTML: cleanPaste,
        clipboardTextParser: (text) => this.pastedText(text),
        handleKeyDown: (_, event) => this.pressed(event),
        handleDOMEvents: {
          mouseover: (_, event) => this.pointAt(event),
          mouseout: () => this.hovered.set(null),
        },
        handleClickOn: (_view, _pos, node, nodePos, event) => this.pressChip(node.type.name, nodePos, event),
      },
      onUpdate: ({ editor: e }) => this.changed(e),
      onSelectionUpdate: ({ editor: e }) => this.followCaret(e),
      onFocus: () => this.focused.emit(),
      onBlur: () => this.picking.set(null),
    });
    this.written = JSON.stringify(readRichDoc(editor.getJSON()));
    this.editor.set(editor);
    this.mark(editor);
  }

  private changed(editor: Editor): void {
    const doc = readRichDoc(editor.getJSON());
    this.written = JSON.stringify(doc);
    this.docChange.emit(doc);
    this.followCaret(editor);
    this.mark(editor);
  }

  /** Shows a text that came from elsewhere; what was typed here is shown already. */
  private show(editor: Editor, doc: RichDoc): void {
    const json = JSON.stringify(doc);
    if (json === this.written) return;
    this.written = json;
    this.chip.set(null);
    editor.commands.setContent(doc as JSONContent, { emitUpdate: false });
    this.mark(editor);
  }

  private pastedText(text: string): Slice {
    const editor = this.editor() as Editor;
    const flat = this.singleLine() ? text.replace(/\s*[\r\n]+\s*/g, ' ') : text;
    const doc = editor.schema.nodeFromJSON(this.singleLine() ? lineContent(flat) : letterDoc(flat));
    return new Slice(doc.content, 1, 1);
  }

  private mark(editor: Editor): void {
    this.turn.update((n) => n + 1);
    const choices = this.choices();
    for (const chip of editor.view.dom.querySelectorAll<HTMLElement>('.chip')) {
      const name = chip.dataset['field'] ?? chip.dataset['either'] ?? '';
      chip.classList.toggle('unknown', !isKnown(choices, name));
    }
  }

  /** The picker is open while the caret is in a field that was opened and not closed. */
  private followCaret(editor: Editor): void {
    this.turn.update((n) => n + 1);
    const { $from, empty } = editor.state.selection;
    const before = empty ? $from.parent.textBetween(0, $from.parentOffset, undefined, '\ufffc') : '';
    const open = /\{\{\s*([\p{L}\p{N}_ -]*)$/u.exec(before);
    if (!open || this.choices().length === 0) {
      this.picking.set(null);
      return;
    }
    const from = $from.start() + open.index;
    const place = editor.view.coordsAtPos(from);
    const box = this.host().nativeElement.getBoundingClientRect();
    const caret = this.caret().nativeElement;
    caret.style.left = `${place.left - box.left}px`;
    caret.style.top = `${place.bottom - box.top}px`;
    this.active.set(0);
    this.picking.set({ from, to: $from.pos, typed: open[1] ?? '', at: this.caret() });
  }

  private pressed(event: KeyboardEvent): boolean {
    const matches = this.matches();
    if (this.picking() && matches.length > 0) {
      const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
      if (step !== 0) this.active.update((a) => (a + step + matches.length) % matches.length);
      else if (event.key === 'Enter' || event.key === 'Tab') this.pick(matches[this.active()] as FieldChoice);
      else if (event.key === 'Escape') this.picking.set(null);
      else return false;
      return true;
    }
    if (event.key === 'Enter' && this.singleLine()) return true;
    if (event.key === 'Enter' && this.openSelectedChip()) return true;
    return false;
  }

  protected pick(field: FieldChoice): void {
    const picking = this.picking();
    const editor = this.editor();
    if (!picking || !editor) return;
    // The closing braces may be there already.
    const rest = editor.state.doc.textBetween(
      picking.to,
      Math.min(picking.to + 4, editor.state.doc.content.size),
      ' ',
      ' ',
    );
    const closing = /^\s*\}\}/.exec(rest)?.[0].length ?? 0;
    editor
      .chain()
      .focus()
      .insertContentAt(
        { from: picking.from, to: picking.to + closing },
        { type: 'field', attrs: { name: field.name, fallback: null, filters: '' } },
      )
      .run();
    this.picking.set(null);
  }

  /** Opens the picker at the caret, as the button does. */
  openPicker(): void {
    this.editor()?.chain().focus().insertContent('{{').run();
  }

  /** A greeting that falls back whole. */
  insertGreeting(): void {
    const attrs = { field: 'given name', filled: 'Hello {{ given name }},', blank: 'Hello,' };
    this.editor()?.chain().focus().insertContent({ type: 'either', attrs }).run();
  }

  insertImage(attrs: { src: string; alt: string; width: number | null }): void {
    this.editor()?.chain().focus().insertContent({ type: 'image', attrs }).run();
  }

  /** For the tools: their commands, and which marks are on at the caret. */
  get commands(): Editor | null {
    return this.editor();
  }

  isOn(name: string, attrs?: Record<string, unknown>): boolean {
    this.turn();
    return this.editor()?.isActive(name, attrs) ?? false;
  }

  focus(): void {
    this.editor()?.commands.focus();
  }

  /** Selects a text, so that it can be seen and changed. @returns whether it is there */
  find(near: string): boolean {
    const editor = this.editor();
    if (!editor || near === '') return false;
    let at = -1;
    editor.state.doc.descendants((node, pos) => {
      if (at >= 0 || !node.isText) return at < 0;
      const index = (node.text ?? '').indexOf(near);
      if (index >= 0) at = pos + index;
      return at < 0;
    });
    if (at < 0) return false;
    editor
      .chain()
      .focus()
      .setTextSelection({ from: at, to: at + near.length })
      .scrollIntoView()
      .run();
    return true;
  }

  private pointAt(event: Event): boolean {
    const chip = (event.target as HTMLElement).closest<HTMLElement>('.chip');
    const name = chip?.dataset['field'] ?? chip?.dataset['either'];
    if (!chip || name === undefined || this.chip()) this.hovered.set(null);
    else this.hovered.set({ at: new ElementRef(chip), name, values: this.samples()(name) });
    return false;
  }

  private pressChip(type: string, position: number, event: MouseEvent): boolean {
    const element = (event.target as HTMLElement).closest<HTMLElement>('.chip');
    if ((type !== 'field' && type !== 'either') || !element) return false;
    this.openChip(position, element);
    return true;
  }

  private openSelectedChip(): boolean {
    const editor = this.editor() as Editor;
    const { from } = editor.state.selection;
    const node = editor.state.doc.nodeAt(from);
    const element = editor.view.nodeDOM(from);
    if (editor.state.selection.empty || !node || !(element instanceof HTMLElement)) return false;
    if (node.type.name !== 'field' && node.type.name !== 'either') return false;
    this.openChip(from, element);
    return true;
  }

  private openChip(position: number, element: HTMLElement): void {
    const node = this.editor()?.state.doc.nodeAt(position);
    if (!node) return;
    this.hovered.set(null);
    this.chip.set({ position, at: new ElementRef(element), node: node.toJSON() as Field | Either });
  }

  protected changeChip(attrs: Field['attrs'] | Either['attrs']): void {
    const chip = this.chip();
    const editor = this.editor();
    if (!chip || !editor) return;
    editor.view.dispatch(editor.state.tr.setNodeMarkup(chip.position, undefined, attrs));
    this.closeChip();
  }

  protected removeChip(): void {
    const chip = this.chip();
    if (chip) this.editor()?.commands.deleteRange({ from: chip.position, to: chip.position + 1 });
    this.closeChip();
  }

  protected closeChip(): void {
    this.chip.set(null);
    this.editor()?.commands.focus();
  }
}

/** A single line's text as Liquid. */
export const lineText = (doc: RichDoc): string => richText(doc).replace(/\s*\n+\s*/g, ' ');
