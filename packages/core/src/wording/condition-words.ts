import type { Condition, Test } from '../condition/condition';
import type { Bound } from '../condition/predicate';
import { groupDigits, isWords, ownRangeWords, subjectName, unitWords, valueWords, type Wording } from './subject-words';

/** A range with the ends that belong to it: `[50, 500)`, `from 20,000`, `below 50`. */
export function rangeWords(from: Bound | null, to: Bound | null, show: (at: string) => string = groupDigits): string {
  if (from === null && to === null) return 'anything';
  if (from === null) return `${to?.included ? 'up to' : 'below'} ${show(to?.at ?? '')}`;
  if (to === null) return `${from.included ? 'from' : 'above'} ${show(from.at)}`;
  return `in ${from.included ? '[' : '('}${show(from.at)}, ${show(to.at)}${to.included ? ']' : ')'}`;
}

const AND_LIST = new Intl.ListFormat('en-GB', { type: 'conjunction' });
const OR_LIST = new Intl.ListFormat('en-GB', { type: 'disjunction' });

/** A number with its digits in groups; a day as it is. */
function endWords(at: string): string {
  return /^\d{4}-\d{2}-\d{2}$/.test(at) ? at : groupDigits(at);
}

/** One test in words: "Industry is Brewery or Vineyard", "Employees in [50, 500]". */
export function testWords(test: Test, wording: Wording): string {
  const { subject } = test;
  const name = subjectName(subject, wording);
  const values = (list: readonly string[]): string =>
    OR_LIST.format(list.map((value) => valueWords(subject, value, wording)));
  const quoted = (list: readonly string[]): string => OR_LIST.format(list.map((value) => `“${value}”`));
  switch (test.test) {
    case 'one-of':
      return `${name} ${isWords(subject)} ${values(test.values)}`;
    case 'any-of':
      return `${name} includes ${values(test.values)}`;
    case 'all-of':
      return `${name} includes ${AND_LIST.format(test.values.map((value) => valueWords(subject, value, wording)))}`;
    case 'inside':
      return `${name} lies in ${values(test.values)}`;
    case 'contains':
      return `${name} contains ${quoted(test.values)}`;
    case 'starts-with':
      return `${name} starts with ${quoted(test.values)}`;
    case 'ends-with':
      return `${name} ends with ${quoted(test.values)}`;
    case 'range': {
      const own = ownRangeWords(subject, test.from, test.to);
      if (own !== null) return `${name} ${own}`;
      return `${name} ${rangeWords(test.from, test.to, endWords)}${unitWords(subject, wording)}`;
    }
    case 'blank':
      return `${name} is blank`;
  }
}

/** A condition in words. Parts of another kind inside it stand in parentheses. */
export function conditionWords(condition: Condition, wording: Wording): string {
  switch (condition.test) {
    case 'all':
    case 'any': {
      if (condition.of.length === 0) return condition.test === 'all' ? 'always' : 'never';
      const joint = condition.test === 'all' ? ' and ' : ' or ';
      return condition.of
        .map((part) => {
          const words = conditionWords(part, wording);
          const group = (part.test === 'all' || part.test === 'any') && part.of.length > 1 && condition.of.length > 1;
          return group ? `(${words})` : words;
        })
        .join(joint);
    }
    case 'not':
      return `not (${conditionWords(condition.of, wording)})`;
    default:
      return testWords(condition, wording);
  }
}
