import { bindCondition } from '../../condition/bind-condition';
import { readCondition } from '../../condition/read-condition';
import type { Spot } from '../../document/problem';
import {
  distinctKeys,
  kept,
  key,
  list,
  number,
  object,
  oneByKind,
  oneOf,
  orElse,
  orNull,
  type Read,
  text,
  yesNo,
} from '../../document/read-json';
import {
  type Alternative,
  type AskedGroup,
  BY_RULE,
  conditionOf,
  type Decider,
  endsOf,
  filledTest,
  type Gate,
  leastTest,
  lookKey,
} from '../../gate/gate';
import {
  fieldOf,
  isOfValues,
  type GateEffect,
  readSetValue,
  type ReadyEffect,
  settingProblem,
  type ValueEffect,
} from '../../gate/effect';
import type { Organisation } from '../../people/people';
import type { Field } from '../../record/field';
import { optionProblem } from '../../record/choices';
import type { PipelineKind } from '../../record/kind';
import { BLANK, LONGEST_OPTION } from '../../record/value';
import type { ReadyCondition } from '../../condition/ready';
import { kindOfStage, stagesOf } from '../../gate/pipeline';
import type { ReadyGate } from '../../gate/pass-gates';
import type { Stage } from '../../gate/stage';
import type { DealRule } from '../../deal/deal-rule';
import { conditionWords } from '../../wording/condition-words';
import { deciderWords } from '../../wording/decider-words';
import { effectWords } from '../../wording/effect-words';
import { TASK_MEMBERS, TASK_OPTIONAL } from '../../task/read-task';
import { addressFields } from '../../territory/territory';
import type { CharterPart } from './part';

const MOST_REQUIRED = 20;
const MOST_DAYS = 3650;
const MOST_HOURS = 1000;
const MOST_ALTERNATIVES = 10;
const MOST_EFFECTS = 10;

const askedGroup: Read<AskedGroup> = oneByKind<AskedGroup>('kind', {
  team: object<AskedGroup & { kind: 'team' }>({ kind: oneOf(['team']), team: key() }),
  queue: object<AskedGroup & { kind: 'queue' }>({ kind: oneOf(['queue']), queue: key() }),
});
const alternative: Read<Alternative> = object<Alternative>({ to: key(), when: readCondition });
const decider: Read<Decider> = oneByKind<Decider>('kind', {
  rule: object<Decider & { kind: 'rule' }>({ kind: oneOf(['rule']) }),
  asks: object<Decider & { kind: 'asks' }>(
    {
      ...{ kind: oneOf(['asks']), withoutOwner: orNull(askedGroup) },
      alternatives: orElse(list(alternative, { most: MOST_ALTERNATIVES }), []),
    },
    ['withoutOwner', 'alternatives'],
  ),
  person: object<Decider & { kind: 'person' }>({ kind: oneOf(['person']) }),
});

const effect: Read<GateEffect> = oneByKind<GateEffect>('kind', {
  set: object<GateEffect & { kind: 'set' }>({
    ...{ kind: oneOf(['set']), field: text({ most: 100 }), value: text({ least: 0, most: 1000 }) },
  }),
  tag: object<GateEffect & { kind: 'tag' }>({ kind: oneOf(['tag']), tag: text({ most: LONGEST_OPTION }) }),
  deal: object<GateEffect & { kind: 'deal' }>(
    {
      kind: oneOf(['deal']),
      stage: key(),
      days: number({ least: 0, most: MOST_DAYS }),
      measured: orElse(yesNo, false),
    },
    ['measured'],
  ),
  task: object<GateEffect & { kind: 'task' }>({ kind: oneOf(['task']), ...TASK_MEMBERS }, TASK_OPTIONAL),
});

