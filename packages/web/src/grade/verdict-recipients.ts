import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { Recipient, VerdictKey } from '@relvik/core';
import { MultiSelectModule } from 'primeng/multiselect';
import { CharterService } from '../charter/charter.service';

const NAMES: Readonly<Record<Recipient, string>> = {
  owner: 'the owner',
  manager: 'managers of the owner’s teams',
  operations: 'operations',
};

/** For each verdict the recipients of a notice when a lead gets it. */
@Component({
  selector: 'rv-verdict-recipients',
  imports: [FormsModule, MultiSelectModule],
  template: `
    <h2>Who is told <span class="quiet">when a lead gets another verdict; whoever gets a lead is told anyway</span></h2>
    <dl class="recipients">
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
                [ngModel]="one.notify"
                (ngModelChange)="setRecipients(one.key, $event)"
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
export class VerdictRecipients {
  protected readonly charters = inject(CharterService);
  protected readonly options = (Object.keys(NAMES) as Recipient[]).map((key) => ({ key, name: NAMES[key] }));
  protected readonly verdicts = computed(() => {
    const before = this.charters.inForce()?.charter.verdicts ?? [];
    return (this.charters.shown()?.verdicts ?? []).map(({ key, name, notify }) => ({
      ...{ key, name, notify: [...notify] },
      words: notify.map((one) => NAMES[one]).join(', ') || 'nobody',
      changed: before.find((one) => one.key === key)?.notify.join() !== notify.join(),
    }));
  });

  protected setRecipients(verdict: VerdictKey, notify: readonly Recipient[]): void {
    this.charters.change((charter) => ({
      ...charter,
      verdicts: charter.verdicts.map((one) =>
        one.key === verdict
          ? { ...one, notify: this.options.flatMap(({ key }) => (notify.includes(key) ? [key] : [])) }
          : one,
      ),
    }));
  }
}
