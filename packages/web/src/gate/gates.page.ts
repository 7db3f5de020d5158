import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { type Condition, conditionWords, type Gate, entryOf, stagesOf, TIE_KINDS } from '@relvik/core';
import { MultiSelectModule } from 'primeng/multiselect';
import { SelectModule } from 'primeng/select';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { freshKey } from '../charter/fresh-key';
import { ConditionEditor } from '../condition/condition-editor';
import { DraftNote } from '../frame/draft-note';
import { HomeService } from '../home/home.service';
import { ImpactService } from '../impact/impact.service';
import { singularHeadingOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';

/** Gates: the stages from left to right, and the moves between them, changed in the draft. */
@Component({
  selector: 'rv-gates',
  imports: [DecimalPipe, FormsModule, MultiSelectModule, RouterLink, SelectModule, ConditionEditor, DraftNote, Waiting],
  templateUrl: './gates.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GatesPage {
  protected readonly charters = inject(CharterService);
  private readonly impacts = inject(ImpactService);
  private readonly words = inject(WordingService);
  private readonly counts = toSignal(asLoaded(this.charters.counts()), { initialValue: LOADING });
  private readonly home = inject(HomeService).home;
  protected readonly editing = signal<string | null>(null);

  protected readonly stages = computed(() => {
    const charter = this.charters.shown();
    const open = new Map((valueOf(this.home())?.byStage ?? []).map(({ stage, count }) => [stage, count]));
    const declined = valueOf(this.home())?.byStatus.find(({ status }) => status === 'disqualified')?.count ?? 0;
    return (charter ? stagesOf(charter, 'lead') : []).map((stage) => ({
      ...stage,
      count: stage.kind === 'out' ? declined : (open.get(stage.key) ?? 0),
      isEntry: charter !== null && entryOf(charter, 'lead') === stage.key,
      routes: charter?.streams.some((stream) => stream.on && stream.entering.includes(stage.key)) ?? false,
    }));
  });
  /** Fields that a gate may require: those of leads, and of their contact and company. */
  protected readonly fieldOptions = computed(() => [
    ...this.words.fieldsOf('lead').map(({ key, name }) => ({ value: key, label: name })),
    ...TIE_KINDS.flatMap((kind) =>
      this.words.fieldsOf(kind).map(({ key, name }) => ({ value: key, label: `${singularHeadingOf(kind)}: ${name}` })),
    ),
  ]);
  protected readonly stageOptions = computed(() => this.stages().map(({ key, name }) => ({ value: key, label: name })));

  protected readonly gates = computed(() => {
    const charter = this.charters.shown();
    const before = new Map((this.charters.inForce()?.charter.gates ?? []).map((gate) => [gate.key, gate]));
    const stageName = (key: string): string => this.stages().find((stage) => stage.key === key)?.name ?? key;
    return (charter?.gates ?? []).map((gate) => ({
      ...gate,
      fromName: stageName(gate.from),
      toName: stageName(gate.to),
      words: conditionWords(gate.when, this.charters.wording()),
      also: this.alsoWords(gate),
      changed: JSON.stringify(before.get(gate.key)) !== JSON.stringify(gate),
      tally: this.impacts.tally()?.gates[gate.key] ?? null,
      passed: valueOf(this.counts())?.gates[gate.key] ?? 0,
    }));
  });

  /** Its required fields and time, beside its condition. */
  private alsoWords({ requiredFields, minDays }: Gate): string {
    const { names } = this.charters.wording();
    const fields = requiredFields.map((field) => names.field(field)).join(', ');
    const days = minDays === 1 ? '1 day' : `${minDays} days`;
    return [
      ...(fields === '' ? [] : [`filled: ${fields}`]),
      ...(minDays === 0 ? [] : [`at least ${days} in the stage`]),
    ].join(' · ');
  }

  private change(change: (gates: readonly Gate[]) => readonly Gate[]): void {
    this.charters.change((charter) => ({ ...charter, gates: change(charter.gates) }));
  }

  protected edit(key: string, part: Partial<Gate>): void {
    this.change((gates) => gates.map((gate) => (gate.key === key ? { ...gate, ...part } : gate)));
  }

  protected rename(key: string, name: string): void {
    if (name.trim() !== '') this.edit(key, { name: name.trim() });
  }

  /** Whole days, at least 0; anything else leaves it as it is. */
  protected setLeast(key: string, typed: HTMLInputElement): void {
    const days = typed.value.trim() === '' ? 0 : Number(typed.value);
    if (Number.isInteger(days) && days >= 0 && days <= 3650) this.edit(key, { minDays: days });
    else typed.value = String(this.gates().find((gate) => gate.key === key)?.minDays ?? 0);
  }

  protected takeOut(key: string): void {
    this.change((gates) => gates.filter((gate) => gate.key !== key));
  }

  /** A new gate moves nobody before it is told when. */
  protected add(): void {
    const [from, to] = this.stages();
    if (from === undefined || to === undefined) return;
    const key = freshKey(
      'gate',
      this.gates().map((gate) => gate.key),
    );
    const never: Condition = { test: 'any', of: [] };
    const fresh: Gate = {
      ...{ key, name: 'New gate', from: from.key, to: to.key, on: true, when: never },
      ...{ requiredFields: [], minDays: 0 },
    };
    this.change((gates) => [...gates, fresh]);
    this.editing.set(key);
  }
}
