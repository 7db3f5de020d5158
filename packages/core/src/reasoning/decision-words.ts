import { madeWords } from './made-words';
import { type Account, readKey } from '../condition/explain';
import type { Decision } from '../decide/decision';
import { fieldChangeWords, gateChangeWords, loopWords } from '../wording/effect-words';
import type { GateAnswer } from '../gate/pass-gates';
import type { Score } from '../score/score-by-sets';
import type { AxisScore, GroupOutcome, SetScore } from '../score/score-record';
import type { SignalOutcome } from '../signal/points-at';
import { AXES } from '../signal/signal';
import { testWords } from '../wording/condition-words';
import { exclusionWords, placeWords, territoryWords } from '../wording/place-words';
import { signed } from '../wording/signal-words';
import { readValueWords, subjectName, type Wording } from '../wording/subject-words';

import { routingWords } from './routing-words';

/** One sentence of the reasoning, and the step of the way it belongs to. */
export interface Reason {
  readonly step: 'value' | 'score' | 'grade' | 'gate' | 'territory' | 'route' | 'place';
  readonly text: string;
}

/** "134 − 10 = 124, held at 100", or which fields can't be judged. */
export function axisWords(score: AxisScore, wording: Wording): string {
  if (!score.judged)
    return `no score: ${score.fields.map((field) => wording.names.field(field)).join(', ')} can’t be judged`;
  const held = score.sum === score.score ? '' : `, held at ${score.score}`;
  const exact = Number((score.positive + score.negative).toFixed(6));
  const rounded = exact === score.sum ? '' : `, rounded ${score.sum}`;
  return `${score.positive} − ${-score.negative} = ${exact}${rounded}${held}`;
}

/**
 * Why a condition answered as it did, as the tests that settled it, each with the value it read.
 *
 * @returns for "yes" what held, for "no" what failed, for "unjudged" what could not be read
 */
export function accountWords(account: Account, wording: Wording): string {
  const settled = settling(account);
  if (settled.length === 0) return account.answer === 'yes' ? 'always' : 'never';
  return settled.map((part) => partWords(part, wording)).join('; ');
}

/** The first of the tests that settled it. */
export function firstReason(account: Account, wording: Wording): string {
  const [first] = settling(account);
  return first === undefined ? accountWords(account, wording) : partWords(first, wording);
}

type TestAccount = Extract<Account, { test: 'one' }>;

function partWords(part: TestAccount, wording: Wording): string {
  const { asked, answer, read } = part;
  // "Not blank" reads as "is filled".
  if (asked.test === 'blank' && answer === 'no')
    return `${subjectName(asked.subject, wording)} is filled (${readValueWords(asked.subject, read, wording)})`;
  return `${testWords(asked, wording)}${readWords(part, wording)}`;
}

function readWords({ asked, answer, read }: TestAccount, wording: Wording): string {
  const exact = asked.test === 'one-of' && asked.values.length === 1;
  if (read === '') return asked.test === 'blank' || !wording.fields.has(readKey(asked)) ? '' : ' (it is blank)';
  if (answer === 'yes' && (exact || asked.test === 'blank')) return '';
  return ` (is ${readValueWords(asked.subject, read, wording)})`;
}

function settling(account: Account): TestAccount[] {
  switch (account.test) {
    case 'one':
      return [account];
    case 'not':
      return settling(account.of[0]);
    case 'all':
    case 'any':
      return account.of.filter((part) => part.answer === account.answer).flatMap(settling);
  }
}

const GATE_WORDS: { readonly [A in GateAnswer]: string } = {
  moves: 'became true, moves',
  asks: 'became true, asks a person',
  'for-a-person': 'holds, and is for a person to decide',
  'was-true': 'was already true, does not act again',
  'held-before': 'held before already, and time alone lets nothing through',
  no: 'does not hold',
  'waits-for-field': 'holds, and waits for a field to be filled',
  'waits-for-time': 'holds, and waits for the time in the stage',
  unjudged: 'can’t be judged',
  'only-looked': 'holds, but is not run on this occasion',
};

/** Why gates and routes were not asked. */
export const HANDLING_WORDS: { readonly [H in NonNullable<Decision['handling']>]: string } = {
  score: 'scored and graded only: gates and routes were not asked',
  keep: 'kept as it came in: scored and graded, gates and routes were not asked',
};

