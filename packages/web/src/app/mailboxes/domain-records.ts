import { ChangeDetectionStrategy, Component, computed, effect, ElementRef, inject, input } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute } from '@angular/router';
import { catchError, of, switchMap } from 'rxjs';
import { MailboxesService } from './mailboxes-service';
import { mailboxesTexts } from './texts';

const texts = mailboxesTexts.domainRecords;

/** By which a link leads to the records on a mailbox's page. */
export const RECORDS = 'records';

/** What receivers find about the domain of a mailbox. */
@Component({
  selector: 'bt-domain-records',
  template: `
    <h2 class="section" [id]="anchor">{{ texts.dnsRecordsOf(domain()) }}</h2>
    <ul>
      @for (f of records(); track f.record) {
        <li>
          <span class="tag" [class]="f.state">{{ f.record }}</span>
          <span
            >{{ f.words }} <code class="quiet">{{ f.found }}</code></span
          >
        </li>
      }
    </ul>
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    ul {
      display: grid;
      gap: 8px;
      margin: 0;
      padding: 0;
      list-style: none;
    }
    li {
      display: grid;
      grid-template-columns: 62px minmax(0, 1fr);
      gap: 8px;
    }
    .tag {
      align-self: start;
    }
    code {
      display: block;
      font-size: 12.5px;
      overflow-wrap: anywhere;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DomainRecords {
  protected readonly texts = texts;
  protected readonly anchor = RECORDS;
  private readonly service = inject(MailboxesService);
  readonly mailboxId = input.required<number>();
  readonly address = input.required<string>();
  protected readonly domain = computed(() => this.address().split('@').at(-1) ?? '');
  protected readonly records = toSignal(
    toObservable(this.mailboxId).pipe(switchMap((id) => this.service.records(id).pipe(catchError(() => of([]))))),
    { initialValue: [] },
  );

  constructor() {
    const own = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
    const isMeant = inject(ActivatedRoute).snapshot.fragment === RECORDS;
    effect(() => {
      if (isMeant && this.records().length > 0) own.scrollIntoView({ block: 'center' });
    });
  }
}
