import { ChangeDetectionStrategy, Component, effect, inject, input, signal, untracked } from '@angular/core';
import type { ProofView } from '@baton/contract';
import { AssetPictures } from '../asset-pictures';
import { MailFrame } from '../mail-frame';

/** A finished message as a letter, with the pictures that come with it. */
@Component({
  selector: 'bt-proof-letter',
  imports: [MailFrame],
  template: `
    @if (page() !== '') {
      <bt-mail-frame [label]="label()" [html]="page()" [darkened]="darkened()" />
    }
  `,
  styles: `
    :host,
    bt-mail-frame {
      display: block;
      height: 100%;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProofLetter {
  private readonly pictures = inject(AssetPictures);
  readonly proof = input.required<Pick<ProofView, 'html' | 'pictures'>>();
  readonly label = input.required<string>();
  readonly darkened = input(false);
  protected readonly page = signal('');

  constructor() {
    effect(() => {
      const proof = this.proof();
      untracked(() => void this.fill(proof));
    });
  }

  private async fill(proof: Pick<ProofView, 'html' | 'pictures'>): Promise<void> {
    const page = await this.pictures.fill(proof);
    // What came meanwhile is shown instead.
    if (this.proof() === proof) this.page.set(page);
  }
}
