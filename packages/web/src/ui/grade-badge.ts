import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';

/** A grade at a glance: the fit band's name in a square of deepening teal, and one to four rising bars for engagement. */
@Component({
  selector: 'rv-grade',
  template: `
    @let name = grade();
    @if (name) {
      <span class="grade" [attr.aria-label]="'Grade ' + name" [title]="name" role="img">
        <span class="square depth-{{ depth() }}">{{ letter() }}</span>
        <span class="bars">
          @for (bar of bars(); track $index) {
            <i [class.on]="bar.on" [style.height.px]="bar.height"></i>
          }
        </span>
      </span>
    } @else {
      <span class="quiet" title="A value can’t be judged">no grade</span>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GradeBadge {
  readonly grade = input.required<string | null>();
  readonly fitBand = input.required<number | null>();
  readonly engagementBand = input.required<number | null>();
  readonly bands = input(4);

  protected readonly letter = computed(() => this.grade()?.split(' ')[0] ?? '');
  protected readonly depth = computed(() => Math.min(5, this.fitBand() ?? 0));
  protected readonly bars = computed(() =>
    Array.from({ length: this.bands() }, (_, i) => ({
      on: i <= (this.engagementBand() ?? -1),
      height: 5 + (i * 10) / Math.max(1, this.bands() - 1),
    })),
  );
}
