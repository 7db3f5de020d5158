import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { People } from '@relvik/contracts';
import type { Destination, NobodyFree } from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { DestinationForm } from './destination-form';
import { firstOf } from './destinations';

const KINDS: readonly { readonly value: NobodyFree['kind']; readonly label: string }[] = [
  { value: 'wait', label: 'wait in the bay' },
  { value: 'next-route', label: 'try the next route' },
  { value: 'elsewhere', label: 'go elsewhere' },
  { value: 'ignore-limits', label: 'ignore limits' },
];

/** Edits the nobody-free rule of a stream or route. */
@Component({
  selector: 'rv-nobody-free-form',
  imports: [FormsModule, SelectModule, DestinationForm],
  template: `
    <p-select
      [ariaLabel]="label()"
      [options]="kinds()"
      optionLabel="label"
      optionValue="value"
      [ngModel]="said()?.kind ?? 'stream'"
      (ngModelChange)="change($event)"
    />
    @if (elsewhere(); as to) {
      <rv-destination-form
        [to]="to"
        [people]="people()"
        [elsewhere]="true"
        [label]="label() + ', elsewhere'"
        (changed)="changed.emit({ kind: 'elsewhere', to: $event })"
      />
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NobodyFreeForm {
  /** Null: as the stream says. */
  readonly said = input.required<NobodyFree | null>();
  /** The rule of the stream, in words; null: this is the stream’s own. */
  readonly ofStream = input.required<string | null>();
  readonly people = input.required<People>();
  readonly label = input.required<string>();
  readonly changed = output<NobodyFree | null>();

  protected readonly kinds = computed(() => {
    const ofStream = this.ofStream();
    return ofStream === null ? [...KINDS] : [{ value: 'stream', label: `as the stream says: ${ofStream}` }, ...KINDS];
  });
  protected readonly elsewhere = computed((): Destination | null => {
    const said = this.said();
    return said?.kind === 'elsewhere' ? said.to : null;
  });

  protected change(kind: NobodyFree['kind'] | 'stream'): void {
    if (kind === 'stream') this.changed.emit(null);
    else if (kind !== 'elsewhere') this.changed.emit({ kind });
    else {
      const to = firstOf('queue', this.people()) ?? firstOf('team', this.people());
      if (to !== null) this.changed.emit({ kind, to });
    }
  }
}
