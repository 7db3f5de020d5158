import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { showValue } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { CharterService } from '../charter/charter.service';
import { ValueField } from '../record/value-field';
import { pathOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';
import { MomentForm } from './moment-form';
import { MomentService } from './moment.service';
import { TracedAccount } from './traced-account';
import { tracerSteps } from './tracer-steps';
import { TracerService } from './tracer.service';

/** The tracer in full: every value can be typed over, and the reasoning of both charters stands side by side. */
@Component({
  selector: 'rv-tracer',
  imports: [RouterLink, ButtonModule, MomentForm, TracedAccount, ValueField],
  templateUrl: './tracer.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TracerPage {
  protected readonly moment = inject(MomentService);
  protected readonly tracer = inject(TracerService);
  protected readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  protected readonly path = computed(() => pathOf(this.tracer.kind()));
  protected readonly steps = computed(() => tracerSteps(this.tracer.inForce(), this.tracer.draft()));
  protected readonly values = computed(() =>
    this.tracer.fields().map((field) => {
      const { now, stored } = this.tracer.valueOf(field.key);
      return {
        field,
        shown: this.tracer.typed().get(field.key) ?? showValue(now),
        stored: showValue(stored),
        over: this.tracer.typed().has(field.key),
        unreadable: now.kind === 'unreadable' ? now.why : null,
      };
    }),
  );
  protected readonly country = computed(() => {
    const { now } = this.tracer.valueOf(this.words.countryKey(this.tracer.kind()));
    return now.kind === 'text' ? now.text : '';
  });
}
