import {
  type Bound,
  type Condition,
  MAX_DEPTH,
  MAX_TESTS,
  type Scope,
  type Subject,
  type Test,
  type TextPart,
} from '@relvik/core';
import { parser } from 'lezer-feel';
import { type ChoicesAsked, listContainsAt, quantifiedAt } from './choices-feel';
import { literalIn } from './literal';
import { subjectFeel } from './subject-feel';
import { SubjectReader } from './subject-from-feel';
import {
  childOf,
  childrenOf,
  inside,
  isLiteral,
  operands,
  refuse,
  type SyntaxNode,
  unaryTests,
  Unreadable,
} from './syntax-walk';

/** What is wrong in a text, and where: characters from `from` up to `to`, which is left out. */
export interface FeelProblem {
  readonly from: number;
  readonly to: number;
  readonly message: string;
}

/** Where the parts of a condition stand in the text, by their path in it, such as `/of/0`. */
export type FeelPlaces = ReadonlyMap<string, { readonly from: number; readonly to: number }>;

export type FeelReading =
  | { readonly ok: true; readonly condition: Condition; readonly places: FeelPlaces }
  | { readonly ok: false; readonly problems: readonly FeelProblem[] };

/** Reads an expression of FEEL; editors colour by it. */
export const feelParser = parser.configure({ top: 'Expression' });

/**
 * Reads a condition from an expression of FEEL: comparisons of a field with literals, `in` with lists and intervals,
 * `contains`, `starts with`, `ends with`, `between`, `and`, `or`, `not`, `null` for blank, and `today() - field` for days ago.
 *
 * What the language has beyond that is refused at its place, since no condition can keep it.
 *
 * @param scope says what may be asked about here
 *
 * @example conditionFromFeel('employees in [50..500)', scope)
 * // { ok: true, condition: { test: 'range', subject: { kind: 'field', field: 'employees' }, from: { at: '50', … }, … }, places }
 */
export function conditionFromFeel(source: string, scope: Scope): FeelReading {
  const tree = feelParser.parse(source);
  const top = tree.topNode.firstChild;
  if (source.trim() === '' || top === null)
    return { ok: false, problems: [{ from: 0, to: source.length, message: 'is empty: write true for "always"' }] };
  const broken = brokenPlaces(source, tree.topNode);
  if (broken.length > 0) return { ok: false, problems: broken };
  try {
    const reader = new Reader(source, scope);
    const condition = reader.read(top, '', 0);
    return { ok: true, condition, places: reader.places };
  } catch (error) {
    if (!(error instanceof Unreadable)) throw error;
    const { from, to } = error.node;
    return { ok: false, problems: [{ from, to, message: error.message }] };
  }
}

function brokenPlaces(source: string, top: SyntaxNode): FeelProblem[] {
  const problems: FeelProblem[] = [];
  top.cursor().iterate(({ type, from, to }) => {
    if (!type.isError) return;
    const found = source.slice(from, to).trim();
    problems.push({
      from,
      to,
      message: found === '' ? 'something is missing here' : `can’t be read from here: ${found}`,
    });
  });
  return problems.slice(0, 20);
}

const PARTS: Readonly<Record<string, TextPart | 'inside'>> = {
  inside: 'inside',
  contains: 'contains',
  'starts with': 'starts-with',
  'ends with': 'ends-with',
};

class Reader {
  private readonly subjects: SubjectReader;
  readonly places = new Map<string, { from: number; to: number }>();
  private tests = 0;
  /** What comes first after an `in`, by its place, where the grammar takes an `and` after it for a part of it. */
  private readonly led = new Map<number, Subject>();

  constructor(
    private readonly source: string,
    scope: Scope,
  ) {
    this.subjects = new SubjectReader(source, scope);
  }

