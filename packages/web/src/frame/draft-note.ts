import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { changesBetween, findingWords, fixOf, isError } from '@relvik/core';
import { CharterService } from '../charter/charter.service';
import { WordingService } from '../wording/wording.service';
import { ProblemNote } from '../api/problem-note';

/** On a page of the course: whether one draws in a draft here, and what is wrong with it. */
@Component({
  selector: 'rv-draft-note',
  imports: [ProblemNote],
  template: `
    @let draft = charters.draft();
    @if (draft) {
      <p class="draft-note">
        <span class="mark draft"></span> You are drawing in the draft <b>{{ draft.charter.name }}</b>. Nothing acts
        before it is enacted; what differs from what is in force is orange.
        @if (charters.canUndo()) {
          <button type="button" class="link" (click)="charters.undo()">Undo the last change</button>
        }
      </p>
    } @else if (charters.inForce()) {
      <p class="draft-note">
        <span class="mark force"></span> This is in force. To change it, begin a draft at the top right.
      </p>
    }
    <rv-problem-note [problem]="charters.problem()" />
    @if (charters.meanwhile(); as other) {
      <div class="problem" role="status">
        <strong>What {{ other.by }} changed meanwhile:</strong>
        <ul>
          @for (change of changes(); track $index) {
            <li>
              {{ change.what }}
              @if (change.from) {
                <s>{{ change.from }}</s> →
              }
              {{ change.to }}
            </li>
          }
        </ul>
        You see the draft as it is now. Make your change again if it still holds.
      </div>
    }
    @if (errors().length > 0) {
      <div class="problem" role="status">
        <strong>The draft can’t be enacted yet.</strong>
        <ul>
          @for (error of errors(); track $index) {
            <li>
              {{ error.words }}
              @if (error.fix; as fix) {
                <button type="button" class="link" (click)="charters.change(fix.apply)">{{ fix.words }}</button>
              }
            </li>
          }
        </ul>
      </div>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DraftNote {
  protected readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  /** What keeps the draft from being enacted. */
  protected readonly errors = computed(() => {
    const draft = this.charters.draft();
    if (draft === null) return [];
    const wording = this.charters.wording();
    return draft.findings.filter(isError).map((finding) => ({
      words: findingWords(finding, wording),
      fix: fixOf(finding, draft.charter, wording),
    }));
  });
  protected readonly changes = computed(() => {
    const other = this.charters.meanwhile();
    return other === null ? [] : changesBetween(other.before, other.after, this.words.wordingOf(other.after));
  });
}
