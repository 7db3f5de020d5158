import { COMPUTED } from '../record/field';
import { NAMED_SUBJECTS } from './subject-table';

type Json = Readonly<Record<string, unknown>>;

/**
 * A test as earlier charters have it, with a key in `field` in place of a subject, in the form of today; all else comes back
 * as it was.
 *
 * @example fromEarlierTest({ test: 'days-ago', field: 'since', from: null, to: end })
 * // { test: 'range', subject: { kind: 'days-since', day: { kind: 'field', field: 'since' } }, from: null, to: end }
 */
export function fromEarlierTest(json: Json): Json {
  if (!('field' in json) || 'subject' in json) return json;
  const { test, field, ...rest } = json;
  const own = { kind: 'field', field };
  switch (test) {
    case 'is': {
      const { value, ...others } = rest;
      return {
        test: 'one-of',
        subject: subjectOf(field, own),
        values: value === undefined ? undefined : [value],
        ...others,
      };
    }
    case 'days-ago':
      return { test: 'range', subject: { kind: 'days-since', day: own }, ...rest };
    case 'currency':
      return { test: 'one-of', subject: { kind: 'currency', field }, ...rest };
    default:
      return { test, subject: subjectOf(field, own), ...rest };
  }
}

function subjectOf(field: unknown, own: Json): unknown {
  const computed = COMPUTED.find((key) => key === field);
  return (computed && NAMED_SUBJECTS.get(computed)) ?? own;
}
