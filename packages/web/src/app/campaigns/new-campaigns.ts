import { inject, Injectable } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { Router } from '@angular/router';
import type { CampaignBeginning } from '@baton/contract';
import { firstValueFrom } from 'rxjs';
import { Notices } from '../live/notices';
import { AskName } from '../look/ask-name';
import { CampaignsService } from './campaigns-service';
import { campaignsTexts } from './texts';

const texts = campaignsTexts.newCampaigns;

/** Begins campaigns from what somebody looks at: asks for a name, and opens the brief. */
@Injectable({ providedIn: 'root' })
export class NewCampaigns {
  private readonly dialog = inject(MatDialog);
  private readonly router = inject(Router);
  private readonly notices = inject(Notices);
  private readonly service = inject(CampaignsService);

  async begin(from: CampaignBeginning, value = ''): Promise<void> {
    const data = { title: texts.name, value, label: texts.create };
    const asking = this.dialog.open<AskName, unknown, string>(AskName, { data, width: '380px' });
    const name = await firstValueFrom(asking.afterClosed());
    if (name === undefined) return;
    try {
      const { id } = await firstValueFrom(this.service.add({ name, from }));
      await this.router.navigate(['/campaigns', id]);
    } catch (error) {
      this.notices.failure(error);
    }
  }
}
