import type { Happening, PropertyTest } from '@relvik/core';
import { literalIn } from './literal';
import { childOf, childrenOf, inside, operands, refuse, type SyntaxNode, unaryTests, Unreadable } from './syntax-walk';

/** Names that stand for the kind and the age of an activity, not for properties. */
const OWN = new Set(['kind', 'age']);
const NAME = /^[a-z_][a-z0-9_]*$/;

const FUNCTIONS = { contains: 'contains', 'starts-with': 'starts with', 'ends-with': 'ends with' } as const;
const PARTS: ReadonlyMap<string, PropertyTest['test']> = new Map(
  Object.entries(FUNCTIONS).map(([test, name]) => [name, test as PropertyTest['test']]),
);

/**
 * How often something happened, as FEEL: the activities of a list that pass a filter are counted.
 *
 * @example happeningFeel({ activity: 'page_visited', having: [], within: 30 })
 * // 'count(activities[kind = "page_visited" and age < duration("P30D")])'
 */
export function happeningFeel({ activity, having, within }: Happening): string {
  const asked = [
    `kind = ${JSON.stringify(activity)}`,
    ...having.map(propertyFeel),
    ...(within === null ? [] : [`age < duration("P${within}D")`]),
  ];
  return `count(activities[${asked.join(' and ')}])`;
}

/** A property that FEEL can't name; null: there is none. */
export function unnamableProperty({ having }: Happening): string | null {
  return having.find(({ property }) => !NAME.test(property) || OWN.has(property))?.property ?? null;
}

function propertyFeel({ property, test, values }: PropertyTest): string {
  const texts = values.map((value) => JSON.stringify(value));
  if (test === 'is') return texts.length === 1 ? `${property} = ${texts[0]}` : `(${property} in (${texts.join(', ')}))`;
  const parts = texts.map((text) => `${FUNCTIONS[test]}(${property}, ${text})`);
  return parts.length === 1 ? parts.join('') : `(${parts.join(' or ')})`;
}

/** Reads what {@link happeningFeel} writes: `count(activities[…])`. */
export function happeningAt(source: string, node: SyntaxNode): Happening {
  const text = (one: SyntaxNode): string => source.slice(one.from, one.to);
  const [filter] = operands(childOf(node, 'PositionalParameters'));
  if (filter?.name !== 'FilterExpression') throw new Unreadable(node, 'count( ) counts activities[ … ]');
  const [list, , asked] = childrenOf(filter);
  if (list === undefined || asked === undefined || text(list) !== 'activities')
    throw new Unreadable(filter, 'only activities[ … ] can be counted');
  const found: { activity: string | null; having: PropertyTest[]; within: number | null } = {
    activity: null,
    having: [],
    within: null,
  };
  for (const part of partsOf(asked, 'Conjunction')) {
    const [left, operator, right] = part.name === 'Comparison' ? childrenOf(part) : [];
    if (left && operator && right && text(left) === 'kind' && text(operator) === '=') {
      const kind = literalIn(source, right);
      if (kind.is !== 'text' || found.activity !== null) throw new Unreadable(part, 'names one kind of activity');
      found.activity = kind.value;
    } else if (left && operator && right && text(left) === 'age' && text(operator) === '<') {
      const days = literalIn(source, right);
      if (days.is !== 'days') throw new Unreadable(right, 'must be so many days: duration("P30D")');
      found.within = Number(days.value);
    } else found.having.push(propertyAt(source, part));
  }
  const { activity } = found;
  if (activity === null) throw new Unreadable(asked, 'needs a kind: kind = "mail_clicked"');
  return { ...found, activity };
}

/** The parts of a chain of `and` or `or`, without parentheses around the whole. */
function partsOf(node: SyntaxNode, chain: 'Conjunction' | 'Disjunction'): SyntaxNode[] {
  return node.name === chain ? operands(node).flatMap((one) => partsOf(one, chain)) : [node];
}

function propertyAt(source: string, node: SyntaxNode): PropertyTest {
  if (node.name === 'ParenthesizedExpression') return propertyAt(source, inside(node));
  const tests = partsOf(node, 'Disjunction').map((part) => oneProperty(source, part));
  const [first] = tests;
  if (first === undefined) refuse(node);
  if (tests.some(({ property, test }) => property !== first.property || test !== first.test))
    throw new Unreadable(node, 'joins tests of one property by or, and nothing else');
  return { ...first, values: tests.flatMap(({ values }) => values) };
}

function oneProperty(source: string, node: SyntaxNode): PropertyTest {
  const text = (one: SyntaxNode): string => source.slice(one.from, one.to);
  const texts = (literals: readonly SyntaxNode[]): string[] =>
    literals.map((one) => {
      const literal = literalIn(source, one);
      if (literal.is !== 'text') throw new Unreadable(one, 'must be a text in quotes');
      return literal.value;
    });
  if (node.name === 'FunctionInvocation') {
    const test = PARTS.get(text(childOf(node, 'VariableName')).replaceAll(/\s+/g, ' '));
    const [property, ...values] = operands(childOf(node, 'PositionalParameters'));
    if (test === undefined || property === undefined || values.length !== 1) refuse(node);
    return { property: text(property), test, values: texts(values) };
  }
  if (node.name !== 'Comparison') refuse(node);
  const [property, operator, ...rest] = childrenOf(node);
  if (property?.name !== 'VariableName' || operator === undefined) refuse(node);
  if (operator.name === 'in') return { property: text(property), test: 'is', values: texts(rest.flatMap(unaryTests)) };
  if (text(operator) !== '=') throw new Unreadable(operator, `no condition can keep ${text(operator)} here`);
  return { property: text(property), test: 'is', values: texts(rest) };
}
