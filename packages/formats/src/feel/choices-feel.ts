import type { ChoiceTest } from '@relvik/core';
import { textAt } from './literal';
import { childOf, childrenOf, isLiteral, operands, type SyntaxNode, Unreadable, unaryTests } from './syntax-walk';

/** A test of several options as FEEL writes it: the one is among them, some are, every one is. */
export function choicesFeel(subject: string, test: ChoiceTest, options: readonly string[]): string {
  const [first = '', ...others] = options.map((option) => JSON.stringify(option));
  if (others.length === 0) return `list contains(${subject}, ${first})`;
  const all = [first, ...others].join(', ');
  const option = subject === 'option' ? 'one' : 'option';
  return test === 'any-of'
    ? `some ${option} in ${subject} satisfies ${option} in (${all})`
    : `every ${option} in [${all}] satisfies list contains(${subject}, ${option})`;
}

/** A test of several options, and the node of what it asks about. */
export interface ChoicesAsked {
  readonly test: ChoiceTest;
  readonly subject: SyntaxNode;
  readonly options: readonly SyntaxNode[];
}

function refuse(node: SyntaxNode): never {
  throw new Unreadable(
    node,
    'must be some option in FIELD satisfies option in ("…"), or every option in ["…"] satisfies list contains(FIELD, option)',
  );
}

/** Reads `some … satisfies …` and `every … satisfies …`. */
export function quantifiedAt(source: string, node: SyntaxNode): ChoicesAsked {
  const [word, inExpressions, , body] = childrenOf(node);
  const [range, ...more] = inExpressions?.name === 'InExpressions' ? childrenOf(inExpressions) : [];
  if (word === undefined || body === undefined || range === undefined || more.length > 0) return refuse(node);
  const option = textAt(source, childOf(range, 'Name'));
  const [over] = childrenOf(childOf(range, 'IterationContext'));
  if (over === undefined) return refuse(node);
  const isOption = (one: SyntaxNode | undefined): boolean => one !== undefined && textAt(source, one) === option;
  if (word.name === 'some') {
    const [left, operator, ...right] = body.name === 'Comparison' ? childrenOf(body) : [];
    if (!isOption(left) || operator === undefined) return refuse(node);
    const options = operator.name === 'in' ? right.flatMap(unaryTests) : right;
    const isAsked = operator.name === 'in' || textAt(source, operator) === '=';
    return isAsked && options.length > 0 && options.every(isLiteral)
      ? { test: 'any-of', subject: over, options }
      : refuse(node);
  }
  const asked = listContainsAt(source, body);
  if (over.name !== 'List' || asked === null || !isOption(asked.option)) return refuse(node);
  const options = childrenOf(over).filter(isLiteral);
  return options.length > 0 ? { test: 'all-of', subject: asked.subject, options } : refuse(node);
}

/** Reads `list contains(FIELD, …)`; null: it is another expression. */
export function listContainsAt(
  source: string,
  node: SyntaxNode,
): { readonly subject: SyntaxNode; readonly option: SyntaxNode } | null {
  if (node.name !== 'FunctionInvocation') return null;
  if (textAt(source, childOf(node, 'VariableName')).replaceAll(/\s+/g, ' ') !== 'list contains') return null;
  const [subject, option, ...more] = operands(childOf(node, 'PositionalParameters'));
  if (subject === undefined || option === undefined || more.length > 0)
    throw new Unreadable(node, 'list contains( ) takes a field and an option');
  return { subject, option };
}