  read(node: SyntaxNode, path: string, depth: number): Condition {
    if (depth > MAX_DEPTH) throw new Unreadable(node, `is nested deeper than ${MAX_DEPTH}`);
    this.places.set(path, { from: node.from, to: node.to });
    switch (node.name) {
      case 'ParenthesizedExpression':
        return this.asLed(node) ?? this.read(inside(node), path, depth);
      case 'Conjunction':
        return this.join('all', node, path, depth);
      case 'Disjunction':
        return this.join('any', node, path, depth);
      case 'BooleanLiteral':
        return this.asLed(node) ?? { test: this.text(node) === 'true' ? 'all' : 'any', of: [] };
      case 'SimplePositiveUnaryTest':
        return this.asLed(inside(node)) ?? refuse(node);
      case 'FunctionInvocation':
        return this.call(node, path, depth);
      case 'QuantifiedExpression':
        return this.choices(node, quantifiedAt(this.source, node));
      case 'Comparison':
        return this.compare(node, path, depth);
      case 'VariableName':
      case 'PathExpression': {
        // A yes-or-no field by itself asks whether it is yes.
        const subject = this.subjects.at(node);
        if (this.subjects.typeOf(subject) !== 'yes-no')
          throw new Unreadable(node, `is no question: compare ${this.text(node)} with something`);
        return this.count(node, { test: 'one-of', subject, values: ['yes'] });
      }
      default:
        return this.asLed(node) ?? refuse(node);
    }
  }

  private asLed(node: SyntaxNode): Condition | null {
    const subject = this.led.get(node.from);
    return subject === undefined ? null : this.unary(node, subject);
  }

  private text(node: Pick<SyntaxNode, 'from' | 'to'>): string {
    return this.source.slice(node.from, node.to);
  }

  private count<T extends Test>(node: SyntaxNode, test: T): T {
    this.tests += 1;
    if (this.tests > MAX_TESTS) throw new Unreadable(node, `is more than ${MAX_TESTS} questions`);
    return test;
  }

  /** `a and b and c` is one group; in parentheses a group stays one of its own. */
  private join(test: 'all' | 'any', node: SyntaxNode, path: string, depth: number): Condition {
    const parts: SyntaxNode[] = [];
    const gather = (one: SyntaxNode): void => {
      for (const child of operands(one)) {
        if (child.name === node.name) gather(child);
        else parts.push(child);
      }
    };
    gather(node);
    const of = parts.map((part, i) => this.read(part, `${path}/of/${i}`, depth + 1));
    return (test === 'any' && mergedParts(of)) || { test, of };
  }

  private call(node: SyntaxNode, path: string, depth: number): Condition {
    const name = this.text(childOf(node, 'VariableName')).replaceAll(/\s+/g, ' ');
    const given = operands(childOf(node, 'PositionalParameters'));
    const [first, second] = given;
    if (name === 'not') {
      if (first === undefined || given.length > 1) throw new Unreadable(node, 'not( ) takes one condition');
      return { test: 'not', of: this.read(first, `${path}/of`, depth + 1) };
    }
    const listed = listContainsAt(this.source, node);
    if (listed !== null)
      return this.choices(node, { test: 'any-of', subject: listed.subject, options: [listed.option] });
    const part = PARTS[name];
    if (part === undefined) throw new Unreadable(node, `no condition can keep ${name}( )`);
    if (first === undefined || second === undefined || given.length > 2)
      throw new Unreadable(node, `${name}( ) takes a field and a text`);
    const value = literalIn(this.source, second);
    if (value.is !== 'text') throw new Unreadable(second, 'must be a text in quotes');
    return this.count(node, { test: part, subject: this.subjects.at(first), values: [value.value] });
  }

  private choices(node: SyntaxNode, { test, subject: about, options }: ChoicesAsked): Test {
    const subject = this.subjects.at(about);
    if (this.subjects.typeOf(subject) !== 'choices')
      throw new Unreadable(about, `does not hold several options: ${this.text(about)}`);
    const values = options.map((option) => {
      const literal = literalIn(this.source, option);
      if (literal.is !== 'text') throw new Unreadable(option, 'must be a text in quotes');
      return literal.value;
    });
    return this.count(node, { test, subject, values });
  }

  private compare(node: SyntaxNode, path: string, depth: number): Condition {
    const [left, operator, ...rest] = childrenOf(node);
    if (left === undefined || operator === undefined) throw new Unreadable(node, 'is no comparison');
    const subject = this.subjects.at(left);
    if (operator.name === 'between') {
      const [low, , high] = rest;
      if (low === undefined || high === undefined) throw new Unreadable(node, 'needs two ends');
      return this.count(node, this.range(node, subject, this.end(subject, low, true), this.end(subject, high, true)));
    }
    if (operator.name === 'in') return this.among(node, subject, rest, path, depth);
    const [right] = rest;
    if (right === undefined) throw new Unreadable(node, 'is compared with nothing');
    return this.compared(node, subject, this.text(operator), right);
  }

