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
  refined,
  text,
  yesNo,
} from '../../document/read-json';
import { stagesOf } from '../../gate/pipeline';
import { ROUTED_KINDS } from '../../record/kind';
import type { Organisation } from '../../people/people';
import { readyConditionOfRoute } from '../../route/company-owner';
import type { ReadyRoute, ReadyStream } from '../../route/match-route';
import type { Scope } from '../../condition/scope';
import { type Method, METHODS } from '../../method/method';
import type { Respects } from '../../people/eligible';
import type { Destination } from '../../route/destination';
import { type NobodyFree, type Route, SKILL_FIELD_TYPES, type SkillMatch, TOLD, type Told } from '../../route/route';
import { AGAIN_WHEN, type AgainWhen } from '../../route/again';
import type { Stream } from '../../route/stream';
import { conditionWords } from '../../wording/condition-words';
import { TASK_MEMBERS, TASK_OPTIONAL } from '../../task/read-task';
import type { TaskRule } from '../../task/task';
import { DAY_MINUTES, minutesOfDay } from '../../calendar/work-hours';
import { EVERY_MINUTES, type Schedule } from '../../calendar/schedule';
import { runWords } from '../../wording/schedule-words';
import { againWords, demandsWords, leadsToWords, nobodyFreeWords } from '../../wording/route-words';
import type { Wording } from '../../wording/subject-words';
import type { ChangeNotes } from '../../wording/change-notes';
import type { CharterPart } from './part';

const name = text({ most: 120 });
const on = orElse(yesNo, true);

type DestinationOf<K extends Destination['kind']> = Extract<Destination, { readonly kind: K }>;

const destination: Read<Destination> = oneByKind<Destination>('kind', {
  rep: object<DestinationOf<'rep'>>({ kind: oneOf(['rep']), rep: key() }),
  team: object<DestinationOf<'team'>>(
    { kind: oneOf(['team']), team: key(), inside: orElse<boolean | undefined>(yesNo, undefined) },
    ['inside'],
  ),
  queue: object<DestinationOf<'queue'>>({ kind: oneOf(['queue']), queue: key() }),
  reps: object<DestinationOf<'reps'>>({ kind: oneOf(['reps']), reps: list(key(), { least: 1, most: 2000 }) }),
  skilled: object<DestinationOf<'skilled'>>({ kind: oneOf(['skilled']) }),
  'company-owner': object<DestinationOf<'company-owner'>>({ kind: oneOf(['company-owner']) }),
  'handed-on': object<DestinationOf<'handed-on'>>({
    kind: oneOf(['handed-on']),
    team: key(),
    queue: key(),
    minutes: orNull(number({ least: 1, most: 10_000 })),
  }),
  nobody: object<DestinationOf<'nobody'>>({ kind: oneOf(['nobody']), reason: text() }),
});

type NobodyFreeOf<K extends NobodyFree['kind']> = Extract<NobodyFree, { readonly kind: K }>;

const nobodyFree: Read<NobodyFree> = oneByKind<NobodyFree>('kind', {
  wait: object<NobodyFreeOf<'wait'>>({ kind: oneOf(['wait']) }),
  'next-route': object<NobodyFreeOf<'next-route'>>({ kind: oneOf(['next-route']) }),
  elsewhere: object<NobodyFreeOf<'elsewhere'>>({ kind: oneOf(['elsewhere']), to: destination }),
  'ignore-limits': object<NobodyFreeOf<'ignore-limits'>>({ kind: oneOf(['ignore-limits']) }),
});

type ScheduleOf<K extends Schedule['kind']> = Extract<Schedule, { readonly kind: K }>;

/** A time of day; `24:00` is that of the next day. */
const timeOfDay = refined(text({ most: 5 }), (written, spot) => {
  const minutes = minutesOfDay(written);
  if (minutes === null || minutes === DAY_MINUTES) spot.say('must be a time of day written HH:MM, at most 23:59');
});
const everyMinutes = refined(number({ least: 5, most: 720 }), (minutes, spot) => {
  if (!EVERY_MINUTES.some((one) => one === minutes)) spot.say(`must be one of ${EVERY_MINUTES.join(', ')}`);
});

const schedule: Read<Schedule> = oneByKind<Schedule>('kind', {
  every: object<ScheduleOf<'every'>>({ kind: oneOf(['every']), minutes: everyMinutes }),
  daily: object<ScheduleOf<'daily'>>({ kind: oneOf(['daily']), at: timeOfDay }),
  weekly: object<ScheduleOf<'weekly'>>({ kind: oneOf(['weekly']), day: number({ least: 1, most: 7 }), at: timeOfDay }),
});

