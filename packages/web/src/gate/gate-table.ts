import { DecimalPipe } from '@angular/common';
import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  Injector,
  input,
  model,
  signal,
  untracked,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { PipelineFigures } from '@relvik/contracts';
import {
  askedWords,
  BY_RULE,
  type Condition,
  conditionWords,
  effectWords,
  endsOf,
  type Gate,
  type GateWaits,
  passedThrough,
  type Pipeline,
  type PipelineKind,
  stagesOf,
  TIE_KINDS,
} from '@relvik/core';
import { MultiSelectModule } from 'primeng/multiselect';
import { SelectModule } from 'primeng/select';
import { CharterService } from '../charter/charter.service';
import { freshKey } from '../ui/fresh-key';
import { ConditionEditor } from '../condition/condition-editor';
import { GateDecider } from './gate-decider';
import { GateEffects } from './gate-effects';
import { ImpactService } from '../impact/impact.service';
import { singularHeadingOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';

/** The gates that begin or end in a pipeline, in the order in which they are asked; changed in place in the draft. */
@Component({
  selector: 'rv-gate-table',
  imports: [DecimalPipe, FormsModule, MultiSelectModule, SelectModule, ConditionEditor, GateDecider, GateEffects],
  templateUrl: './gate-table.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GateTable {
  protected readonly charters = inject(CharterService);
  private readonly impacts = inject(ImpactService);
  private readonly words = inject(WordingService);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly injector = inject(Injector);
  readonly pipeline = input.required<Pipeline>();
  readonly figures = input.required<PipelineFigures | null>();
  /** The gate whose editor is open, by key. */
  readonly editing = model<string | null>(null);
  /** In which a least time is typed where none is asked for yet. */
  private readonly unit = signal<Unit>('days');
  protected readonly units: Unit[] = ['days', 'hours'];
  private readonly waits = signal<Readonly<Record<string, GateWaits>>>({});

  /** Fields that a gate may require: those of the records that it moves, and of their contact and company. */
  protected readonly fieldOptions = computed(() => [
    ...this.words.fieldsOf(this.pipeline().of).map(({ key, name }) => ({ value: key, label: name })),
    ...TIE_KINDS.flatMap((kind) =>
      this.words.fieldsOf(kind).map(({ key, name }) => ({ value: key, label: `${singularHeadingOf(kind)}: ${name}` })),
    ),
  ]);
  protected readonly stageOptions = computed(() => {
    const charter = this.charters.shown();
    const own = new Set<string>(this.pipeline().stages.map(({ key }) => key));
    return (charter === null ? [] : stagesOf(charter, this.pipeline().of)).map(({ key, name }) => {
      const other = own.has(key)
        ? null
        : charter?.pipelines.find(({ stages }) => stages.some((one) => one.key === key));
      return { value: key, label: other ? `${other.name}: ${name}` : name };
    });
  });

  protected readonly gates = computed(() => {
    const before = new Map((this.charters.inForce()?.charter.gates ?? []).map((gate) => [gate.key, gate]));
    const own = new Set(this.pipeline().stages.map(({ key }) => key));
    const stageName = (key: string): string => this.stageOptions().find(({ value }) => value === key)?.label ?? key;
    const moves = this.figures()?.moves ?? [];
    return (this.charters.shown()?.gates ?? [])
      .filter((gate) => own.has(gate.from) || endsOf(gate).some((to) => own.has(to)))
      .map((gate) => ({
        ...gate,
        fromName: stageName(gate.from),
        toName: stageName(gate.to),
        others: endsOf(gate).slice(1).map(stageName),
        words: conditionWords(gate.when, this.charters.wording()),
        also: this.alsoWords(gate),
        least: this.leastOf(gate),
        decides: this.deciderOf(gate),
        changed: JSON.stringify(before.get(gate.key)) !== JSON.stringify(gate),
        tally: this.impacts.tally()?.gates[gate.key] ?? null,
        waits: waitWords(this.waits()[gate.key]),
        passed: passedThrough(moves, gate.key),
      }));
  });

  constructor() {
    effect(() => {
      // A gate that was chosen on the drawing may be far below it.
      if (this.editing() === null) return;
      afterNextRender(
        () => {
          const host = this.host.nativeElement;
          host.querySelector('.editing-row')?.scrollIntoView({ block: 'nearest' });
        },
        { injector: this.injector },
      );
    });
    effect(() => {
      // Asked again when the draft changes around it, or the population comes.
      this.impacts.impact();
      const kind = this.pipeline().of;
      untracked(() => void this.countWaits(kind));
    });
    effect(() => {
      this.impacts.gatesOf.set(this.pipeline().of);
    });
    inject(DestroyRef).onDestroy(() => {
      this.impacts.gatesOf.set(null);
    });
  }

  private async countWaits(kind: PipelineKind): Promise<void> {
    const found = await this.impacts.waits(kind).catch(() => null);
    if (found !== null && kind === this.pipeline().of) this.waits.set(found);
  }

  /** Its required fields, time and effects, beside its condition. */
  private alsoWords({ requiredFields, effects, ...gate }: Gate): string {
    const wording = this.charters.wording();
    const { names } = wording;
    const { count, unit } = this.leastOf(gate);
    const fields = requiredFields.map((field) => names.field(field)).join(', ');
    return [
      ...(fields === '' ? [] : [`filled: ${fields}`]),
      ...(count === 0 ? [] : [`at least ${count} ${count === 1 ? unit.slice(0, -1) : unit} in the stage`]),
      ...(effects.length === 0 ? [] : [`then ${effects.map((effect) => effectWords(effect, wording)).join(', ')}`]),
    ].join(' · ');
  }

  private leastOf({ minDays, minHours }: Pick<Gate, 'minDays' | 'minHours'>): { count: number; unit: Unit } {
    if (minHours > 0) return { count: minHours, unit: 'hours' };
    return { count: minDays, unit: minDays > 0 ? 'days' : this.unit() };
  }

  /** The decider, in few words. */
  private deciderOf({ decider }: Gate): string {
    switch (decider.kind) {
      case 'rule':
        return 'by rule';
      case 'person':
        return 'a person only';
      case 'asks':
        return `asks ${askedWords(decider, this.charters.wording().names)}`;
    }
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

  /** A whole number, at least 0; anything else leaves it as it is. */
  protected setLeast(gate: Gate, typed: HTMLInputElement): void {
    const { count, unit } = this.leastOf(gate);
    const wanted = typed.value.trim() === '' ? 0 : Number(typed.value);
    if (Number.isInteger(wanted) && wanted >= 0 && wanted <= MOST[unit]) this.edit(gate.key, least(wanted, unit));
    else typed.value = String(count);
  }

  protected setUnit(gate: Gate, unit: Unit): void {
    this.unit.set(unit);
    this.edit(gate.key, least(Math.min(this.leastOf(gate).count, MOST[unit]), unit));
  }

  protected takeOut(key: string): void {
    this.change((gates) => gates.filter((gate) => gate.key !== key));
  }

  /** Lets a gate change places with the one shown before it. */
  protected moveUp(key: string): void {
    const shown = this.gates().map((gate) => gate.key);
    const other = shown[shown.indexOf(key) - 1];
    if (other === undefined) return;
    this.change((gates) => {
      const of = (wanted: string): Gate | undefined => gates.find((gate) => gate.key === wanted);
      return gates.map((gate) => (gate.key === key ? of(other) : gate.key === other ? of(key) : gate) ?? gate);
    });
  }

  /** A new gate moves nobody before it is told when. */
  protected add(): void {
    const [from, to] = this.pipeline().stages;
    if (from === undefined || to === undefined) return;
    const key = freshKey(
      'gate',
      (this.charters.shown()?.gates ?? []).map((gate) => gate.key),
    );
    const never: Condition = { test: 'any', of: [] };
    const fresh: Gate = {
      ...{ key, name: 'New gate', from: from.key, to: to.key, on: true, when: never },
      ...{ requiredFields: [], minDays: 0, minHours: 0, effects: [], decider: BY_RULE },
    };
    this.change((gates) => [...gates, fresh]);
    this.editing.set(key);
  }
}

type Unit = 'days' | 'hours';
const MOST: Readonly<Record<Unit, number>> = { days: 3650, hours: 1000 };

function least(count: number, unit: Unit): Pick<Gate, 'minDays' | 'minHours'> {
  return unit === 'hours' ? { minDays: 0, minHours: count } : { minDays: count, minHours: 0 };
}

function waitWords(waits: GateWaits | undefined): string {
  if (waits === undefined) return '';
  const some = (count: number, of: string): string[] =>
    count === 0 ? [] : [`${count.toLocaleString('en')} for ${of}`];
  return [...some(waits.field, 'a field'), ...some(waits.time, 'time'), ...some(waits.person, 'a person')].join(' · ');
}
