import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { Tell, VerdictKey } from '@relvik/core';
import { MultiSelectModule } from 'primeng/multiselect';
import { CharterService } from '../charter/charter.service';

const NAMES: Readonly<Record<Tell, string>> = {
  owner: 'the owner',
  manager: 'managers of the owner’s teams',
  operations: 'operations',
};

/** For each verdict who is told when a lead gets it. */
@Component({
  selector: 'rv-verdict-tells',
  imports: [FormsModule, MultiSelectModule],
  template: `
    <h2>Who is told <span class="quiet">when a lead gets another verdict; whoever gets a lead is told anyway</span></h2>
    <dl class="tells">
      @for (one of verdicts(); track one.key) {
        <div [class.in-draft-row]="one.changed">
          <dt>{{ one.name }}</dt>
          <dd>
            @if (charters.draft()) {
              <p-multiselect
                size="small"
                [ariaLabel]="'Who is told of ' + one.name"
                placeholder="nobody"
                [options]="options"
                optionLabel="name"
                optionValue="key"
                [showHeader]="false"
                [ngModel]="one.tells"
                (ngModelChange)="tell(one.key, $event)"
              />
            } @else {
              {{ one.words }}
            }
          </dd>
        </div>
      }
    </dl>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class VerdictTells {
  protected readonly charters = inject(CharterService);
  protected readonly options = (Object.keys(NAMES) as Tell[]).map((key) => ({ key, name: NAMES[key] }));
  protected readonly verdicts = computed(() => {
    const before = this.charters.inForce()?.charter.verdicts ?? [];
    return (this.charters.shown()?.verdicts ?? []).map(({ key, name, tells }) => ({
      ...{ key, name, tells: [...tells] },
      words: tells.map((one) => NAMES[one]).join(', ') || 'nobody',
      changed: before.find((one) => one.key === key)?.tells.join() !== tells.join(),
    }));
  });

  protected tell(verdict: VerdictKey, tells: readonly Tell[]): void {
    this.charters.change((charter) => ({
      ...charter,
      verdicts: charter.verdicts.map((one) =>
        one.key === verdict
          ? { ...one, tells: this.options.flatMap(({ key }) => (tells.includes(key) ? [key] : [])) }
          : one,
      ),
    }));
  }
}
