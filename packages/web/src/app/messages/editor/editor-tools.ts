import { CdkOverlayOrigin } from '@angular/cdk/overlay';
import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatDialog } from '@angular/material/dialog';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { TEXT_COLOURS } from '@baton/core';
import { firstValueFrom } from 'rxjs';
import { Below } from '../../look/below';
import { ChoosePicture, type ChosenPicture } from '../choose-picture';
import type { RichEditor } from './rich-editor';
import { typedText } from '../../look/event-input';
import { messagesEditorTexts } from './texts';
import { Panel } from '../../look/panel';

const texts = messagesEditorTexts.editorTools;

/** What can be done to the text at the caret. */
@Component({
  selector: 'bt-editor-tools',
  imports: [MatButton, MatMenu, MatMenuItem, MatMenuTrigger, Below, CdkOverlayOrigin, Panel],
  templateUrl: './editor-tools.html',
  styleUrl: './editor-tools.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class EditorTools {
  protected readonly texts = texts;
  protected readonly typedText = typedText;
  private readonly dialog = inject(MatDialog);
  readonly editor = input.required<RichEditor>();
  protected readonly colours = TEXT_COLOURS;
  protected readonly linking = signal<{ href: string; text: string } | null>(null);

  protected get run() {
    return this.editor().commands?.chain().focus();
  }

  protected toggle(mark: 'bold' | 'italic' | 'underline'): void {
    this.run?.toggleMark(mark).run();
  }

  protected setColour(colour: string | null): void {
    if (colour === null) this.run?.unsetMark('colour').run();
    else this.run?.setMark('colour', { colour }).run();
  }

  protected openLink(): void {
    const editor = this.editor().commands;
    if (!editor) return;
    if (editor.isActive('link')) editor.commands.extendMarkRange('link');
    const { from, to } = editor.state.selection;
    const href = String(editor.getAttributes('link')['href'] ?? '');
    this.linking.set({ href, text: editor.state.doc.textBetween(from, to, ' ') });
  }

  protected typeLink(change: Partial<{ href: string; text: string }>): void {
    this.linking.update((l) => l && { ...l, ...change });
  }

  protected setLink(): void {
    const link = this.linking();
    this.linking.set(null);
    const editor = this.editor().commands;
    if (!link || !editor) return;
    const href = link.href.trim();
    const { from, to, empty } = editor.state.selection;
    if (href === '') this.run?.unsetMark('link').run();
    else if (empty || link.text !== editor.state.doc.textBetween(from, to, ' '))
      this.run
        ?.insertContent({ type: 'text', text: link.text.trim() || href, marks: [{ type: 'link', attrs: { href } }] })
        .run();
    else this.run?.setMark('link', { href }).run();
  }

  protected async choosePicture(): Promise<void> {
    const dialog = this.dialog.open<ChoosePicture, undefined, ChosenPicture>(ChoosePicture, { width: '640px' });
    const chosen = await firstValueFrom(dialog.afterClosed());
    if (chosen) this.editor().insertImage({ ...chosen, width: null });
  }
}
