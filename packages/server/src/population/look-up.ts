import {
  dayNumber,
  dayOf,
  bindCondition,
  BLANK,
  type Condition,
  type Facts,
  fieldScope,
  type Found,
  hasProperties,
  judge,
  object,
  oneByKind,
  oneOf,
  type Read,
  type Problem,
  type PropertyTest,
  readCondition,
  readKey,
  readHaving,
  key,
  NO_FACTS,
  Spot,
  type Test,
} from '@relvik/core';
import { type EntityManager, IsNull, Not } from 'typeorm';
import { Refused } from '../problem/refused';
import { charterInForce, readWorldOutside } from '../store/governing';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { ActivityEntity } from '../store/entity/history.entity';
import { valueOf } from '../store/value-row';

type Asked =
  | { readonly of: 'test'; readonly test: Condition }
  | { readonly of: 'activities'; readonly kind: string; readonly having: readonly PropertyTest[] };

const readLookup: Read<Asked> = oneByKind<Asked>('of', {
  test: object<Asked & { of: 'test' }>({ of: oneOf(['test']), test: readCondition }),
  activities: object<Asked & { of: 'activities' }>({ of: oneOf(['activities']), kind: key(), having: readHaving }),
});

/** Looks up what the population withholds: ids of leads, when something happened to them, and nothing more. */
export async function lookUp(manager: EntityManager, lookups: readonly unknown[], now: Date): Promise<Found[]> {
  const found: Found[] = [];
  for (const [i, json] of lookups.entries()) {
    const problems: Problem[] = [];
    const spot = Spot.root(problems).at('lookups').at(i);
    const asked = readLookup(json, spot);
    if (problems.length > 0) throw Refused.invalid(problems);
    found.push(
      asked.of === 'test'
        ? await answerTest(manager, asked.test, now, spot, problems)
        : await activitiesHaving(manager, asked.kind, asked.having),
    );
  }
  return found;
}

async function answerTest(
  manager: EntityManager,
  test: Condition,
  now: Date,
  spot: Spot,
  problems: readonly Problem[],
): Promise<Found> {
  const { body } = await charterInForce(manager, 'none');
  const { fields, rates } = await readWorldOutside(manager);
  const today = dayNumber(dayOf(now.getTime(), body.timeZone));
  const ready = bindCondition(test, fieldScope(fields, body.baseCurrency), spot);
  if (problems.length > 0 || !isTest(test)) throw Refused.invalid(problems);
  const ids = (await manager.query<{ id: number }[]>('SELECT id FROM `lead` ORDER BY id')).map(({ id }) => id);
  const rows = await manager.findBy(FieldValueEntity, { field: readKey(test) });
  const values = new Map(rows.map((row) => [row.record, valueOf(row)]));
  const yes: number[] = [];
  const unjudged: number[] = [];
  for (const id of ids) {
    const facts: Facts = {
      ...NO_FACTS,
      value: () => values.get(id) ?? BLANK,
      inBase: (amount) => rates.toBase(amount, body.baseCurrency),
      today: () => today,
    };
    const said = judge(ready, facts);
    if (said === 'yes') yes.push(id);
    else if (said === 'unjudged') unjudged.push(id);
  }
  return { of: 'test', test, yes, unjudged };
}

async function activitiesHaving(
  manager: EntityManager,
  kind: string,
  having: readonly PropertyTest[],
): Promise<Found & { of: 'activities' }> {
  const rows = await manager.find(ActivityEntity, {
    select: { record: true, at: true, properties: true },
    where: { kind, properties: Not(IsNull()) },
  });
  const those = rows.filter(({ properties }) => hasProperties({ properties: properties ?? {} }, having));
  return {
    of: 'activities',
    kind,
    having,
    ids: those.map(({ record }) => record),
    at: those.map(({ at }) => at.getTime()),
  };
}

function isTest(condition: Condition): condition is Test {
  return condition.test !== 'all' && condition.test !== 'any' && condition.test !== 'not';
}
