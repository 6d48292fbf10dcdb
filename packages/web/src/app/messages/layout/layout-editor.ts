import { CdkDrag, CdkDragHandle, CdkDropList, moveItemInArray, type CdkDragDrop } from '@angular/cdk/drag-drop';
import { NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal, viewChild } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import {
  BLOCK_KINDS,
  FONTS,
  holdsLetter,
  newBlock,
  type BlockKind,
  type Layout,
  type LayoutBlock,
  type RichDoc,
  type SimpleBlock,
  type Theme,
} from '@baton/core';
import { firstValueFrom } from 'rxjs';
import { ChoosePicture, type ChosenPicture } from '../choose-picture';
import type { FieldChoice } from '../editor/field-choice';
import { spoken } from '../editor/field-nodes';
import { RichEditor } from '../editor/rich-editor';
import { LineEditor } from '../editor/line-editor';
import { chosenOption, typedText } from '../../look/event-input';
import { messagesLayoutTexts } from './texts';

const texts = messagesLayoutTexts.layoutEditor;

/** What each kind of block is called. */
export const BLOCK_NAMES: Record<BlockKind, string> = {
  header: texts.headerWithNameOrLogo,
  letter: texts.messageText,
  heading: texts.heading,
  text: texts.textBlock,
  picture: texts.pictureBlock,
  button: texts.buttonBlock,
  columns: texts.twoColumns,
  divider: texts.line,
  space: texts.space,
  footer: texts.foot,
};

/** What of a block is one line of text with fields. */
interface BlockLine {
  key: 'text' | 'href' | 'alt';
  name: string;
  label: string;
  hint: string;
}

const LEADS_TO = { key: 'href', name: texts.link, hint: texts.none } as const;
const BLOCK_LINES: Partial<Record<BlockKind, readonly BlockLine[]>> = {
  heading: [{ key: 'text', name: texts.textBlock, label: texts.textOfTheHeading, hint: '' }],
  button: [
    { key: 'text', name: texts.textBlock, label: texts.textOfTheButton, hint: '' },
    { ...LEADS_TO, label: texts.linkOfTheButton, hint: 'https://tidewaterkelp.example/trial' },
  ],
  header: [
    { key: 'text', name: texts.name, label: texts.nameInTheHeader, hint: '' },
    { ...LEADS_TO, label: texts.linkOfTheHeader },
  ],
  picture: [
    { key: 'alt', name: texts.description, label: texts.descriptionOfThePicture, hint: texts.forPeopleWhoCannotSee },
    { ...LEADS_TO, label: texts.linkOfThePicture },
  ],
};

