import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  input,
  model,
  signal,
  viewChild,
} from '@angular/core';
import { fieldKey, listFields, usualKey } from '@baton/core';

/** A field that can be put in, with what stands in it for the person shown. */
export interface FieldChoice {
  name: string;
  sample: string;
}

interface Piece {
  text: string;
  kind: 'text' | 'field' | 'unknown' | 'fault';
}

/** A text with fields: they are marked as one types, `{{` opens the picker, a fault is marked where it is. */
@Component({
  selector: 'bt-field-editor',
  templateUrl: './field-editor.html',
  styleUrl: './field-editor.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FieldEditor {
  readonly text = model.required<string>();
  readonly label = input.required<string>();
  readonly fields = input<FieldChoice[]>([]);
  /** Offset of a fault in the text, or null. */
  readonly faultAt = input<number | null>(null);
  readonly singleLine = input(false);

  private readonly area = viewChild.required<ElementRef<HTMLTextAreaElement>>('area');
  protected readonly picking = signal<{ from: number; typed: string } | null>(null);
  protected readonly active = signal(0);

  protected readonly matches = computed(() => {
    const typed = fieldKey(this.picking()?.typed ?? '');
    return this.fields().filter((f) => fieldKey(f.name).includes(typed));
  });

  /** The text cut into what is marked and what is not; what the eye sees behind the caret. */
  protected readonly pieces = computed((): Piece[] => {
    const text = this.text();
    const known = new Set(this.fields().map((f) => fieldKey(f.name)));
    const isKnown = (key: string) => known.size === 0 || known.has(key) || known.has(usualKey(key));
    const out: Piece[] = [];
    let at = 0;
    for (const use of listFields(text)) {
      out.push(
        { text: text.slice(at, use.start), kind: 'text' },
        { text: text.slice(use.start, use.end), kind: isKnown(use.key) ? 'field' : 'unknown' },
      );
      at = use.end;
    }
    return [...out, ...this.tail(text.slice(at), at)];
  });

  private tail(text: string, from: number): Piece[] {
    const fault = this.faultAt();
    // The last line must have height even when it is empty.
    if (fault === null || fault < from) return [{ text: `${text}\n`, kind: 'text' }];
    return [
      { text: text.slice(0, fault - from), kind: 'text' },
      { text: `${text.slice(fault - from)}\n`, kind: 'fault' },
    ];
  }

  /** Opens the picker at the caret, as the button does. */
  openPicker(): void {
    const area = this.area().nativeElement;
    area.focus();
    this.replace(area.selectionStart, area.selectionEnd, '{{');
    this.followCaret();
  }

  protected typed(): void {
    const area = this.area().nativeElement;
    const value = this.singleLine() ? area.value.replace(/[\r\n]+/g, ' ') : area.value;
    if (value !== area.value) area.value = value;
    this.text.set(value);
    this.followCaret();
  }

  /** The picker is open while the caret stands in a field that was opened and not closed. */
  protected followCaret(): void {
    const area = this.area().nativeElement;
    const before = area.value.slice(0, area.selectionStart);
    const open = /\{\{\s*([\p{L}\p{N}_ -]*)$/u.exec(before);
    this.picking.set(open && this.fields().length > 0 ? { from: open.index, typed: open[1] ?? '' } : null);
    this.active.set(0);
  }

  protected pressed(event: KeyboardEvent): void {
    const matches = this.matches();
    if (this.picking() && matches.length > 0) {
      const step = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
      if (step !== 0) this.active.update((a) => (a + step + matches.length) % matches.length);
      else if (event.key === 'Enter' || event.key === 'Tab') this.pick(matches[this.active()] as FieldChoice);
      else if (event.key === 'Escape') this.picking.set(null);
      else return;
      event.preventDefault();
    } else if (event.key === 'Enter' && this.singleLine()) event.preventDefault();
  }

  protected pick(field: FieldChoice): void {
    const picking = this.picking();
    if (!picking) return;
    const area = this.area().nativeElement;
    const rest = area.value.slice(area.selectionStart);
    const closing = /^\s*\}\}/.exec(rest)?.[0].length ?? 0;
    this.replace(
      picking.from,
      area.selectionStart + closing,
      `{{ ${field.name
        .trim()
        .toLowerCase()
        .replace(/[^\p{L}\p{N}]+/gu, '_')} }}`,
    );
    this.picking.set(null);
    area.focus();
  }

  /** Through the browser's own editing, so that its undo knows of it. */
  private replace(from: number, to: number, text: string): void {
    const area = this.area().nativeElement;
    area.focus();
    area.setSelectionRange(from, to);
    if (!document.execCommand('insertText', false, text)) area.setRangeText(text, from, to, 'end');
    this.text.set(area.value);
  }
}
