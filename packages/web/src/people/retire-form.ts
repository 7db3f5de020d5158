import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { People, PersonRow, RetirePerson } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { SelectModule } from 'primeng/select';
import { WordingService } from '../wording/wording.service';
import { giveChoices, givenTo } from './give-choices';

/** Asks what becomes of the work of someone who goes. */
@Component({
  selector: 'rv-retire-form',
  imports: [FormsModule, ButtonModule, SelectModule],
  template: `
    <div class="joint retire">
      <span>{{ person().open === 1 ? '1 open lead goes to' : person().open + ' open leads go to' }}</span>
      <p-select
        ariaLabel="Who gets the leads"
        [group]="true"
        [filter]="true"
        [options]="choices()"
        optionLabel="label"
        optionValue="value"
        optionGroupLabel="label"
        optionGroupChildren="items"
        placeholder="Choose who, or by what"
        [ngModel]="leads()"
        [ngModelOptions]="{ standalone: true }"
        (ngModelChange)="leads.set($event)"
      />
      <span>deals, contacts, companies and other tasks to</span>
      <p-select
        ariaLabel="Who gets deals, contacts and companies"
        [filter]="true"
        [options]="heirs()"
        optionLabel="name"
        optionValue="key"
        [ngModel]="heir()"
        [ngModelOptions]="{ standalone: true }"
        (ngModelChange)="heir.set($event)"
      />
      <p-button
        type="button"
        label="Retire"
        size="small"
        severity="danger"
        [disabled]="leads() === null"
        (click)="retire()"
      />
      <small class="quiet"
        >They are signed out, and leave teams and queues; turns go on without them. What they closed stays
        theirs.</small
      >
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RetireForm {
  private readonly words = inject(WordingService);
  readonly person = input.required<PersonRow>();
  readonly people = input.required<People>();
  readonly retired = output<RetirePerson>();

  protected readonly leads = signal<string | null>(null);
  protected readonly heir = signal<string | null>(null);
  protected readonly choices = computed(() => giveChoices(this.people(), this.words.lists().routes, this.person().key));
  protected readonly heirs = computed(() => [
    { key: null, name: 'nobody' },
    ...this.people()
      .people.filter(({ key }) => key !== this.person().key)
      .map(({ key, name }) => ({ key, name })),
  ]);

  protected retire(): void {
    const leads = givenTo(this.leads());
    if (leads !== null) this.retired.emit({ leads, heir: this.heir() });
  }
}
