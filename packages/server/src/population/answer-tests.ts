import type { PopulationAnswer } from '@relvik/contracts';
import { bindCondition, type Condition, type Facts, type FieldTest, judge, readCondition, Spot } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { Refused } from '../api/refused';
import { charterInForce, readWorldOutside } from '../charter/charter-store';
import { FieldValueEntity } from '../record/field-value.entity';
import { valueOf } from '../record/value-row';

/** Answers tests of fields that the population withholds: which leads they hold for, by id, and nothing more. */
export async function answerTests(manager: EntityManager, tests: readonly unknown[]): Promise<PopulationAnswer[]> {
  const { body } = await charterInForce(manager, 'none');
  const { fields } = await readWorldOutside(manager);
  const ids = (await manager.query<{ id: number }[]>('SELECT id FROM `lead` ORDER BY id')).map(({ id }) => id);
  const answers: PopulationAnswer[] = [];
  for (const [i, json] of tests.entries()) {
    const problems: { path: string; message: string }[] = [];
    const spot = Spot.root(problems).at('tests').at(i);
    const test = readCondition(json, spot);
    const ready = problems.length > 0 ? null : bindCondition(test, { fields, baseCurrency: body.baseCurrency }, spot);
    if (ready === null || problems.length > 0 || !isFieldTest(test)) throw Refused.invalid(problems);
    const rows = await manager.findBy(FieldValueEntity, { field: test.field });
    const values = new Map(rows.map((row) => [row.record, valueOf(row)]));
    const answer = { test, yes: [] as number[], unjudged: [] as number[] };
    for (const id of ids) {
      const facts: Facts = {
        value: () => values.get(id) ?? { kind: 'blank' },
        // What is withheld is text: no amounts, no days.
        inBase: () => null,
        today: () => 0,
      };
      const said = judge(ready, facts);
      if (said === 'yes') answer.yes.push(id);
      else if (said === 'unjudged') answer.unjudged.push(id);
    }
    answers.push(answer);
  }
  return answers;
}

function isFieldTest(condition: Condition): condition is FieldTest {
  return condition.test !== 'all' && condition.test !== 'any' && condition.test !== 'not';
}