/** What a gate did. */
export function gateWords(answer: GateAnswer): string {
  return GATE_WORDS[answer];
}

/** "Mail: 45, held at 30". */
export function heldWords({ group, sum, held }: GroupOutcome, { names }: Wording): string {
  return `${names.group(group)}: ${signed(sum)}, held at ${signed(held)}`;
}

/** How many of what was seen counted: "3 counted of 5"; for silence "2 steps in 63 days". */
export function seenWords({ of, count, counted }: NonNullable<SignalOutcome['seen']>): string {
  return of === 'silence'
    ? `${counted} ${counted === 1 ? 'step' : 'steps'} in ${count} days`
    : `${counted} counted of ${count}`;
}

/** Why no set grades a record. */
export function admissionWords({ admitted, fit }: Score, { names }: Wording): string {
  const fields = fit.judged ? [] : fit.fields.map((field) => names.field(field));
  return admitted === 'no'
    ? 'no score set admits it'
    : `it can’t be judged which score set is its own: ${fields.join(', ')}`;
}

/** What one set gives: each signal, each group that was held, and both axes. */
function setScoreWords(score: Omit<SetScore, 'set'>, wording: Wording): string[] {
  const { names } = wording;
  const signals = score.signals.flatMap((outcome) => {
    if (outcome.answer === 'no') return [];
    const name = names.signal(outcome.signal);
    if (outcome.answer === 'unjudged') return [`${outcome.axis}: ${name} can’t be judged`];
    const seen = outcome.seen === null ? '' : `, ${seenWords(outcome.seen)}`;
    return [`${outcome.axis} ${signed(outcome.points)}: ${name}${seen}`];
  });
  const held = score.held.map((one) => `${one.axis}: ${heldWords(one, wording)}`);
  return [...signals, ...held, ...AXES.map((axis) => `${axis} ${axisWords(score[axis], wording)}`)];
}

/** The whole account of a decision, in the order of the way. */
export function reasonsOf(decision: Decision, wording: Wording): Reason[] {
  const { names } = wording;
  const reasons: Reason[] = [];
  const say = (step: Reason['step'], text: string): number => reasons.push({ step, text });

  for (const { field, raw, why } of decision.warnings) say('value', `${names.field(field)}: “${raw}” ${why}`);
  const { score } = decision;
  if (score.admitted === 'yes') for (const text of setScoreWords(score, wording)) say('score', text);
  else say('score', admissionWords(score, wording));
  for (const one of score.beside)
    for (const text of setScoreWords(one, wording)) say('score', `beside, ${names.set(one.set)}: ${text}`);
  if (decision.grade === null) say('grade', 'no grade without both scores');
  else say('grade', `${decision.grade.name}: ${names.verdict(decision.grade.verdict)}`);
  if (decision.handling !== undefined) say('gate', HANDLING_WORDS[decision.handling]);
  for (const look of decision.gates.looked) {
    say('gate', `${names.gate(look.gate)}: ${gateWords(look.answer)} (${accountWords(look.account, wording)})`);
  }
  for (const change of decision.gates.changes)
    say('gate', `${names.gate(change.gate)}: ${gateChangeWords(change, wording)}`);
  const looped = loopWords(decision.gates.loop, wording);
  if (looped !== null) say('gate', looped);
  say('territory', territoryWords(decision.territory, names));
  for (const look of decision.routing?.looked ?? []) {
    if (look.route === null && look.account.answer === 'yes') continue;
    const name = look.route === null ? `stream ${look.stream}` : names.route(look.route);
    const answer = { yes: 'matches', no: 'does not match', unjudged: 'can’t be judged' }[look.account.answer];
    say('route', `${name}: ${answer} (${accountWords(look.account, wording)})`);
  }
  if (decision.tagged !== undefined)
    say('route', `${names.route(decision.tagged.route)}: ${fieldChangeWords(decision.tagged, wording)}`);
  const stays = decision.kept === true || decision.occasion === 'given' ? routingWords(decision, names) : null;
  if (stays !== null) say('route', stays);
  for (const { rep, exclusion } of decision.skipped)
    say('place', `${names.rep(rep)} skipped: ${exclusionWords(exclusion, names)}`);
  say('place', placeWords(decision.place, names));
  for (const words of madeWords(decision, wording, 'UTC')) say('place', words);
  return reasons;
}
