import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { NavigationEnd, Router, RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { filter } from 'rxjs';
import { CharterService } from '../charter/charter.service';
import { HomeService } from '../home/home.service';
import { ImpactPanel } from './impact-panel';
import { TracerBar } from '../tracer/tracer-bar';
import { WordingService } from '../wording/wording.service';
import { ProposalService } from '../record/proposal.service';
import { TaskService } from '../task/task.service';
import { SessionService } from '../session/session.service';
import { CharterPanel } from './charter-panel';
import { CourseBand } from './course-band';
import { ImpactFolding } from './impact-folding';
import { StepKeys } from './step-keys';

/** Pages on which the draft is drawn. */
const DRAWN_ON = /^\/(score|grade|gates|territories|routes)$/;

const STEPS = /^\/(intake|score|grade|gates|territories|routes|people)$/;

/** The frame of every page: the course as navigation, what is in force and what is draft, and the work area. */
@Component({
  selector: 'rv-frame',
  imports: [RouterOutlet, RouterLink, RouterLinkActive, CharterPanel, CourseBand, ImpactPanel, TracerBar],
  hostDirectives: [StepKeys],
  templateUrl: './frame.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Frame {
  private readonly router = inject(Router);
  private readonly sessions = inject(SessionService);
  private readonly homes = inject(HomeService);
  private readonly folding = inject(ImpactFolding);
  private readonly proposals = inject(ProposalService);
  private readonly ofTasks = inject(TaskService);
  protected readonly tasks = this.ofTasks.counts;
  protected readonly session = this.sessions.session;
  protected readonly waiting = this.proposals.count;
  protected readonly admin = computed(() => this.session()?.role === 'admin');

  private readonly path = signal('');
  protected readonly impactShown = computed(() => this.admin() && DRAWN_ON.test(this.path()) && this.folding.open());

  /** Whether the page is a step of the course, which is drawn in full there. */
  protected readonly onStep = computed(() => STEPS.test(this.path()));

  constructor() {
    const charters = inject(CharterService);
    inject(WordingService).load();
    this.homes.load();
    this.proposals.load();
    this.ofTasks.load();
    if (this.admin()) charters.load();
    this.router.events
      .pipe(
        filter((event): event is NavigationEnd => event instanceof NavigationEnd),
        takeUntilDestroyed(),
      )
      .subscribe(({ urlAfterRedirects }) => {
        this.path.set(urlAfterRedirects.split(/[?#]/)[0] ?? '');
        this.homes.load();
        this.proposals.load();
        this.ofTasks.load();
      });
  }

  protected signOut(): void {
    this.sessions.signOut().subscribe(() => {
      // A full load: nothing of this user stays in memory.
      location.assign('/sign-in');
    });
  }
}
