import type { Method } from '../method/method';
import type { AgainWhen } from '../route/again';
import { choosesAmong, type Destination } from '../route/destination';
import { type NobodyFree, RESPECTS_ALL, type Route, type Told } from '../route/route';
import type { Names } from './names';
import { taskRuleWords } from './task-words';

export const METHOD_WORDS: Readonly<Record<Method, string>> = {
  'round-robin': 'round robin',
  weighted: 'weighted round robin',
  'lightest-load': 'lightest load',
  'first-free': 'first free',
  'first-on-the-list': 'first on the list',
  random: 'random',
};

/** The events on which a record goes through its stream again. */
export const AGAIN_WORDS: Readonly<Record<AgainWhen, string>> = {
  entered: 'on entering a stage of it',
  edited: 'after an edit',
  activity: 'after an activity',
  'tie-changed': 'when the company or contact changed',
  'territory-changed': 'when the territory changed',
  time: 'as time passes',
  schedule: 'when it runs by its schedule',
};

export function againWords(again: readonly AgainWhen[]): string {
  return again.map((one) => AGAIN_WORDS[one]).join(', ');
}

/** Where a route leads. */
export function destinationWords(to: Destination, names: Names): string {
  switch (to.kind) {
    case 'nobody':
      return `nobody: ${to.reason}`;
    case 'rep':
      return names.rep(to.rep);
    case 'reps':
      return to.reps.map((rep) => names.rep(rep)).join(', ');
    case 'team':
      return `${names.team(to.team)}${to.inside === true ? ' with teams inside' : ''}`;
    case 'skilled':
      return 'everyone with the skills';
    case 'company-owner':
      return 'the company’s owner';
    case 'queue':
      return `queue ${names.queue(to.queue)}`;
    case 'handed-on':
      return `${names.team(to.team)}, handed on by its manager${to.minutes === null ? '' : ` within ${to.minutes} working minutes`}, until then in queue ${names.queue(to.queue)}`;
  }
}

/** Where a route leads, and how one of several people is chosen. */
export function leadsToWords({ to, method = 'round-robin' }: Pick<Route, 'to' | 'method'>, names: Names): string {
  const after = to.kind === 'handed-on' && to.minutes !== null ? `; then ${METHOD_WORDS[method]}` : '';
  return `${destinationWords(to, names)}${choosesAmong(to) ? `, ${METHOD_WORDS[method]}` : after}`;
}

export function nobodyFreeWords(said: NobodyFree, names: Names): string {
  switch (said.kind) {
    case 'wait':
      return 'wait';
    case 'next-route':
      return 'next route';
    case 'elsewhere':
      return destinationWords(said.to, names);
    case 'ignore-limits':
      return 'ignore limits';
  }
}

export const TOLD_WORDS: Readonly<Record<Told, string>> = {
  manager: 'the owner’s manager',
  operations: 'operations',
};

/** The restrictions, skills, effects and nobody-free rule of a route, where they differ from the defaults; empty: they don’t. */
export function demandsWords(
  { respects = RESPECTS_ALL, skills = [], tags = [], tell = [], tasks = [], nobodyFree = null }: Route,
  names: Names,
): string {
  return [
    ...(respects.hours ? [] : ['at any hour']),
    ...(respects.limit ? [] : ['beyond limits']),
    ...(respects.presence === true ? ['only who is signed in'] : []),
    ...(tags.length === 0 ? [] : [`tags it ${tags.join(', ')}`]),
    ...(tell.length === 0 ? [] : [`tells ${tell.map((one) => TOLD_WORDS[one]).join(' and ')}`]),
    ...tasks.map(taskRuleWords),
    ...skills.map(({ skill, field }) => `skilled in the lead’s ${names.field(field)} (${names.skill(skill)})`),
    ...(nobodyFree === null ? [] : [`nobody free: ${nobodyFreeWords(nobodyFree, names)}`]),
  ].join('; ');
}
