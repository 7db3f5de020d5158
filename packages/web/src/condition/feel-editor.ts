import {
  autocompletion,
  completionStatus,
  type CompletionContext,
  type CompletionResult,
  startCompletion,
} from '@codemirror/autocomplete';
import { HighlightStyle, LRLanguage, syntaxHighlighting } from '@codemirror/language';
import { type Diagnostic, forceLinting, linter } from '@codemirror/lint';
import { EditorState, Prec } from '@codemirror/state';
import { EditorView, keymap } from '@codemirror/view';
import { tags } from '@lezer/highlight';
import {
  ChangeDetectionStrategy,
  Component,
  effect,
  type ElementRef,
  inject,
  input,
  type OnDestroy,
  output,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { bindCondition, type Condition, type Problem, type Scope, Spot } from '@relvik/core';
import { conditionFromFeel, conditionToFeel, type FeelProblem, feelParser } from '@relvik/formats';
import { minimalSetup } from 'codemirror';
import { WordingService } from '../wording/wording.service';
import { feelCompletions } from './feel-completions';

const COLOURS = HighlightStyle.define([
  { tag: tags.string, color: '#557a2b' },
  { tag: tags.number, color: '#6a5a2b' },
  { tag: tags.keyword, color: '#165553', fontWeight: '600' },
  { tag: tags.operator, color: '#165553' },
  { tag: tags.variableName, color: '#12302e' },
  { tag: tags.bool, color: '#165553' },
]);
const LANGUAGE = LRLanguage.define({ parser: feelParser });

/** A condition as text in FEEL: what is wrong is underlined at its place, fields and values are offered while one types. */
@Component({
  selector: 'rv-feel-editor',
  template: `
    <div #host class="feel"></div>
    @if (problem(); as wrong) {
      <p class="wrong" role="alert">
        {{ wrong }} <span class="quiet">The rule stays as it was until this is right.</span>
      </p>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FeelEditor implements OnDestroy {
  private readonly words = inject(WordingService);
  readonly condition = input.required<Condition>();
  readonly scope = input.required<Scope>();
  readonly changed = output<Condition>();
  private readonly host = viewChild.required<ElementRef<HTMLElement>>('host');
  protected readonly problem = signal('');

  private view: EditorView | null = null;
  /** What the text said last, and before that, until it comes back: an echo leaves the text alone, however late it comes. */
  private said = '';
  private readonly echoes = new Set<string>();

  constructor() {
    effect(() => {
      const condition = this.condition();
      const scope = this.scope();
      const host = this.host().nativeElement;
      untracked(() => {
        this.show(condition, scope, host);
      });
    });
  }

  ngOnDestroy(): void {
    this.view?.destroy();
  }

  private show(condition: Condition, scope: Scope, host: HTMLElement): void {
    const asked = JSON.stringify(condition);
    if (asked === this.said) this.echoes.clear();
    if (asked === this.said || this.echoes.has(asked)) return;
    const written = conditionToFeel(condition, scope);
    this.said = asked;
    const doc = written.ok ? written.text : '';
    this.view ??= new EditorView({ parent: host, state: this.stateWith('') });
    this.view.dispatch({ changes: { from: 0, to: this.view.state.doc.length, insert: doc } });
    this.problem.set(written.ok ? '' : `This condition can’t be written as FEEL: ${written.why}.`);
  }

  private stateWith(doc: string): EditorState {
    return EditorState.create({
      doc,
      extensions: [
        minimalSetup,
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ 'aria-label': 'Condition in FEEL' }),
        LANGUAGE,
        syntaxHighlighting(COLOURS),
        Prec.highest(EditorView.domEventHandlers({ keydown: keepEscape })),
        autocompletion({ override: [(context) => this.complete(context)], activateOnTyping: true }),
        keymap.of([{ key: 'Ctrl-Space', run: startCompletion }]),
        linter(({ state }) => this.check(state.doc.toString()).map(diagnosticOf), { delay: 100 }),
        EditorView.updateListener.of(({ docChanged, state, view, transactions }) => {
          // What is set from outside says nothing new.
          if (
            !docChanged ||
            !transactions.some(
              (one) =>
                one.isUserEvent('input') ||
                one.isUserEvent('delete') ||
                one.isUserEvent('undo') ||
                one.isUserEvent('redo'),
            )
          )
            return;
          this.say(state.doc.toString());
          forceLinting(view);
        }),
      ],
    });
  }

  private complete(context: CompletionContext): CompletionResult | null {
    const found = feelCompletions(context.state.sliceDoc(0, context.pos), this.scope(), this.words.wording());
    if (found === null || (!context.explicit && found.from === context.pos)) return null;
    return { from: found.from, options: [...found.options], validFor: /^[\p{L}0-9_ ]*$/u };
  }

  /** What is wrong in a text: in its form, or in what it asks of a field. */
  private check(text: string): readonly FeelProblem[] {
    const reading = conditionFromFeel(text, this.scope());
    if (!reading.ok) return reading.problems;
    const problems: Problem[] = [];
    bindCondition(reading.condition, this.scope(), Spot.root(problems));
    return problems.map(({ path, message }) => ({ ...placeIn(reading.places, path, text.length), message }));
  }

  private say(text: string): void {
    const [first] = this.check(text);
    this.problem.set(first === undefined ? '' : `${first.message}.`);
    const reading = conditionFromFeel(text, this.scope());
    if (first !== undefined || !reading.ok) return;
    this.echoes.add(this.said);
    this.said = JSON.stringify(reading.condition);
    this.changed.emit(reading.condition);
  }
}

/** Escape closes what is offered first, and only then what is around the editor. */
function keepEscape(event: KeyboardEvent, view: EditorView): boolean {
  if (event.key === 'Escape' && completionStatus(view.state) !== null) event.stopPropagation();
  return false;
}

function diagnosticOf({ from, to, message }: FeelProblem): Diagnostic {
  return { from, to, message, severity: 'error' };
}

/** The place of a path, or of what holds it. */
function placeIn(
  places: ReadonlyMap<string, { readonly from: number; readonly to: number }>,
  path: string,
  length: number,
): { readonly from: number; readonly to: number } {
  for (let at = path; ; at = at.slice(0, at.lastIndexOf('/'))) {
    const place = places.get(at);
    if (place !== undefined) return place;
    if (at === '') return { from: 0, to: length };
  }
}
