import { type DaySubject, type HeldType, type Scope, SCORE_AXES, type Subject } from '@relvik/core';
import { happeningAt } from './happening-feel';
import { literalIn, textAt } from './literal';
import { heldIn, subjectNamed } from './subject-feel';
import { childOf, childrenOf, inside, operands, type SyntaxNode, Unreadable } from './syntax-walk';

/** A path without blanks: `company.industry`. */
function pathIn(source: string, node: SyntaxNode): string {
  return textAt(source, node).replace(/\s/g, '');
}

/** Reads what a comparison is about. */
export class SubjectReader {
  constructor(
    private readonly source: string,
    private readonly scope: Scope,
  ) {}

  /** The type of a subject; undefined where it can't be asked about. */
  typeOf(subject: Subject): HeldType | undefined {
    return heldIn(this.scope, subject)?.type;
  }

  /** The subject at a node: a name, a property of an amount, how long ago a day was, or something that is counted. */
  at(node: SyntaxNode): Subject {
    switch (node.name) {
      case 'ParenthesizedExpression':
        return this.at(inside(node));
      case 'VariableName':
        return this.named(node);
      case 'PathExpression': {
        const [whole] = childrenOf(node);
        const property = textAt(this.source, childOf(node, 'PathName'));
        const tied = subjectNamed(pathIn(this.source, node), this.scope);
        if (tied !== null) return tied;
        if (property !== 'currency' && property !== 'amount')
          throw new Unreadable(node, `has no ${property}: amounts have a currency and an amount as entered`);
        return { kind: property, field: this.field(whole ?? node) };
      }
      case 'ArithmeticExpression': {
        const [left, operator, right] = childrenOf(node);
        const isAge =
          left &&
          operator &&
          right &&
          textAt(this.source, operator) === '-' &&
          /^today\s*\(\s*\)$/.test(textAt(this.source, left).trim());
        if (!isAge) throw new Unreadable(node, 'of sums only today() - a day can be asked');
        return { kind: 'days-since', day: this.day(right) };
      }
      case 'FunctionInvocation':
        switch (textAt(this.source, childOf(node, 'VariableName'))) {
          case 'count':
            return { kind: 'happened', ...happeningAt(this.source, node) };
          case 'score':
            return this.setScore(node);
          default:
            throw new Unreadable(node, 'must be a field');
        }
      default:
        throw new Unreadable(node, 'must be a field');
    }
  }

  private setScore(node: SyntaxNode): Subject {
    const [set, axis, ...more] = operands(childOf(node, 'PositionalParameters')).map((one) => {
      const literal = literalIn(this.source, one);
      return literal.is === 'text' ? literal.value : null;
    });
    const known = SCORE_AXES.find((one) => one === axis);
    if (!set || known === undefined || more.length > 0)
      throw new Unreadable(node, `score( ) takes a score set and one of ${SCORE_AXES.join(', ')}`);
    return { kind: 'set-score', set, axis: known };
  }

  private day(node: SyntaxNode): DaySubject {
    const subject = this.at(node);
    if (subject.kind !== 'field' && subject.kind !== 'arrived' && subject.kind !== 'last-activity')
      throw new Unreadable(node, 'must be a day');
    return subject;
  }

  /** The subject of a name. */
  named(node: SyntaxNode): Subject {
    const name = textAt(this.source, node);
    if (node.name !== 'VariableName') throw new Unreadable(node, 'must be a field');
    const subject = subjectNamed(name, this.scope);
    if (subject === null) throw new Unreadable(node, `no such field can be read here: ${name}`);
    return subject;
  }

  private field(node: SyntaxNode): string {
    const subject = this.at(node);
    if (subject.kind !== 'field') throw new Unreadable(node, 'must be a field of the record');
    return subject.field;
  }
}
