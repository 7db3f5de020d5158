import type { ReadyCharter } from '../charter/ready-charter';
import { valueAfter } from '../gate/effect';
import { dayOf } from '../record/day';
import { tagsOf } from '../record/field';
import { sameValue } from '../record/join';
import type { RouteKey } from '../record/keys';
import type { MovingRecord } from '../record/record';
import { BLANK } from '../record/value';
import { attemptBy } from '../route/attempts';
import type { Appraisal, Decision } from './decision';

/** The tags that a record gets from the route that places it, beside those that gates gave it, and who is told. */
export function routeEffects(
  { charter, rules }: ReadyCharter,
  record: MovingRecord,
  { asOf, gates }: Pick<Appraisal, 'asOf' | 'gates'>,
  key: RouteKey,
): Pick<Decision, 'tagged' | 'tell'> {
  const { tags = [], tell = [] } = attemptBy(rules[record.kind].streams, key)?.route ?? {};
  const told = tell.length === 0 ? {} : { tell };
  if (tags.length === 0) return told;
  const field = tagsOf(record.kind);
  const before = gates.changes.find((change) => change.field === field)?.value ?? record.values.get(field) ?? BLANK;
  const day = dayOf(asOf, charter.timeZone);
  const value = tags.reduce((has, tag) => valueAfter({ kind: 'tag', field, tag }, has, day), before);
  return sameValue(before, value) ? told : { ...told, tagged: { field, value, route: key } };
}
