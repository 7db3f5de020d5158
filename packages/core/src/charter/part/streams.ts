import { bindCondition } from '../../condition/bind-condition';
import { readCondition } from '../../condition/read-condition';
import type { Spot } from '../../document/problem';
import {
  distinctKeys,
  kept,
  key,
  list,
  object,
  oneByKind,
  oneOf,
  orElse,
  type Read,
  text,
  yesNo,
} from '../../document/read-json';
import { stagesOf } from '../../gate/pipeline';
import { ROUTED_KINDS } from '../../record/kind';
import type { Organisation } from '../../people/people';
import type { ReadyRoute, ReadyStream } from '../../route/match-route';
import type { Destination, Route } from '../../route/route';
import type { Stream } from '../../route/stream';
import { conditionWords } from '../../wording/condition-words';
import { destinationWords } from '../../wording/place-words';
import type { Wording } from '../../wording/subject-words';
import type { ChangeNotes } from '../../wording/change-notes';
import type { CharterPart } from './part';

const name = text({ most: 120 });
const on = orElse(yesNo, true);

const destination: Read<Destination> = oneByKind<Destination>('kind', {
  rep: object<Destination & { kind: 'rep' }>({ kind: oneOf(['rep']), rep: key() }),
  team: object<Destination & { kind: 'team' }>({ kind: oneOf(['team']), team: key() }),
  queue: object<Destination & { kind: 'queue' }>({ kind: oneOf(['queue']), queue: key() }),
});

const route: Read<Route> = kept(object<Route>({ key: key(), name, on, when: readCondition, to: destination }, ['on']));

const stream: Read<Stream> = object<Stream>(
  {
    key: key(),
    name,
    of: orElse(oneOf(ROUTED_KINDS), 'lead'),
    on,
    entering: list(key(), { least: 1 }),
    when: orElse(readCondition, { test: 'all', of: [] }),
    routes: list(route, { most: 1000 }),
  },
  ['of', 'on', 'when'],
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
        return { ...own, ready: bindCondition(own.when, scope('route', one.of), routeAt.at('when')) };
      });
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
    notes.each('Stream', before, after, ({ entering, when, on: isOn }) => {
      const stages = entering.map((stage) => wording.names.stage(stage)).join(', ');
      return `on entering ${stages} when ${conditionWords(when, wording)}${isOn ? '' : ', off'}`;
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
  }
}

function noteRoutes(notes: ChangeNotes, was: readonly Route[], is: readonly Route[], wording: Wording): void {
  const { names } = wording;
  is.forEach((route, i) => {
    const old = was.find((one) => one.key === route.key);
    const [when, to] = [conditionWords(route.when, wording), destinationWords(route.to, names)];
    if (old === undefined) {
      notes.note('New route', null, `${i + 1}. ${route.name}: ${when}, to ${to}`);
      return;
    }
    notes.note(`Route “${route.name}” leads to`, destinationWords(old.to, names), to);
    notes.note(`Route “${route.name}” when`, conditionWords(old.when, wording), when);
  });
  for (const route of was)
    if (!is.some((one) => one.key === route.key)) notes.note(`Route “${route.name}”`, 'there', 'taken out');
  notes.order('Order of routes', was, is);
  notes.eachInBoth('Route', was, is, ({ on }) => (on ? 'on' : 'off'));
}
