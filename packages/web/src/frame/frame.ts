import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { NavigationEnd, Router, RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { filter } from 'rxjs';
import { valueOf } from '../api/loaded';
import { CharterService } from '../charter/charter.service';
import { HomeService } from '../home/home.service';
import { WordingService } from '../record/wording.service';
import { SessionService } from '../session/session.service';
import { CharterPanel } from './charter-panel';
import { StepKeys } from './step-keys';

interface Step {
  readonly name: string;
  readonly link: string;
  readonly count: number | null;
  readonly counts: string;
}

/** The frame of every page: the course as navigation, what is in force and what is draft, and the work area. */
@Component({
  selector: 'rv-frame',
  imports: [DecimalPipe, RouterOutlet, RouterLink, RouterLinkActive, CharterPanel],
  hostDirectives: [StepKeys],
  templateUrl: './frame.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Frame {
  private readonly router = inject(Router);
  private readonly sessions = inject(SessionService);
  private readonly homes = inject(HomeService);
  protected readonly session = this.sessions.session;
  protected readonly admin = computed(() => this.session()?.role === 'admin');

  protected readonly steps = computed((): readonly Step[] => {
    const course = valueOf(this.homes.home())?.course;
    return [
      { name: 'Intake', link: '/intake', count: course?.intake ?? null, counts: 'leads came in' },
      { name: 'Score', link: '/score', count: course?.score ?? null, counts: 'have a score' },
      { name: 'Grade', link: '/grade', count: course?.grade ?? null, counts: 'have a grade' },
      { name: 'Gates', link: '/gates', count: course?.gates ?? null, counts: 'passed to Qualified' },
      {
        name: 'Territories',
        link: '/territories',
        count: course?.territories ?? null,
        counts: 'of them lie in a territory',
      },
      { name: 'Routes', link: '/routes', count: course?.routes ?? null, counts: 'of them were taken by a route' },
      { name: 'People', link: '/people', count: course?.people ?? null, counts: 'of them came to an owner' },
    ];
  });

  constructor() {
    const charters = inject(CharterService);
    inject(WordingService).load();
    this.homes.load();
    if (this.admin()) charters.load();
    this.router.events
      .pipe(
        filter((event) => event instanceof NavigationEnd),
        takeUntilDestroyed(),
      )
      .subscribe(() => {
        this.homes.load();
      });
  }

  protected signOut(): void {
    this.sessions.signOut().subscribe(() => {
      // A full load: nothing of this user stays in memory.
      location.assign('/sign-in');
    });
  }
}