const gate: Read<Gate> = kept(
  object<Gate>(
    {
      ...{
        key: key(),
        name: text({ most: 120 }),
        from: key(),
        to: key(),
        on: orElse(yesNo, true),
        when: readCondition,
      },
      requiredFields: orElse(list(text({ most: 100 }), { most: MOST_REQUIRED }), []),
      minDays: orElse(number({ least: 0, most: MOST_DAYS }), 0),
      minHours: orElse(number({ least: 0, most: MOST_HOURS }), 0),
      decider: orElse(decider, BY_RULE),
      effects: orElse(list(effect, { most: MOST_EFFECTS }), []),
    },
    ['on', 'requiredFields', 'minDays', 'minHours', 'decider', 'effects'],
  ),
);

export const GATES: CharterPart<'gates'> = {
  read: list(gate, { most: 500 }),
  words: { items: { gates: 'gate', alternatives: 'alternative', effects: 'effect' }, members: { decider: null } },
  check(gates, charter, spot) {
    distinctKeys(gates, spot);
    gates.forEach(({ from, to, requiredFields, minDays, minHours, decider: decides, effects }, i) => {
      const at = spot.at(i);
      const kind = kindOfStage(charter, from);
      const stages = stagesOf(charter, kind);
      const start = stages.find(({ key }) => key === from);
      if (start === undefined) at.at('from').say(`no such stage: ${from}`);
      if (!stages.some(({ key }) => key === to)) at.at('to').say(`no such stage of ${kind}s: ${to}`);
      if (start !== undefined && start.kind !== 'open')
        at.at('from').say(`is a stage that closes: by rule nothing leads out of it: ${from}`);
      if (new Set(requiredFields).size < requiredFields.length) at.at('requiredFields').say('names a field twice');
      if (minDays > 0 && minHours > 0) at.at('minHours').say('is a second least time: give days or hours');
      if (from === to) at.at('to').say('leads back to the stage it comes from');
      checkAlternatives({ from, to, decider: decides }, stages, at.at('decider').at('alternatives'));
      checkEffects(effects, at.at('effects'));
      checkDeals(effects, kind, stagesOf(charter, 'deal'), at.at('effects'));
    });
  },
  bind: (gates, { people, scope }, spot, charter) => ({
    gates: gates.map((one, i): ReadyGate => {
      const kind = kindOfStage(charter, one.from);
      const [own, at] = [scope('gate', kind), spot.at(i)];
      const when = bindCondition(one.when, own, at.at('when'));
      const filled = one.requiredFields.map((field, n) =>
        bindCondition(filledTest(field), own, at.at('requiredFields').at(n)),
      );
      const least = leastTest(one);
      const time = least === null ? [] : [bindCondition(least, own, at)];
      const more = [...filled, ...time];
      const ready: ReadyCondition = more.length === 0 ? when : { kind: 'all', of: [when, ...more] };
      const { decider: decides } = one;
      const offered = decides.kind === 'asks' ? decides.alternatives : [];
      const alternatives = offered.map((other, n) => ({
        to: other.to,
        ready: bindCondition(other.when, own, at.at('decider').at('alternatives').at(n).at('when')),
      }));
      if (decides.kind === 'asks') checkGroup(decides.withoutOwner, people, at.at('decider').at('withoutOwner'));
      const address = addressFields(charter.territories);
      const effects = one.effects.flatMap((effect, n) =>
        isOfValues(effect) ? [bindEffect(effect, kind, people.fields, address, at.at('effects').at(n))] : [],
      );
      const deal = one.effects.find((effect) => effect.kind === 'deal');
      const tasks = one.effects.filter((effect) => effect.kind === 'task');
      return {
        ...one,
        look: lookKey(one),
        ready,
        parts: { when, filled },
        alternatives,
        effects,
        tasks,
        deal: deal === undefined ? null : dealOf(deal),
      };
    }),
  }),
  *conditions(gates, charter) {
    for (const gate of gates) {
      const of = kindOfStage(charter, gate.from);
      yield { of, condition: conditionOf(gate) };
      if (gate.decider.kind === 'asks') for (const { when } of gate.decider.alternatives) yield { of, condition: when };
    }
  },
  names: (gates) => ({ gates }),
  changes(notes, before, after, wording) {
    const { names } = wording;
    notes.each('Gate', before, after, ({ from, to, on, decider: decides, effects, ...asking }) => {
      const way = `${names.stage(from)} → ${names.stage(to)}`;
      const does = effects.map((one) => `, ${effectWords(one, wording)}`).join('');
      const who = decides.kind === 'rule' ? '' : `, ${deciderWords(decides, wording)}`;
      return `${way} when ${conditionWords(conditionOf(asking), wording)}${who}${does}${on ? '' : ', off'}`;
    });
  },
};

