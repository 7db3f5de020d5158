import type { Route } from '../route/route';
import type { RouteKey } from '../record/keys';
import type { Stream } from '../route/stream';
import type { Charter } from './charter';

/** Changes the stream with a key; a key that no stream has changes nothing. */
export function changeStream(charter: Charter, key: string, change: Partial<Stream>): Charter {
  return withStreams(charter, (streams) => streams.map((one) => (one.key === key ? { ...one, ...change } : one)));
}

/**
 * Adds a stream for leads below the others, with no route: it takes nothing yet. It acts on entering the stages of the
 * stream above it; where there is none, the stage into which leads come.
 *
 * @param key that no stream ever had
 */
export function addStream(charter: Charter, key: string, name: string): Charter {
  const leads = charter.pipelines.find(({ of }) => of === 'lead');
  const entering = charter.streams.at(-1)?.entering ?? (leads === undefined ? [] : [leads.entry]);
  const fresh: Stream = { key, name, of: 'lead', on: true, entering, when: { test: 'all', of: [] }, routes: [] };
  return withStreams(charter, (streams) => [...streams, fresh]);
}

/** Moves a stream among the others: of two that take the same lead the upper one gives it away. */
export function moveStream(charter: Charter, key: string, by: -1 | 1): Charter {
  return withStreams(charter, (streams) => {
    const at = streams.findIndex((one) => one.key === key);
    return moved(streams, at, at + by);
  });
}

/** Takes a stream out with its routes. */
export function takeOutStream(charter: Charter, key: string): Charter {
  return withStreams(charter, (streams) => streams.filter((one) => one.key !== key));
}

/** Changes the routes of a stream. */
export function changeRoutes(
  charter: Charter,
  stream: string,
  change: (routes: readonly Route[]) => readonly Route[],
): Charter {
  return withStreams(charter, (streams) =>
    streams.map((one) => (one.key === stream ? { ...one, routes: change(one.routes) } : one)),
  );
}

/**
 * Moves a route among those of its stream.
 *
 * @param from its place, from 0
 * @param to its place afterwards, from 0
 */
export function moveRoute(charter: Charter, stream: string, from: number, to: number): Charter {
  return changeRoutes(charter, stream, (routes) => moved(routes, from, to));
}

/**
 * Adds a route below the others of its stream. No lead matches it before it is said which: broad ones above would
 * swallow it, and it others. It leads to the last resort.
 *
 * @param key that no route ever had
 */
export function addRoute(charter: Charter, stream: string, key: RouteKey, name: string): Charter {
  const to = { kind: 'queue', queue: charter.lastResort.lead } as const;
  const fresh: Route = { key, name, on: true, when: { test: 'any', of: [] }, to };
  return changeRoutes(charter, stream, (routes) => [...routes, fresh]);
}

/**
 * Copies a route. The copy stands right below and is off, so that it takes nothing before it is looked at.
 *
 * @param key that no route ever had
 */
export function copyRoute(charter: Charter, stream: string, of: RouteKey, key: RouteKey): Charter {
  return changeRoutes(charter, stream, (routes) =>
    routes.flatMap((one) => (one.key === of ? [one, { ...one, key, name: `${one.name}, copy`, on: false }] : [one])),
  );
}

function withStreams(charter: Charter, change: (streams: readonly Stream[]) => readonly Stream[]): Charter {
  return { ...charter, streams: change(charter.streams) };
}

/** The list itself where one of both places is none of it. */
function moved<T>(list: readonly T[], from: number, to: number): readonly T[] {
  const one = list[from];
  if (one === undefined || list[to] === undefined || from === to) return list;
  const others = list.filter((_, at) => at !== from);
  return [...others.slice(0, to), one, ...others.slice(to)];
}
