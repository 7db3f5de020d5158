import { ChangeDetectionStrategy, Component, computed, effect, inject, untracked } from '@angular/core';
import { RouterLink, RouterLinkActive } from '@angular/router';
import { DecimalPipe } from '@angular/common';
import type { CourseCounts } from '@relvik/core';
import { area, curveMonotoneX, line } from 'd3';
import { valueOf } from '../api/loaded';
import { CharterService } from '../charter/charter.service';
import { HomeService } from '../home/home.service';
import { ImpactService } from '../impact/impact.service';

const STEPS = [
  { name: 'Intake', link: '/intake', key: 'intake', counts: 'leads came in' },
  { name: 'Score', link: '/score', key: 'score', counts: 'have a score on both axes' },
  { name: 'Grade', link: '/grade', key: 'grade', counts: 'have a grade' },
  { name: 'Gates', link: '/gates', key: 'gates', counts: 'passed to where routes act' },
  { name: 'Territories', link: '/territories', key: 'territories', counts: 'of them lie in a territory' },
  { name: 'Routes', link: '/routes', key: 'routes', counts: 'of them were taken by a route' },
  { name: 'People', link: '/people', key: 'people', counts: 'of them came to an owner' },
] as const;

const WIDTH = 700;
const STEP = WIDTH / STEPS.length;
const TALL = 46;
/** How wide a letter is about. */
const LETTER = 7;
/** Water that still runs is never thinner than this, so that it can be seen and met. */
const THIN = 5;

/** Where the lower bank lies after each step, for so many leads of all. */
function banks(counts: CourseCounts): number[] {
  const all = Math.max(1, counts.intake);
  return STEPS.map(({ key }) => THIN + ((TALL - THIN) * (counts[key] ?? counts.routes)) / all);
}

/** From step to step, with a calm stretch in the middle of each. */
function course(depths: readonly number[]): [x: number, y: number][] {
  return depths.flatMap((depth, s): [number, number][] => [
    [s * STEP + STEP * (s === 0 ? 0 : 0.3), depth],
    [s * STEP + STEP * (s === depths.length - 1 ? 1 : 0.7), depth],
  ]);
}

/** The course: one water through the seven steps, as wide as leads are many; with a draft, the draft's lies over it. */
@Component({
  selector: 'rv-course-band',
  imports: [DecimalPipe, RouterLink, RouterLinkActive],
  templateUrl: './course-band.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CourseBand {
  private readonly homes = inject(HomeService);
  private readonly impacts = inject(ImpactService);
  private readonly charters = inject(CharterService);

  constructor() {
    // The draft's water needs the impact, on whatever page one is. Asked once a save, not with every key.
    const saved = computed(() => this.charters.draft()?.version ?? null);
    effect(() => {
      if (saved() !== null)
        untracked(() => {
          this.impacts.want();
        });
    });
  }

  /** As the records stand; the same counts as the lists. */
  protected readonly counts = computed(() => valueOf(this.homes.home())?.course ?? null);
  protected readonly steps = computed(() => {
    const counts = this.counts();
    return STEPS.map((step) => ({ ...step, count: counts?.[step.key] ?? null }));
  });
  protected readonly water = computed(() => {
    const counts = this.counts();
    if (counts === null) return '';
    return (
      area()
        .x(([x]) => x)
        .y0(0)
        .y1(([, y]) => y)
        .curve(curveMonotoneX)(course(banks(counts))) ?? ''
    );
  });
  /** The draft's lower bank: what it changes against the charter in force, laid over the water as it is. */
  protected readonly draft = computed(() => {
    const counts = this.counts();
    const impact = this.impacts.impact();
    if (counts === null || impact === null || this.charters.draft() === null) return null;
    const { before, after } = impact.course;
    const owners = this.impacts.owners()?.course;
    const scale = counts.intake / Math.max(1, before.intake);
    const people = owners ? owners.after - owners.before : after.routes - before.routes;
    const moved: CourseCounts = {
      intake: counts.intake,
      score: counts.score + scale * (after.score - before.score),
      grade: counts.grade + scale * (after.grade - before.grade),
      gates: counts.gates + scale * (after.gates - before.gates),
      territories: counts.territories + scale * (after.territories - before.territories),
      routes: counts.routes + scale * (after.routes - before.routes),
      people: (counts.people ?? counts.routes) + scale * people,
    };
    return line().curve(curveMonotoneX)(course(banks(moved)));
  });
  protected readonly losses = computed(() => {
    const counts = this.counts();
    if (counts === null) return [];
    const depths = banks(counts);
    const people = counts.people ?? counts.routes;
    let taken = 0;
    return [
      { after: 1, text: 'can’t be judged', count: counts.intake - counts.grade },
      { after: 3, text: 'not handed over', count: counts.grade - counts.gates },
      { after: 4, text: 'open ground', count: counts.gates - counts.territories },
      { after: 6, text: 'queue or bay', count: counts.routes - people },
    ]
      .filter(({ count }) => count > 0)
      .map((loss) => {
        const x = loss.after * STEP;
        const y = ((depths[loss.after - 1] ?? 0) + (depths[loss.after] ?? 0)) / 2;
        // Words begin where the water leaves, or behind the words before them, and end inside the picture.
        const long = LETTER * `${loss.text} ${loss.count.toLocaleString('en')}`.length;
        const left = Math.max(taken, Math.min(x - 6, WIDTH - long));
        taken = left + long + 14;
        return { ...loss, x, path: `M${x - 12},${y - 3}q9,2 12,13`, left: `${(100 * left) / WIDTH}%` };
      });
  });
  protected readonly width = WIDTH;
}
