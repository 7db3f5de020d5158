import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { ProblemDocument } from '@relvik/contracts';

/** A problem in words, with every place it names. */
@Component({
  selector: 'rv-problem-note',
  imports: [RouterLink],
  template: `
    @let what = problem();
    @if (what) {
      <div class="problem" role="alert">
        <strong>{{ what.title }}</strong>
        @if (what.detail) {
          <span> {{ what.detail }}</span>
        }
        @if (what.other; as other) {
          <a [routerLink]="['/leads', other]">Open lead {{ other }}</a>
        }
        @if (places().length > 0) {
          <ul>
            @for (error of places(); track $index) {
              <li>
                @if (error.where) {
                  <span class="code">{{ error.where }}</span>
                }
                {{ error.message }}
              </li>
            }
          </ul>
        }
      </div>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProblemNote {
  readonly problem = input.required<ProblemDocument | null>();
  protected readonly places = computed(() =>
    (this.problem()?.errors ?? []).map(({ path, message }) => ({
      // Of a charter the message says where.
      where: path.startsWith('/charter/') ? '' : path.replace(/^\/(values\/)?/, ''),
      message,
    })),
  );
}