/** Each leads somewhere else: to a stage that is there, and that neither the gate nor another alternative leads to. */
function checkAlternatives(
  { from, ...gate }: Pick<Gate, 'from' | 'to' | 'decider'>,
  stages: readonly Stage[],
  spot: Spot,
): void {
  const [, ...ends] = endsOf(gate);
  ends.forEach((to, n) => {
    const at = spot.at(n).at('to');
    if (!stages.some((one) => one.key === to)) at.say(`no such stage: ${to}`);
    if (to === from) at.say('leads back to the stage it comes from');
    if (to === gate.to || ends.indexOf(to) < n) at.say(`is proposed twice: ${to}`);
  });
}

/** Each field is set once: what the other would leave is never seen. */
function checkEffects(effects: readonly GateEffect[], spot: Spot): void {
  const set = new Set<string>();
  effects.forEach((one, n) => {
    const at = spot.at(n);
    if (!isOfValues(one)) return;
    if (one.kind === 'tag') {
      const problem = optionProblem(one.tag);
      if (problem !== null) at.at('tag').say(problem);
      return;
    }
    if (set.has(one.field)) at.at('field').say(`is set twice: ${one.field}`);
    set.add(one.field);
  });
}

/**
 * Only a gate of leads makes a deal, and at most one, which begins in an open stage.
 *
 * @param stages those of deals
 */
function checkDeals(effects: readonly GateEffect[], kind: PipelineKind, stages: readonly Stage[], spot: Spot): void {
  let seen = false;
  effects.forEach((one, n) => {
    if (one.kind !== 'deal') return;
    const at = spot.at(n);
    if (kind !== 'lead') at.say('makes a deal, which only a gate of leads can');
    if (seen) at.say('makes a second deal');
    seen = true;
    const stage = stages.find(({ key }) => key === one.stage);
    if (stage === undefined) at.at('stage').say(`no such stage of deals: ${one.stage}`);
    else if (stage.kind !== 'open') at.at('stage').say(`is a stage that closes: ${one.stage}`);
  });
}

function dealOf({ stage, days, measured }: DealRule): DealRule {
  return { stage, days, measured };
}

function bindEffect(
  one: ValueEffect,
  kind: PipelineKind,
  fields: ReadonlyMap<string, Field>,
  address: readonly (string | null)[],
  spot: Spot,
): ReadyEffect {
  if (one.kind === 'tag') return { ...one, field: fieldOf(one, kind) };
  const field = fields.get(one.field);
  const problem = field === undefined ? `no such field: ${one.field}` : settingProblem(field, kind, address);
  if (problem !== null) spot.at('field').say(problem);
  const value = field === undefined ? BLANK : readSetValue(field, one.value);
  if (value.kind === 'unreadable') spot.at('value').say(`${value.why}: ${value.raw}`);
  return { ...one, value };
}

function checkGroup(group: AskedGroup | null, { teams, queues }: Organisation, spot: Spot): void {
  switch (group?.kind) {
    case undefined:
      return;
    case 'team':
      if (!teams.has(group.team)) spot.at('team').say(`no such team: ${group.team}`);
      return;
    case 'queue':
      if (!queues.has(group.queue)) spot.at('queue').say(`no such queue: ${group.queue}`);
  }
}
