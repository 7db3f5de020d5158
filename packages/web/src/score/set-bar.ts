import { CdkDrag, type CdkDragDrop, CdkDragHandle, CdkDropList, moveItemInArray } from '@angular/cdk/drag-drop';
import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { conditionWords, MOST_SETS, type RecordKind, type ScoreSet, type Wording } from '@relvik/core';
import { CharterService } from '../charter/charter.service';
import { ImpactService } from '../impact/impact.service';
import { pluralOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';
import { copyOfSet, freshSet } from './more-sets';
import { SetChoice } from '../charter/set-choice';
import { SetEditor } from './set-editor';

/** Whom an entry condition admits. */
function admitsWords({ of, when }: ScoreSet, wording: Wording): string {
  const words = conditionWords(when, wording);
  return words === 'always' ? `every ${of}` : words === 'never' ? `no ${of} yet` : words;
}

/** The score sets of the charter in their order, of which one is looked at; in a draft they are changed here. */
@Component({
  selector: 'rv-set-bar',
  imports: [DecimalPipe, CdkDropList, CdkDrag, CdkDragHandle, SetEditor],
  templateUrl: './set-bar.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SetBar {
  private readonly charters = inject(CharterService);
  private readonly impacts = inject(ImpactService);
  private readonly words = inject(WordingService);
  protected readonly choice = inject(SetChoice);
  /** Whether sets are added, changed and moved here, and not only chosen. */
  protected readonly editable = computed(() => this.charters.draft() !== null);
  protected readonly editing = signal<string | null>(null);
  protected readonly plural = pluralOf;
  protected readonly full = computed(() => this.choice.sets().length >= MOST_SETS);

  protected readonly rows = computed(() => {
    const before = this.charters.inForce()?.charter.scoreSets ?? [];
    const tally = this.impacts.tally()?.sets ?? {};
    const now = this.choice.sets();
    const known = before.map(({ key }) => key).filter((key) => now.some((set) => set.key === key));
    const here = now.map(({ key }) => key).filter((key) => known.includes(key));
    return now.map((set) => {
      const old = before.find(({ key }) => key === set.key);
      const head = ({ name, on, when, fit, engagement }: ScoreSet): string =>
        JSON.stringify([name, on, when, fit, engagement]);
      return {
        set,
        when: admitsWords(set, this.words.wording()),
        tally: tally[set.key] ?? null,
        mark: old === undefined ? 'new' : known.indexOf(set.key) === here.indexOf(set.key) ? null : 'moved',
        changed: old === undefined || head(old) !== head(set),
      };
    });
  });

  protected open(key: string): void {
    this.choice.choose(key);
    this.editing.set(this.editing() === key ? null : key);
  }

  protected drop({ previousIndex, currentIndex }: CdkDragDrop<unknown>): void {
    this.move(previousIndex, currentIndex);
  }

  protected move(from: number, to: number): void {
    if (from === to) return;
    this.choice.changeAll((sets) => {
      const moved = [...sets];
      moveItemInArray(moved, from, to);
      return moved;
    });
  }

  protected turn(key: string): void {
    this.choice.changeOne(key, (set) => ({ ...set, on: !set.on }));
  }

  protected copy(set: ScoreSet): void {
    const twin = copyOfSet(set, this.choice.sets());
    this.choice.changeAll((sets) => sets.flatMap((one) => (one.key === set.key ? [one, twin] : [one])));
    this.choice.choose(twin.key);
    this.editing.set(twin.key);
  }

  /** A new set stands last and admits nobody before it is told whom. */
  protected add(of: RecordKind): void {
    const like = this.choice.set();
    if (like === null) return;
    const fresh = freshSet(of, like, this.choice.sets());
    this.choice.changeAll((sets) => [...sets, fresh]);
    this.choice.choose(fresh.key);
    this.editing.set(fresh.key);
  }

  protected takeOut(key: string): void {
    this.choice.changeAll((sets) => sets.filter((set) => set.key !== key));
    this.editing.set(null);
  }
}
