import type { Bound, Condition, FieldTest } from '../condition/condition';
import { COUNTRY_BY_FOLDED_NAME, countryName } from '../record/country';
import type { Field } from '../record/field';
import { fold } from '../record/fold';
import type { Names } from './names';

/** The names, and what else the words of a condition need. */
export interface Wording {
  readonly names: Names;
  readonly fields: ReadonlyMap<string, Field>;
  readonly baseCurrency: string;
}

/** Digits in groups of three, as people read them: 399000 NOK is 399,000 NOK. Other text stays as it is. */
export function groupDigits(number: string): string {
  return number.replace(/^(-?\d+)/, (whole) => whole.replace(/\B(?=(\d{3})+$)/g, ','));
}

/** A range with the ends that belong to it: `[50, 500)`, `from 20,000`, `below 50`. */
export function rangeWords(from: Bound | null, to: Bound | null, show: (at: string) => string = groupDigits): string {
  if (from === null && to === null) return 'anything';
  if (from === null) return `${to?.included ? 'up to' : 'below'} ${show(to?.at ?? '')}`;
  if (to === null) return `${from.included ? 'from' : 'above'} ${show(from.at)}`;
  return `in ${from.included ? '[' : '('}${show(from.at)}, ${show(to.at)}${to.included ? ']' : ')'}`;
}

/** A literal as people know it: a country by name, a verdict or territory by the name the admin gave. */
function literalWords(field: string, value: string, { names, fields }: Wording): string {
  switch (field) {
    case 'verdict':
      return names.verdict(value);
    case 'stage':
      return names.stage(value);
    case 'territory':
      return names.territory(value);
    default:
      if (fields.get(field)?.type !== 'country') return value;
      return countryName(COUNTRY_BY_FOLDED_NAME.get(fold(value)) ?? value);
  }
}

function orList(words: readonly string[]): string {
  const last = words.at(-1) ?? '';
  return words.length < 2 ? last : `${words.slice(0, -1).join(', ')} or ${last}`;
}

/** One test in words: "Industry is Brewery or Vineyard", "Employees in [50, 500]". */
export function testWords(test: FieldTest, wording: Wording): string {
  const field = wording.names.field(test.field);
  const values = (list: readonly string[]): string =>
    orList(list.map((value) => literalWords(test.field, value, wording)));
  const quoted = (list: readonly string[]): string => orList(list.map((value) => `“${value}”`));
  switch (test.test) {
    case 'is':
      return `${field} is ${values([test.value])}`;
    case 'one-of':
      return `${field} is ${values(test.values)}`;
    case 'inside':
      return `${field} lies in ${values(test.values)}`;
    case 'contains':
      return `${field} contains ${quoted(test.values)}`;
    case 'starts-with':
      return `${field} starts with ${quoted(test.values)}`;
    case 'ends-with':
      return `${field} ends with ${quoted(test.values)}`;
    case 'range': {
      const money = wording.fields.get(test.field)?.type === 'money';
      const isDate = wording.fields.get(test.field)?.type === 'date';
      return `${field} ${rangeWords(test.from, test.to, isDate ? (day) => day : groupDigits)}${money ? ` ${wording.baseCurrency}` : ''}`;
    }
    case 'days-ago':
      return `${field} ${rangeWords(test.from, test.to)} days ago`;
    case 'blank':
      return `${field} is blank`;
    case 'currency':
      return `${field} is in ${orList(test.values)}`;
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
