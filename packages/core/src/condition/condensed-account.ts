import { allOf, type Answer, anyOf, notOf } from './answer';
import type { Condition } from './condition';
import { type Account, readKey } from './explain';

/**
 * An account without what its condition says: the answers of its tests, in the order in which they stand, as `y`, `n` and
 * `u`; and by field what was read, where that differs from what the rest of the decision read there.
 */
export type CondensedAccount = string | readonly [answers: string, reads: readonly FieldRead[]];

/** A field, and its value as it is shown. */
export type FieldRead = readonly [field: string, read: string];

const LETTERS = { yes: 'y', no: 'n', unjudged: 'u' } as const satisfies Record<Answer, string>;
const ANSWERS: ReadonlyMap<string, Answer> = new Map(
  (['yes', 'no', 'unjudged'] as const).map((answer) => [LETTERS[answer], answer]),
);

/**
 * Condenses an account.
 *
 * @param reads what was read so far, by field: what is new is added
 */
export function condenseAccount(account: Account, reads: Map<string, string>): CondensedAccount {
  let answers = '';
  const own: FieldRead[] = [];
  const visit = (part: Account): void => {
    if (part.test !== 'one') {
      part.of.forEach(visit);
      return;
    }
    const field = readKey(part.asked);
    answers += LETTERS[part.answer];
    const known = reads.get(field);
    if (known === undefined) reads.set(field, part.read);
    else if (known !== part.read && !own.some(([other]) => other === field)) own.push([field, part.read]);
  };
  visit(account);
  return own.length === 0 ? answers : [answers, own];
}

/**
 * The whole account, by the condition that was asked.
 *
 * @throws Error if the condition has other tests than the account
 */
export function restoreAccount(
  condensed: CondensedAccount,
  condition: Condition,
  reads: ReadonlyMap<string, string>,
): Account {
  const [answers, own] = typeof condensed === 'string' ? [condensed, []] : condensed;
  const read = new Map([...reads, ...own]);
  let next = 0;
  const restore = (part: Condition): Account => {
    switch (part.test) {
      case 'all':
      case 'any': {
        const of = part.of.map(restore);
        const each = of.map(({ answer }) => answer);
        return { test: part.test, answer: part.test === 'all' ? allOf(each) : anyOf(each), of };
      }
      case 'not': {
        const of = restore(part.of);
        return { test: 'not', answer: notOf(of.answer), of: [of] };
      }
      default: {
        const answer = ANSWERS.get(answers.charAt(next));
        const field = readKey(part);
        const value = read.get(field);
        if (answer === undefined || value === undefined)
          throw new Error(`The condition asked otherwise: no answer to test ${next + 1}, on ${field}`);
        next += 1;
        return { test: 'one', answer, asked: part, read: value };
      }
    }
  };
  const account = restore(condition);
  if (next !== answers.length) throw new Error(`The condition has ${next} tests, the account ${answers.length}`);
  return account;
}
