import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { People } from '@relvik/contracts';
import {
  choosesAmong,
  type Destination,
  fieldName,
  type Method,
  METHOD_WORDS,
  METHODS,
  type NobodyFree,
  nobodyFreeWords,
  type Respects,
  RESPECTS_ALL,
  type Route,
  SKILL_FIELD_TYPES,
  type SkillMatch,
  type TaskRule,
  TOLD,
  type Told,
  TOLD_WORDS,
} from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { TaskRules } from '../task/task-rules';
import { TagWords } from '../record/tag-words';
import { WordingService } from '../wording/wording.service';
import { DestinationForm } from './destination-form';
import { NobodyFreeForm } from './nobody-free-form';

/** Edits where a route leads: destination, method, restrictions, skills, and the nobody-free rule. */
@Component({
  selector: 'rv-route-choice',
  imports: [FormsModule, SelectModule, DestinationForm, NobodyFreeForm, TagWords, TaskRules],
  templateUrl: './route-choice.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RouteChoice {
  private readonly words = inject(WordingService);
  readonly route = input.required<Route>();
  readonly people = input.required<People>();
  /** The stream’s nobody-free rule. */
  readonly ofStream = input.required<NobodyFree>();
  readonly changed = output<Route>();

  protected readonly methods = METHODS.map((value) => ({ value, label: METHOD_WORDS[value] }));
  protected readonly method = computed(() => this.route().method ?? 'round-robin');
  protected readonly respects = computed(() => this.route().respects ?? RESPECTS_ALL);
  protected readonly skills = computed(() => this.route().skills ?? []);
  protected readonly gives = computed(() => this.route().to.kind !== 'nobody');
  protected readonly tags = computed(() => this.route().tags ?? []);
  protected readonly tell = computed(() => this.route().tell ?? []);
  protected readonly tasks = computed(() => this.route().tasks ?? []);
  protected readonly told = TOLD.map((key) => ({ key, name: TOLD_WORDS[key] }));
  protected readonly said = computed(() => this.route().nobodyFree ?? null);
  protected readonly choosing = computed(() => {
    const { to } = this.route();
    return choosesAmong(to) || (to.kind === 'handed-on' && to.minutes !== null);
  });
  protected readonly givesToPeople = computed(
    () => this.choosing() || ['rep', 'company-owner'].includes(this.route().to.kind),
  );
  protected readonly streamWords = computed(() => nobodyFreeWords(this.ofStream(), this.words.wording().names));
  protected readonly lists = computed(() => [...this.people().skills]);
  protected readonly fields = computed(() =>
    [...this.words.catalogue().values()]
      .filter(
        ({ key, type, personal }) =>
          SKILL_FIELD_TYPES.includes(type) && personal !== true && !/^(contact|deal)\./.test(key) && key !== 'tags',
      )
      // Those with options first: words of a free text are seldom skills.
      .sort((a, b) => SKILL_FIELD_TYPES.indexOf(a.type) - SKILL_FIELD_TYPES.indexOf(b.type))
      .map((field) => ({ key: field.key, name: fieldName(field) })),
  );

  protected aim(to: Destination): void {
    const route = this.route();
    const [list] = this.people().skills;
    const [field] = this.fields();
    const asks = to.kind === 'skilled' && this.skills().length === 0 && list !== undefined && field !== undefined;
    // While the owner is away, the routes below take over, unless something else is said.
    const owner: Partial<Route> =
      to.kind === 'company-owner' && this.said() === null ? { nobodyFree: { kind: 'next-route' } } : {};
    const skills: Partial<Route> = asks ? { skills: [{ skill: list.key, field: field.key }] } : {};
    this.changed.emit({ ...route, to, ...owner, ...skills });
  }

  protected choose(method: Method): void {
    this.changed.emit({ ...this.route(), method });
  }

  protected turn(part: keyof Respects): void {
    const respects = this.respects();
    this.changed.emit({ ...this.route(), respects: { ...respects, [part]: !respects[part] } });
  }

  protected ask(at: number, match: Partial<SkillMatch>): void {
    this.changed.emit({
      ...this.route(),
      skills: this.skills().map((one, i) => (i === at ? { ...one, ...match } : one)),
    });
  }

  protected addSkill(): void {
    const [list] = this.people().skills;
    const [field] = this.fields();
    if (list === undefined || field === undefined) return;
    this.changed.emit({ ...this.route(), skills: [...this.skills(), { skill: list.key, field: field.key }] });
  }

  protected dropSkill(at: number): void {
    this.changed.emit({ ...this.route(), skills: this.skills().filter((_, i) => i !== at) });
  }

  /** No tag is the same charter as before there were any. */
  protected tag(words: readonly string[]): void {
    this.changed.emit({ ...this.route(), tags: words.length === 0 ? undefined : words });
  }

  protected make(tasks: readonly TaskRule[]): void {
    this.changed.emit({ ...this.route(), tasks: tasks.length === 0 ? undefined : tasks });
  }

  protected turnTold(key: Told): void {
    const tell = TOLD.filter((one) => (one === key) !== this.tell().includes(one));
    this.changed.emit({ ...this.route(), tell: tell.length === 0 ? undefined : tell });
  }

  protected say(nobodyFree: NobodyFree | null): void {
    this.changed.emit({ ...this.route(), nobodyFree });
  }
}
