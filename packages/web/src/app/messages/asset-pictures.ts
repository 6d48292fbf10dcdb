import { inject, Injectable } from '@angular/core';
import type { ProofView } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { MessagesService } from './messages-service';

/** Pictures of proofs as data, each asked for once: a sandboxed page may fetch nothing. */
@Injectable({ providedIn: 'root' })
export class AssetPictures {
  private readonly service = inject(MessagesService);
  private readonly known = new Map<number, Promise<string>>();

  /** The page with its pictures in it; one that is not there shows its text. */
  async fill({ html, pictures }: Pick<ProofView, 'html' | 'pictures'>): Promise<string> {
    let page = html;
    for (const { cid, assetId } of pictures) {
      const data = assetId === null ? '' : await this.data(assetId);
      page = page.replaceAll(`src="${cid}"`, `src="${data}"`);
    }
    return page;
  }

  private data(assetId: number): Promise<string> {
    let data = this.known.get(assetId);
    if (!data) {
      data = firstValueFrom(this.service.assetBytes(assetId)).then(dataAddress, () => '');
      this.known.set(assetId, data);
    }
    return data;
  }
}

const dataAddress = (blob: Blob): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result));
    reader.onerror = () => reject(new Error('The picture could not be read.'));
    reader.readAsDataURL(blob);
  });
