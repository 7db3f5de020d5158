import { inside, type SyntaxNode, Unreadable } from './syntax-walk';

/** A value as a comparison writes it. */
export type Literal =
  | { readonly is: 'text' | 'number' | 'day' | 'days'; readonly value: string }
  | { readonly is: 'yes-no'; readonly value: 'yes' | 'no' }
  | { readonly is: 'null' };

/** The literal at a node of a text; anything else is refused at its place. */
export function literalIn(source: string, node: SyntaxNode): Literal {
  switch (node.name) {
    case 'ParenthesizedExpression':
      return literalIn(source, inside(node));
    case 'StringLiteral':
      return { is: 'text', value: unquoted(source, node) };
    case 'NumericLiteral':
      return { is: 'number', value: textAt(source, node).replaceAll(/\s/g, '') };
    case 'BooleanLiteral':
      return { is: 'yes-no', value: textAt(source, node) === 'true' ? 'yes' : 'no' };
    case 'null':
      return { is: 'null' };
    case 'DateTimeLiteral':
      return moment(source, node);
    default:
      throw new Unreadable(node, 'must be a literal: a text, a number, a day, true, false or null');
  }
}

/** `date("…")`, `@"…"`, or `duration("P…D")`. */
function moment(source: string, node: SyntaxNode): Literal {
  const quoted =
    node.getChild('AtLiteral')?.getChild('StringLiteral') ??
    node.getChild('PositionalParameters')?.getChild('StringLiteral');
  if (!quoted) throw new Unreadable(node, 'must have a text in quotes');
  const value = unquoted(source, quoted);
  const days = /^(-?)P(\d+)D$/.exec(value);
  if (days !== null) return { is: 'days', value: `${days[1] ?? ''}${days[2] ?? ''}` };
  if (/^\d{4}-\d{2}-\d{2}$/.test(value)) return { is: 'day', value };
  throw new Unreadable(node, 'must be a day, date("2026-01-31"), or whole days, duration("P30D")');
}

function unquoted(source: string, node: SyntaxNode): string {
  try {
    return String(JSON.parse(textAt(source, node)));
  } catch {
    throw new Unreadable(node, 'has an escape that can’t be read');
  }
}

/** The text of a node. */
export function textAt(source: string, { from, to }: Pick<SyntaxNode, 'from' | 'to'>): string {
  return source.slice(from, to);
}
