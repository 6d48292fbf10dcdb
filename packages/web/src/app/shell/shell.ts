import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  Injector,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed, toSignal } from '@angular/core/rxjs-interop';
import { MatButton } from '@angular/material/button';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { NavigationEnd, Router, RouterLink, RouterLinkActive, RouterOutlet, TitleStrategy } from '@angular/router';
import { filter, map, pairwise } from 'rxjs';
import { LiveUpdates } from '../live/live-updates';
import { MomentPipe } from '../time/workspace-time';
import { ShellState } from './shell-state';
import { shellTexts } from './texts';
import { CountPipe } from '../look/count-pipe';

const texts = shellTexts.shell;

const RATES = [
  { rate: 0, words: texts.held },
  { rate: 1, words: texts.realTime },
  { rate: 60, words: texts.minuteASecond },
  { rate: 600, words: texts.tenMinutesASecond },
  { rate: 3600, words: texts.hourASecond },
];
const HOUR_MS = 3_600_000;

/** The rail, the top line, and the page between them. */
@Component({
  selector: 'bt-shell',
  imports: [
    CountPipe,
    RouterOutlet,
    RouterLink,
    RouterLinkActive,
    MatButton,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    MomentPipe,
  ],
  templateUrl: './shell.html',
  styleUrl: './shell.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Shell {
  protected readonly texts = texts;
  private readonly state = inject(ShellState);
  private readonly router = inject(Router);
  private readonly titles = inject(TitleStrategy);
  protected readonly live = inject(LiveUpdates);
  protected readonly view = this.state.view;
  protected readonly rates = RATES;

  private readonly pageTitle = toSignal(
    this.router.events.pipe(
      filter((e) => e instanceof NavigationEnd),
      map(() => this.titles.buildTitle(this.router.routerState.snapshot) ?? ''),
    ),
    { initialValue: '' },
  );
  protected readonly title = computed(() => this.state.openTitle() ?? this.pageTitle());

  private readonly page = viewChild.required<ElementRef<HTMLElement>>('page');

  constructor() {
    const injector = inject(Injector);
    // The button that led to another page went with its own: the keyboard goes on in the new one, not at the top.
    this.router.events
      .pipe(
        filter((e) => e instanceof NavigationEnd),
        map((e) => e.urlAfterRedirects.split('?')[0]),
        pairwise(),
        filter(([from, to]) => from !== to),
        takeUntilDestroyed(),
      )
      .subscribe(() =>
        afterNextRender(
          () => document.activeElement === document.body && this.page().nativeElement.focus({ preventScroll: true }),
          { injector },
        ),
      );
  }

  protected readonly places = computed(() => {
    const view = this.view();
    return [
      { link: '/today', name: texts.today, count: 0 },
      { link: '/people', name: texts.people, count: 0 },
      { link: '/messages', name: texts.messages, count: 0 },
      { link: '/campaigns', name: texts.campaigns, count: 0 },
      { link: '/plan', name: texts.plan, count: 0 },
      { link: '/mailboxes', name: texts.mailboxes, count: view?.mailboxesInTrouble ?? 0 },
      { link: '/replies', name: texts.replies, count: view?.repliesWaiting ?? 0 },
      { link: '/results', name: texts.results, count: 0 },
    ];
  });

  protected readonly load = computed(() => {
    const view = this.view();
    return view
      ? {
          sent: view.sentToday,
          planned: view.plannedToday,
          share: view.plannedToday === 0 ? 0 : (100 * view.sentToday) / view.plannedToday,
        }
      : null;
  });

  protected readonly speed = computed(() => {
    const clock = this.view()?.clock;
    if (!clock?.simulated) return '';
    if (clock.driving) return texts.moving;
    return clock.rate === 0 ? texts.clockHeld : clock.rate === 1 ? texts.clockInRealTime : `${clock.rate}×`;
  });

  protected setRate(rate: number): void {
    void this.state.setClock({ rate });
  }

  protected toNextEvent(): void {
    void this.state.setClock({ toNextEvent: true });
  }

  protected forward(hours: number): void {
    const now = this.view()?.clock.nowMs;
    if (now !== undefined) void this.state.setClock({ untilMs: now + hours * HOUR_MS });
  }

  protected toggleHoldAll(): void {
    void this.state.setHeldAll(!this.view()?.heldAll);
  }
}