const respects = object<Respects>(
  { hours: yesNo, limit: yesNo, presence: orElse<boolean | undefined>(yesNo, undefined) },
  ['presence'],
);

const route: Read<Route> = kept(
  object<Route>(
    {
      key: key(),
      name,
      on,
      when: readCondition,
      to: destination,
      method: orElse<Method | undefined>(oneOf(METHODS), undefined),
      respects: orElse<Respects | undefined>(respects, undefined),
      skills: orElse<readonly SkillMatch[] | undefined>(
        list(object<SkillMatch>({ skill: key(), field: text({ most: 48 }) }), { most: 20 }),
        undefined,
      ),
      tags: orElse<readonly string[] | undefined>(list(text({ most: 60 }), { most: 20 }), undefined),
      tell: orElse<readonly Told[] | undefined>(list(oneOf(TOLD), { most: TOLD.length }), undefined),
      tasks: orElse<readonly TaskRule[] | undefined>(
        list(object<TaskRule>(TASK_MEMBERS, TASK_OPTIONAL), { most: 10 }),
        undefined,
      ),
      nobodyFree: orElse<NobodyFree | null | undefined>(orNull(nobodyFree), undefined),
    },
    ['on', 'method', 'respects', 'skills', 'tags', 'tell', 'tasks', 'nobodyFree'],
  ),
);

const stream: Read<Stream> = object<Stream>(
  {
    key: key(),
    name,
    of: orElse(oneOf(ROUTED_KINDS), 'lead'),
    on,
    entering: list(key(), { least: 1 }),
    when: orElse(readCondition, { test: 'all', of: [] }),
    again: orElse<readonly AgainWhen[] | undefined>(list(oneOf(AGAIN_WHEN), { most: AGAIN_WHEN.length }), undefined),
    nobodyFree: orElse<NobodyFree | undefined>(nobodyFree, undefined),
    schedule: orElse<Schedule | undefined>(schedule, undefined),
    onlyOnSchedule: orElse<boolean | undefined>(yesNo, undefined),
    accept: orElse<boolean | undefined>(yesNo, undefined),
    routes: list(route, { most: 1000 }),
  },
  ['of', 'on', 'when', 'again', 'nobodyFree', 'schedule', 'onlyOnSchedule', 'accept'],
);

export const STREAMS: CharterPart<'streams'> = {
  read: list(stream, { most: 200 }),
  words: {
    items: { streams: 'stream', routes: 'route', entering: 'entered stage' },
    members: { to: 'destination' },
  },
  check(streams, charter, spot) {
    distinctKeys(streams, spot);
    const routes = new Set<string>();
    streams.forEach((one, i) => {
      const at = spot.at(i);
      const stages = stagesOf(charter, one.of);
      if (one.onlyOnSchedule === true && one.schedule === undefined)
        at.at('schedule').say('is missing, and the stream gives away only by it');
      one.entering.forEach((stage, j) => {
        if (!stages.some(({ key }) => key === stage)) at.at('entering').at(j).say(`no such stage: ${stage}`);
      });
      one.routes.forEach(({ key }, j) => {
        if (routes.has(key)) at.at('routes').at(j).at('key').say(`stands twice: ${key}`);
        routes.add(key);
      });
    });
  },
  bind: (streams, { people, scope }, spot) => ({
    streams: streams.map((one, i): ReadyStream => {
      const at = spot.at(i);
      const routes = one.routes.map((own, j): ReadyRoute => {
        const routeAt = at.at('routes').at(j);
        checkDestination(own.to, people, routeAt.at('to'));
        checkElsewhere(own.nobodyFree, people, routeAt);
        const inScope = scope('route', one.of);
        checkSkills(own, people, inScope, routeAt);
        const ready = bindCondition(own.when, inScope, routeAt.at('when'));
        return { ...own, ready: readyConditionOfRoute(own.to, ready) };
      });
      checkElsewhere(one.nobodyFree, people, at);
      return { ...one, ready: bindCondition(one.when, scope('route', one.of), at.at('when')), routes };
    }),
  }),
  *conditions(streams) {
    for (const { of, when, routes } of streams) {
      yield { of, condition: when };
      for (const own of routes) yield { of, condition: own.when };
    }
  },
  names: (streams) => ({ routes: streams.flatMap(({ routes }) => routes) }),
  changes(notes, before, after, wording) {
    const routesOf = (streams: readonly Stream[]): Route[] => streams.flatMap(({ routes }) => routes);
    noteRoutes(notes, routesOf(before), routesOf(after), wording);
    notes.order('Order of streams', before, after);
    notes.each('Stream', before, after, ({ entering, when, again = [], nobodyFree, on: isOn, accept, ...run }) => {
      const stages = entering.map((stage) => wording.names.stage(stage)).join(', ');
      return `on entering ${stages} when ${conditionWords(when, wording)}; nobody free: ${nobodyFreeWords(nobodyFree ?? { kind: 'wait' }, wording.names)}${again.length === 0 ? '' : `; again ${againWords(again)}`}${run.schedule === undefined ? '' : `; runs ${runWords(run)}`}${accept === true ? '; owners accept or give back' : ''}${isOn ? '' : ', off'}`;
    });
  },
};

