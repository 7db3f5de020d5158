import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { CharterService } from '../charter/charter.service';

/** Which charter is in force, which draft is open, and the way to enact it. */
@Component({
  selector: 'rv-charter-panel',
  imports: [FormsModule, RouterLink, ButtonModule, InputTextModule],
  template: `
    @let inForce = charters.inForce();
    @let draft = charters.draft();
    <div class="charter">
      <span class="mark force"></span>
      <span
        >In force <b>{{ inForce?.number ?? '–' }} · {{ inForce?.charter?.name }}</b></span
      >
    </div>
    @if (draft) {
      <div class="charter">
        <span class="mark draft"></span>
        <span
          >Draft <b>{{ draft.charter.name }}</b>
          @if (charters.saving() || charters.unsaved()) {
            <span class="quiet">saving …</span>
          }
        </span>
        <a pButton class="enact" routerLink="/enact">Enact…</a>
        <a class="link" routerLink="/charters">Compare</a>
      </div>
    } @else if (naming()) {
      <form class="charter" (ngSubmit)="begin()">
        <input
          pInputText
          name="draft"
          aria-label="Name of the draft"
          placeholder="Name of the draft"
          [(ngModel)]="name"
        />
        <button pButton type="submit" class="enact">Create</button>
      </form>
    } @else if (inForce) {
      <div class="charter">
        <span class="mark none"></span>
        <span class="quiet">No draft.</span>
        <button type="button" class="link" (click)="naming.set(true)">New draft</button>
        @if (charters.drafts().length > 0) {
          <a class="link" routerLink="/charters">Open one of {{ charters.drafts().length }}</a>
        }
      </div>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class CharterPanel {
  protected readonly charters = inject(CharterService);
  protected readonly naming = signal(false);
  protected name = '';

  protected begin(): void {
    if (this.name.trim() === '') return;
    this.charters.beginDraft(this.name.trim()).subscribe((done) => {
      // Refused: the name stays to be tried again, and the page says why.
      if (!done) return;
      this.naming.set(false);
      this.name = '';
    });
  }
}
