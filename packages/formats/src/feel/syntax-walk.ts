import type { parser } from 'lezer-feel';

export type SyntaxNode = ReturnType<typeof parser.parse>['topNode'];

/** No condition can keep what stands at a node. */
export class Unreadable extends Error {
  constructor(
    readonly node: Pick<SyntaxNode, 'from' | 'to'>,
    message: string,
  ) {
    super(message);
  }
}

export function refuse(node: SyntaxNode): never {
  throw new Unreadable(node, 'no condition can keep this');
}

const LITERALS = new Set(['StringLiteral', 'NumericLiteral', 'BooleanLiteral', 'DateTimeLiteral', 'null']);

/** Whether a node is a text, number, yes or no, day or null by itself. */
export function isLiteral(node: SyntaxNode): boolean {
  return LITERALS.has(node.name);
}

const PUNCTUATION = new Set(['(', ')', ',', 'and', 'or']);
const WRAPPERS = new Set([
  'PositiveUnaryTests',
  'PositiveUnaryTest',
  'SimplePositiveUnaryTest',
  'ParenthesizedExpression',
]);

export function childrenOf(node: SyntaxNode): SyntaxNode[] {
  const children: SyntaxNode[] = [];
  for (let child = node.firstChild; child !== null; child = child.nextSibling) children.push(child);
  return children;
}

/** The children without parentheses, commas and the words that join. */
export function operands(node: SyntaxNode): SyntaxNode[] {
  return childrenOf(node).filter(({ name }) => !PUNCTUATION.has(name));
}

/** The child of a name; without one the node can't be kept. */
export function childOf(node: SyntaxNode, name: string): SyntaxNode {
  const child = node.getChild(name);
  if (child === null) throw new Unreadable(node, 'no condition can keep this');
  return child;
}

/** What stands in parentheses. */
export function inside(node: SyntaxNode): SyntaxNode {
  const [only] = operands(node);
  if (only === undefined) throw new Unreadable(node, 'is empty');
  return only;
}

/** What stands after `in`, without what the grammar wraps around it. */
export function unaryTests(node: SyntaxNode): SyntaxNode[] {
  if (PUNCTUATION.has(node.name)) return [];
  if (!WRAPPERS.has(node.name)) return [node];
  const parts = operands(node);
  // `>= 5` has its two parts inside the innermost wrapper.
  if (parts[0]?.name === 'CompareOp') return [node];
  return parts.flatMap(unaryTests);
}