function checkDestination(to: Destination, people: Organisation, spot: Spot): void {
  switch (to.kind) {
    case 'rep':
      if (!people.reps.has(to.rep)) spot.at('rep').say(`no such rep: ${to.rep}`);
      return;
    case 'team':
      if (!people.teams.has(to.team)) spot.at('team').say(`no such team: ${to.team}`);
      return;
    case 'queue':
      if (!people.queues.has(to.queue)) spot.at('queue').say(`no such queue: ${to.queue}`);
      return;
    case 'reps':
      to.reps.forEach((rep, i) => {
        const at = spot.at('reps').at(i);
        if (!people.reps.has(rep)) at.say(`no such rep: ${rep}`);
        if (to.reps.indexOf(rep) < i) at.say(`stands twice: ${rep}`);
      });
      return;
    case 'handed-on':
      if (!people.teams.has(to.team)) spot.at('team').say(`no such team: ${to.team}`);
      if (!people.queues.has(to.queue)) spot.at('queue').say(`no such queue: ${to.queue}`);
      return;
    case 'skilled':
    case 'company-owner':
    case 'nobody':
      return;
  }
}

function checkElsewhere(said: NobodyFree | null | undefined, people: Organisation, spot: Spot): void {
  if (said?.kind !== 'elsewhere') return;
  const at = spot.at('nobodyFree').at('to');
  if (said.to.kind === 'company-owner' || said.to.kind === 'handed-on')
    at.at('kind').say(`is for routes only: ${said.to.kind}`);
  checkDestination(said.to, people, at);
}

function checkSkills(route: Route, people: Organisation, { fields }: Pick<Scope, 'fields'>, spot: Spot): void {
  const skills = route.skills ?? [];
  skills.forEach(({ skill, field }, i) => {
    const at = spot.at('skills').at(i);
    if (!(people.skills?.has(skill) ?? false)) at.at('skill').say(`no such list of skills: ${skill}`);
    const known = fields.get(field);
    if (known === undefined) at.at('field').say(`no such field: ${field}`);
    else if (!SKILL_FIELD_TYPES.includes(known.type) || known.personal === true)
      at.at('field').say(`must be a choice, choices or a text that is not personal: ${field}`);
  });
  if (route.to.kind === 'skilled' && skills.length === 0)
    spot.at('skills').say('must name a list of skills, since the route leads to everyone who has them');
}

function noteRoutes(notes: ChangeNotes, was: readonly Route[], is: readonly Route[], wording: Wording): void {
  const { names } = wording;
  is.forEach((route, i) => {
    const old = was.find((one) => one.key === route.key);
    const [when, to] = [conditionWords(route.when, wording), leadsToWords(route, names)];
    if (old === undefined) {
      notes.note('New route', null, `${i + 1}. ${route.name}: ${when}, to ${to}`);
      return;
    }
    notes.note(`Route “${route.name}” leads to`, leadsToWords(old, names), to);
    notes.note(`Route “${route.name}” when`, conditionWords(old.when, wording), when);
  });
  for (const route of was)
    if (!is.some((one) => one.key === route.key)) notes.note(`Route “${route.name}”`, 'there', 'taken out');
  notes.order('Order of routes', was, is);
  notes.eachInBoth('Route', was, is, ({ on }) => (on ? 'on' : 'off'));
  notes.eachInBoth('Who counts as free for route', was, is, (route) => demandsWords(route, names) || 'as usual');
}