/** A message's blocks from top to bottom: written into, ordered, doubled and taken out; and how the whole looks. */
@Component({
  selector: 'bt-layout-editor',
  imports: [
    CdkDropList,
    CdkDrag,
    CdkDragHandle,
    MatButton,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    NgTemplateOutlet,
    RichEditor,
    LineEditor,
  ],
  templateUrl: './layout-editor.html',
  styleUrl: './layout-editor.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LayoutEditor {
  protected readonly texts = texts;
  protected readonly sides = ['left', 'right'] as const;
  protected readonly typedText = typedText;
  private readonly dialog = inject(MatDialog);
  readonly layout = input.required<Layout>();
  readonly letter = input.required<RichDoc>();
  readonly choices = input.required<readonly FieldChoice[]>();
  readonly samples = input.required<(name: string) => string[]>();
  readonly layoutChange = output<Layout>();
  readonly letterChange = output<RichDoc>();
  /** Which text is being written, for the tools. */
  readonly writing = output<RichEditor>();

  private readonly letterEditor = viewChild<RichEditor>('letterEditor');
  protected readonly open = signal<string | null>(null);
  protected readonly names = BLOCK_NAMES;
  protected readonly kinds = BLOCK_KINDS.filter((kind) => kind !== 'letter');
  protected readonly fonts = Object.keys(FONTS) as Theme['font'][];
  protected readonly colours: { key: 'ground' | 'sheet' | 'ink' | 'accent'; name: string }[] = [
    { key: 'ground', name: texts.ground },
    { key: 'sheet', name: texts.sheet },
    { key: 'ink', name: texts.textBlock },
    { key: 'accent', name: texts.linksButton },
  ];
  protected readonly blocks = computed(() => this.layout().blocks);

  /** The editor of the message's own text. */
  letterText(): RichEditor | undefined {
    return this.letterEditor();
  }

  protected summary(block: LayoutBlock): string {
    switch (block.kind) {
      case 'header':
        return block.picture || spoken(block.text);
      case 'heading':
        return spoken(block.text);
      case 'button':
        return `${spoken(block.text)}${block.href === '' ? texts.leadsNowhereYet : ` → ${block.href}`}`;
      case 'picture':
        return block.src === '' ? texts.noPictureYet : block.alt || block.src;
      case 'space':
        return texts.pixels(block.height);
      default:
        return '';
    }
  }

  protected drop(event: CdkDragDrop<unknown>): void {
    this.move(event.previousIndex, event.currentIndex);
  }

  protected moveUp(at: number): void {
    this.move(at, at - 1);
  }

  protected moveDown(at: number): void {
    this.move(at, at + 1);
  }

  private move(from: number, to: number): void {
    const blocks = [...this.blocks()];
    if (to < 0 || to >= blocks.length) return;
    moveItemInArray(blocks, from, to);
    this.set(blocks);
  }

  protected add(kind: Exclude<BlockKind, 'letter'>): void {
    const block = newBlock(kind, this.freshId(kind));
    const at = this.blocks().findIndex((b) => b.id === this.open());
    const blocks = [...this.blocks()];
    blocks.splice(at < 0 ? blocks.length : at + 1, 0, block);
    this.open.set(block.id);
    this.set(blocks);
  }

  protected double(at: number): void {
    const block = this.blocks()[at];
    if (!block || holdsLetter(block)) return;
    const blocks = [...this.blocks()];
    const copy = JSON.parse(JSON.stringify(block)) as LayoutBlock;
    copy.id = this.freshId(block.kind);
    if (copy.kind === 'columns') for (const b of [...copy.left, ...copy.right]) b.id = `${copy.id}-${b.id}`;
    blocks.splice(at + 1, 0, copy);
    this.set(blocks);
  }

  protected remove(at: number): void {
    this.set(this.blocks().filter((_, i) => i !== at));
  }

  protected canRemove(block: LayoutBlock): boolean {
    return !holdsLetter(block);
  }

  private freshId(kind: BlockKind): string {
    const taken = new Set(this.blocks().map((b) => b.id));
    for (let n = 1; ; n++) if (!taken.has(`${kind}-${n}`)) return `${kind}-${n}`;
  }

  /** Changes one block, or one of a pair of columns. */
  protected patch(block: LayoutBlock | SimpleBlock, change: Record<string, unknown>): void {
    const simple = (b: SimpleBlock): SimpleBlock => (b.id === block.id ? ({ ...b, ...change } as SimpleBlock) : b);
    this.set(
      this.blocks().map((b): LayoutBlock => {
        if (b.id === block.id) return { ...b, ...change } as LayoutBlock;
        return b.kind === 'columns' ? { ...b, left: b.left.map(simple), right: b.right.map(simple) } : b;
      }),
    );
  }

  protected addTo(columns: LayoutBlock, side: 'left' | 'right', kind: Exclude<BlockKind, 'letter' | 'columns'>): void {
    if (columns.kind !== 'columns') return;
    const taken = [...columns.left, ...columns.right].map((b) => b.id);
    let n = 1;
    while (taken.includes(`${columns.id}-${kind}-${n}`)) n++;
    const block = newBlock(kind, `${columns.id}-${kind}-${n}`) as SimpleBlock;
    this.patch(columns, { [side]: [...columns[side], block] });
  }

  protected removeFrom(columns: LayoutBlock, id: string): void {
    if (columns.kind !== 'columns') return;
    const keep = (blocks: SimpleBlock[]) => blocks.filter((b) => b.id !== id || b.kind === 'letter');
    this.patch(columns, { left: keep(columns.left), right: keep(columns.right) });
  }

  protected linesOf(block: SimpleBlock): (BlockLine & { text: string })[] {
    const lines = block as Partial<Record<BlockLine['key'], string>>;
    return (BLOCK_LINES[block.kind] ?? []).map((line) => ({ ...line, text: lines[line.key] ?? '' }));
  }

  protected nameOf(block: SimpleBlock): string {
    return BLOCK_NAMES[block.kind];
  }

  protected isLetter(block: LayoutBlock): boolean {
    return block.kind === 'letter';
  }

  protected partsOf(block: LayoutBlock, side: 'left' | 'right'): SimpleBlock[] {
    if (block.kind !== 'columns') return [];
    return side === 'left' ? block.left : block.right;
  }

  protected writeLine(block: SimpleBlock, key: BlockLine['key'], text: string): void {
    this.patch(block, { [key]: text });
  }

  protected setColour(key: 'ground' | 'sheet' | 'ink' | 'accent', colour: string): void {
    this.setTheme({ [key]: colour });
  }

  protected setFont(event: Event): void {
    this.setTheme({ font: chosenOption<Theme['font']>(event) });
  }

  protected setTheme(change: Partial<Theme>): void {
    this.layoutChange.emit({ ...this.layout(), theme: { ...this.layout().theme, ...change } });
  }

  protected async choosePicture(block: LayoutBlock | SimpleBlock): Promise<void> {
    const dialog = this.dialog.open<ChoosePicture, undefined, ChosenPicture>(ChoosePicture, { width: '640px' });
    const chosen = await firstValueFrom(dialog.afterClosed());
    if (!chosen) return;
    if (block.kind === 'header') this.patch(block, { picture: chosen.src, alt: chosen.alt });
    else this.patch(block, { ...chosen });
  }

  private set(blocks: LayoutBlock[]): void {
    this.layoutChange.emit({ ...this.layout(), blocks });
  }
}
