import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  type Alternative,
  type AskedGroup,
  BY_RULE,
  type Condition,
  conditionWords,
  type Decider,
  endsOf,
  type Gate,
  type QueueKey,
  type StageKey,
  type TeamKey,
} from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { CharterService } from '../charter/charter.service';
import { ConditionEditor } from '../condition/condition-editor';
import { WordingService } from '../wording/wording.service';

const KINDS: readonly { readonly value: Decider['kind']; readonly label: string }[] = [
  { value: 'rule', label: 'the rule' },
  { value: 'asks', label: 'a person, asked by the rule' },
  { value: 'person', label: 'a person only' },
];

/** A condition under which an alternative is the rule's pick, before it is told: never. */
const NEVER: Condition = { test: 'any', of: [] };

/** Edits the decider of a gate: by rule or by a person, the group asked without an owner, and further outcomes. */
@Component({
  selector: 'rv-gate-decider',
  imports: [FormsModule, SelectModule, ConditionEditor],
  template: `
    <div class="joint">
      <span>Who decides</span>
      <p-select
        [ariaLabel]="'Who decides ' + gate().name"
        [options]="kinds"
        optionLabel="label"
        optionValue="value"
        [ngModel]="gate().decider.kind"
        (ngModelChange)="setKind($event)"
      />
      @if (asking(); as asks) {
        <span>It asks its owner, else</span>
        <p-select
          [ariaLabel]="'Whom ' + gate().name + ' asks without an owner'"
          [options]="groups()"
          optionLabel="label"
          optionValue="value"
          [ngModel]="groupOf(asks)"
          (ngModelChange)="setGroup($event)"
        />
      }
    </div>
    @if (asking(); as asks) {
      @for (other of asks.alternatives; track $index; let i = $index) {
        <div class="joint">
          <span>or to</span>
          <p-select
            [ariaLabel]="'Stage of outcome ' + (i + 2)"
            [options]="stagesFor(other.to)"
            optionLabel="label"
            optionValue="value"
            [ngModel]="other.to"
            (ngModelChange)="change(i, { to: $event })"
          />
          <span>the rule’s pick if</span>
          <button
            type="button"
            class="link"
            [attr.aria-expanded]="open() === i"
            (click)="open.set(open() === i ? null : i)"
          >
            {{ words(other) }}
          </button>
          <button type="button" class="link" [attr.aria-label]="'Take out outcome ' + (i + 2)" (click)="takeOut(i)">
            ×
          </button>
        </div>
        @if (open() === i) {
          <rv-condition-editor [condition]="other.when" place="gate" (changed)="change(i, { when: $event })" />
        }
      }
      @if (free().length > 0) {
        <button type="button" class="link" (click)="add()">+ another outcome</button>
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GateDecider {
  private readonly charters = inject(CharterService);
  private readonly wording = inject(WordingService);
  readonly gate = input.required<Gate>();
  readonly stages = input.required<readonly { readonly value: StageKey; readonly label: string }[]>();
  readonly changed = output<Decider>();
  protected readonly kinds = [...KINDS];
  /** The alternative whose condition is edited. */
  protected readonly open = signal<number | null>(null);

  protected readonly asking = computed(() => {
    const { decider } = this.gate();
    return decider.kind === 'asks' ? decider : null;
  });
  protected readonly groups = computed(() => {
    const { teams, queues } = this.wording.lists();
    return [
      { value: '', label: 'nobody but the admins' },
      ...teams.map(({ key, name }) => ({ value: `team ${key}`, label: name })),
      ...queues.map(({ key, name }) => ({ value: `queue ${key}`, label: name })),
    ];
  });
  /** Stages to which the gate does not lead yet. */
  protected readonly free = computed(() => {
    const taken = new Set<string>([this.gate().from, ...endsOf(this.gate())]);
    return this.stages().filter(({ value }) => !taken.has(value));
  });

  protected stagesFor(own: StageKey): { readonly value: StageKey; readonly label: string }[] {
    return this.stages().filter(({ value }) => value === own || this.free().some((one) => one.value === value));
  }

  protected words({ when }: Alternative): string {
    return conditionWords(when, this.charters.wording());
  }

  protected groupOf({ withoutOwner }: NonNullable<ReturnType<typeof this.asking>>): string {
    switch (withoutOwner?.kind) {
      case undefined:
        return '';
      case 'team':
        return `team ${withoutOwner.team}`;
      case 'queue':
        return `queue ${withoutOwner.queue}`;
    }
  }

  protected setKind(kind: Decider['kind']): void {
    switch (kind) {
      case 'rule':
        this.changed.emit(BY_RULE);
        break;
      case 'person':
        this.changed.emit({ kind });
        break;
      case 'asks':
        this.changed.emit({ kind, withoutOwner: null, alternatives: [] });
    }
  }

  protected setGroup(group: string): void {
    const [kind, key] = group.split(' ');
    const withoutOwner: AskedGroup | null =
      kind === 'team' ? { kind, team: key as TeamKey } : kind === 'queue' ? { kind, queue: key as QueueKey } : null;
    this.ask({ withoutOwner });
  }

  protected change(at: number, part: Partial<Alternative>): void {
    this.ask({ alternatives: this.alternatives().map((one, i) => (i === at ? { ...one, ...part } : one)) });
  }

  protected takeOut(at: number): void {
    this.open.set(null);
    this.ask({ alternatives: this.alternatives().filter((_, i) => i !== at) });
  }

  protected add(): void {
    const [stage] = this.free();
    if (stage === undefined) return;
    this.open.set(this.alternatives().length);
    this.ask({ alternatives: [...this.alternatives(), { to: stage.value, when: NEVER }] });
  }

  private alternatives(): readonly Alternative[] {
    return this.asking()?.alternatives ?? [];
  }

  private ask(part: Partial<Extract<Decider, { kind: 'asks' }>>): void {
    const asks = this.asking();
    if (asks !== null) this.changed.emit({ ...asks, ...part });
  }
}
