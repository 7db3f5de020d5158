import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import type { Axis } from '@relvik/core';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { DraftNote } from '../frame/draft-note';
import { chosenBars } from '../score/chosen-bars';
import { DistributionChart } from '../score/distribution-chart';
import { SetChoice } from '../charter/set-choice';
import { withCut } from '../score/with-cut';
import { BandList } from './band-list';
import { GradeGrid } from './grade-grid';
import { SetSelect } from './set-select';
import { VerdictRecipients } from './verdict-recipients';

/** Grade: the cuts of both axes, and what each cell of the grid asks for. */
@Component({
  selector: 'rv-grade-page',
  imports: [BandList, DistributionChart, DraftNote, GradeGrid, SetSelect, VerdictRecipients, Waiting],
  templateUrl: './grade.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GradePage {
  protected readonly charters = inject(CharterService);
  private readonly choice = inject(SetChoice);
  protected readonly set = this.choice.set;
  protected readonly before = this.choice.inForce;
  protected readonly bars = chosenBars();
  protected readonly axes: readonly { readonly axis: Axis; readonly title: string }[] = [
    { axis: 'fit', title: 'Fit' },
    { axis: 'engagement', title: 'Engagement' },
  ];

  protected moveCut(axis: Axis, at: number, to: number): void {
    this.choice.change(withCut(axis, at, to));
  }
}
