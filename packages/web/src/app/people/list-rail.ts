import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { RouterLink, RouterLinkActive } from '@angular/router';
import { LiveUpdates } from '../live/live-updates';
import { PeopleService } from './people-service';

/** The lists, the suppression list, and the way to a new list. */
@Component({
  selector: 'bt-list-rail',
  imports: [RouterLink, RouterLinkActive, MatButton],
  template: `
    <a matButton="filled" routerLink="/people/import">Bring in people</a>
    <h3>Lists</h3>
    @for (list of lists(); track list.id) {
      <a class="item" [routerLink]="['/people', list.id]" routerLinkActive="here" ariaCurrentWhenActive="page"
        ><span>{{ list.name }}</span
        >&ngsp;<b>{{ list.people }}</b></a
      >
    } @empty {
      <p class="quiet">None yet.</p>
    }
    <h3>Never write to</h3>
    <a class="item" routerLink="/people/suppressions" routerLinkActive="here" ariaCurrentWhenActive="page"
      ><span>Suppression list</span>&ngsp;<b>{{ suppressions()?.length }}</b></a
    >
  `,
  styleUrl: './list-rail.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ListRail {
  private readonly people = inject(PeopleService);
  private readonly live = inject(LiveUpdates);
  protected readonly lists = this.live.view(['people'], () => this.people.lists());
  protected readonly suppressions = this.live.view(['people'], () => this.people.suppressions());
}