  private compared(node: SyntaxNode, subject: Subject, operator: string, right: SyntaxNode): Condition {
    switch (operator) {
      case '=':
        return this.count(node, this.equals(node, subject, right));
      case '!=':
        return { test: 'not', of: this.count(node, this.equals(node, subject, right)) };
      case '>':
      case '>=':
        return this.count(node, this.range(node, subject, this.end(subject, right, operator === '>='), null));
      case '<':
      case '<=':
        return this.count(node, this.range(node, subject, null, this.end(subject, right, operator === '<=')));
      default:
        throw new Unreadable(node, `no condition can keep ${operator}`);
    }
  }

  private equals(node: SyntaxNode, subject: Subject, right: SyntaxNode): Test {
    const value = literalIn(this.source, right);
    if (value.is === 'null') {
      if (subject.kind === 'currency') throw new Unreadable(right, 'only the amount itself can be blank');
      return { test: 'blank', subject };
    }
    const end = subject.kind === 'currency' ? null : this.end(subject, right, true);
    if (end === null || this.subjects.typeOf(subject) !== 'money')
      return { test: 'one-of', subject, values: [value.value] };
    return this.range(node, subject, end, end);
  }

  /** `in` a list of literals, an interval, or several of them. */
  private among(
    node: SyntaxNode,
    subject: Subject,
    rest: readonly SyntaxNode[],
    path: string,
    depth: number,
  ): Condition {
    const tests = rest.flatMap(unaryTests);
    const [alone] = tests;
    if (alone !== undefined && tests.length === 1 && (alone.name === 'Conjunction' || alone.name === 'Disjunction')) {
      this.led.set(alone.from, subject);
      const read = this.read(alone, path, depth);
      this.places.set(path, { from: node.from, to: node.to });
      return read;
    }
    const literals = tests.map((one) => (isLiteral(one) ? literalIn(this.source, one) : null));
    const texts = literals.flatMap((one) => (one?.is === 'text' ? [one.value] : []));
    if (texts.length > 0 && texts.length === tests.length)
      return this.count(node, { test: 'one-of', subject, values: texts });
    const parts = tests.map((one): Condition => this.unary(one, subject));
    const [only] = parts;
    return parts.length === 1 && only !== undefined ? only : { test: 'any', of: parts };
  }

  private unary(node: SyntaxNode, subject: Subject): Condition {
    if (isLiteral(node)) return this.count(node, this.equals(node, subject, node));
    if (node.name === 'ParenthesizedExpression') return this.unary(inside(node), subject);
    if (node.name === 'Interval') {
      const [open, low, , high, close] = childrenOf(node);
      if (!open || !low || !high || !close) throw new Unreadable(node, 'needs two ends');
      const from = this.end(subject, low, this.text(open) === '[');
      const to = this.end(subject, high, this.text(close) === ']');
      return this.count(node, this.range(node, subject, from, to));
    }
    const [operator, value] = childrenOf(node);
    if (operator?.name === 'CompareOp' && value !== undefined)
      return this.compared(node, subject, this.text(operator), value);
    throw new Unreadable(node, 'no condition can keep this');
  }

  private range(node: SyntaxNode, subject: Subject, from: Bound | null, to: Bound | null): Test {
    if (subject.kind === 'currency') throw new Unreadable(node, 'a currency is one of some, and lies in no range');
    return { test: 'range', subject, from, to };
  }

  private end(subject: Subject, node: SyntaxNode, included: boolean): Bound {
    const value = literalIn(this.source, node);
    if (value.is === 'null') throw new Unreadable(node, 'null is no end of a range');
    if (subject.kind === 'days-since' && value.is !== 'days')
      throw new Unreadable(node, 'must be so many days: duration("P30D")');
    if (this.subjects.typeOf(subject) === 'date' && value.is !== 'day')
      throw new Unreadable(node, 'must be a day: date("2026-01-31")');
    return { at: value.value, included };
  }
}

/** Several `contains` of one subject, joined by `or`, are one question with several texts. */
function mergedParts(parts: readonly Condition[]): Test | null {
  const [first] = parts;
  if (first === undefined || !('values' in first) || first.test === 'one-of') return null;
  const { test, subject } = first;
  const values: string[] = [];
  for (const part of parts) {
    if (!('values' in part) || part.test !== test || part.values.length !== 1) return null;
    if (subjectFeel(part.subject) !== subjectFeel(subject)) return null;
    values.push(...part.values);
  }
  return { test, subject, values };
}
