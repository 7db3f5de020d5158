import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output } from '@angular/core';
import { Router } from '@angular/router';
import type { RecordDetail } from '@relvik/contracts';
import type { TieKind } from '@relvik/core';
import { type Observable, tap } from 'rxjs';
import { AgoPipe } from '../api/ago.pipe';
import { type Join, JoinTwo } from '../record/join-two';
import { pathOf } from '../wording/kind-words';
import { RecordService } from './record.service';

/** Joins a contact or company with another that is the same, and takes apart what was joined. */
@Component({
  selector: 'rv-party-joins',
  imports: [AgoPipe, JoinTwo],
  template: `
    @for (gone of record().joined; track gone.id) {
      <p class="quiet">
        {{ gone.name || 'No name' }} ({{ kind() }} {{ gone.id }}) was joined into this one {{ gone.at | ago }}.
        @if (record().may.edit && gone.undoUntil > record().asOf) {
          <button type="button" class="link" (click)="undo(gone.id)">Take it apart again</button>
        }
      </p>
    }
    @if (joining(); as which) {
      <rv-join-two
        [kind]="kind()"
        [ask]="ask()"
        [other]="which.other"
        [busy]="busy()"
        (join)="joinWith($event)"
        (closed)="joining.set(null)"
      />
    } @else if (record().may.edit) {
      <p>
        <button type="button" class="link" (click)="joining.set({ other: null })">
          Join with another {{ kind() }}…
        </button>
      </p>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PartyJoins {
  private readonly records = inject(RecordService);
  private readonly router = inject(Router);
  readonly kind = input.required<TieKind>();
  readonly record = input.required<RecordDetail>();
  /** The one it may be joined with, where that was suggested. */
  readonly other = input<number | null>(null);
  readonly busy = input.required<boolean>();
  readonly run = output<Observable<unknown>>();

  /** Set while another to join with is chosen. */
  protected readonly joining = linkedSignal<{ readonly other: number | null } | null>(() => {
    const other = this.other();
    return other === null ? null : { other };
  });
  protected readonly ask = computed(() => {
    const [kind, id] = [this.kind(), this.record().id];
    return (other: number) => this.records.joinPreview(kind, id, other);
  });

  protected joinWith({ other, take }: Join): void {
    const kind = this.kind();
    const joined = this.records.join(kind, this.record().id, other, take);
    this.run.emit(joined.pipe(tap(({ id }) => void this.router.navigate([pathOf(kind), id]))));
    this.joining.set(null);
  }

  protected undo(younger: number): void {
    this.run.emit(this.records.undoJoin(this.kind(), younger));
  }
}
