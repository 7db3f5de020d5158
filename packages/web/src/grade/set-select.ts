import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { SelectModule } from 'primeng/select';
import { SetChoice } from '../charter/set-choice';
import { ImpactService } from '../impact/impact.service';
import { pluralOf } from '../wording/kind-words';

/** Which score set is looked at, in one line; they are made and put in order on Score. */
@Component({
  selector: 'rv-set-select',
  imports: [DecimalPipe, FormsModule, SelectModule],
  template: `
    @if (sets().length > 1) {
      <p class="set-select">
        <span>Score set</span>
        <p-select
          ariaLabel="Score set"
          [options]="sets()"
          optionLabel="name"
          optionValue="key"
          [ngModel]="choice.key()"
          (ngModelChange)="choice.choose($event)"
        />
        @if (tally(); as counts) {
          <span class="quiet">
            admits {{ counts.admits | number }}, grades {{ counts.grades | number }}, if all came in now
          </span>
        }
      </p>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SetSelect {
  private readonly impacts = inject(ImpactService);
  protected readonly choice = inject(SetChoice);
  protected readonly sets = computed(() =>
    this.choice.sets().map(({ key, name, of }) => ({ key, name: of === 'lead' ? name : `${name} (${pluralOf(of)})` })),
  );
  protected readonly tally = computed(() => this.impacts.tally()?.sets[this.choice.key() ?? ''] ?? null);
}
