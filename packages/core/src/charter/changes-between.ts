import { conditionWords, type Wording } from '../reasoning/condition-words';
import { signed } from '../reasoning/decision-words';
import { destinationWords } from '../reasoning/place-words';
import { signalWords } from '../reasoning/signal-words';
import type { Route } from '../route/route';
import { AXES } from '../score/score-set';
import { fold } from '../record/fold';
import type { Charter } from './charter';

/** One difference between two charters, to read. */
export interface CharterChange {
  readonly what: string;
  readonly from: string | null;
  readonly to: string;
}

function routesOf(charter: Charter): readonly Route[] {
  return charter.streams.flatMap((stream) => stream.routes);
}

/** What a charter changes against another: points, signals, cuts, verdicts, routes, their order and targets. */
export function changesBetween(before: Charter, after: Charter, wording: Wording): CharterChange[] {
  const changes: CharterChange[] = [];
  const note = (what: string, from: string | null, to: string): void => {
    if (from !== to) changes.push({ what, from, to });
  };
  const signals = new Map(before.scoreSet.signals.map((signal) => [signal.key, signal]));
  for (const signal of after.scoreSet.signals) {
    const old = signals.get(signal.key);
    note(`Points for “${signal.name}”`, old ? signed(old.points) : null, signed(signal.points));
    if (old) note(`“${signal.name}” is given when`, signalWords(old, wording), signalWords(signal, wording));
    signals.delete(signal.key);
  }
  for (const signal of signals.values()) note(`Signal “${signal.name}”`, signed(signal.points), 'taken out');

  for (const axis of AXES) {
    const { names, cuts } = after.scoreSet.grid[axis];
    cuts.forEach((cut, i) => {
      note(
        `Cut between ${names[i]} and ${names[i + 1]}`,
        String(before.scoreSet.grid[axis].cuts[i] ?? '–'),
        String(cut),
      );
    });
  }
  after.scoreSet.grid.cells.forEach((row, f) => {
    row.forEach((verdict, e) => {
      const grade = `${after.scoreSet.grid.fit.names[f]} ${after.scoreSet.grid.engagement.names[e]}`;
      const old = before.scoreSet.grid.cells[f]?.[e];
      note(`Verdict of ${grade}`, old ? wording.names.verdict(old) : null, wording.names.verdict(verdict));
    });
  });

  const [was, is] = [routesOf(before), routesOf(after)];
  is.forEach((route, i) => {
    const old = was.find((one) => one.key === route.key);
    if (old === undefined) {
      note(
        'New route',
        null,
        `${i + 1}. ${route.name}: ${conditionWords(route.when, wording)}, to ${destinationWords(route.to, wording.names)}`,
      );
      return;
    }
    note(
      `Route “${route.name}” leads to`,
      destinationWords(old.to, wording.names),
      destinationWords(route.to, wording.names),
    );
    note(`Route “${route.name}” when`, conditionWords(old.when, wording), conditionWords(route.when, wording));
  });
  for (const route of was)
    if (!is.some((one) => one.key === route.key)) note(`Route “${route.name}”`, 'there', 'taken out');
  const both = (routes: readonly Route[], others: readonly Route[]): string =>
    routes
      .filter((route) => others.some((one) => one.key === route.key))
      .map((route) => route.name)
      .join(', ');
  note('Order of routes', both(was, is), both(is, was));
  changes.push(...changesInSetting(before, after, wording));
  // A draft has a name of its own: that alone changes nothing.
  if (changes.length === 0 && JSON.stringify(before) !== JSON.stringify({ ...after, name: before.name }))
    note('Names and order', 'as in force', 'changed without any effect on a decision');
  return changes;
}

/** Gates, territories, groups, bounds, streams and what else a charter sets. */
function changesInSetting(before: Charter, after: Charter, wording: Wording): CharterChange[] {
  const changes: CharterChange[] = [];
  const note = (what: string, from: string | null, to: string): void => {
    if (from !== to) changes.push({ what, from, to });
  };
  const each = <T extends { readonly key: string; readonly name: string }>(
    what: string,
    was: readonly T[],
    is: readonly T[],
    words: (one: T) => string,
  ): void => {
    const old = new Map(was.map((one) => [one.key, one]));
    for (const one of is) {
      const known = old.get(one.key);
      note(
        known ? `${what} “${one.name}”` : `New ${fold(what)} “${one.name}”`,
        known ? words(known) : null,
        words(one),
      );
      old.delete(one.key);
    }
    for (const gone of old.values()) note(`${what} “${gone.name}”`, words(gone), 'taken out');
  };
  const { names } = wording;
  each('Gate', before.gates, after.gates, (gate) => {
    const way = `${names.stage(gate.from)} → ${names.stage(gate.to)}`;
    return `${way} when ${conditionWords(gate.when, wording)}${gate.on ? '' : ', off'}`;
  });
  each('Territory', before.territories.list, after.territories.list, (one) => one.countries.join(', ') || 'no country');
  each('Group', before.scoreSet.groups, after.scoreSet.groups, ({ cap }) => `held at ${cap}`);
  each('Stream', before.streams, after.streams, (stream) => {
    const stages = stream.entering.map((stage) => names.stage(stage)).join(', ');
    return `on entering ${stages} when ${conditionWords(stream.when, wording)}${stream.on ? '' : ', off'}`;
  });
  // New ones and those taken out are said already.
  const inBoth = <T extends { readonly key: string }>(list: readonly T[], other: readonly T[]): T[] =>
    list.filter(({ key }) => other.some((one) => one.key === key));
  const [signalsWere, signalsAre] = [before.scoreSet.signals, after.scoreSet.signals];
  each('Signal', inBoth(signalsWere, signalsAre), inBoth(signalsAre, signalsWere), ({ on, group }) =>
    [on ? 'on' : 'off', ...(group === null ? [] : [`in ${names.group(group)}`])].join(', '),
  );
  const [routesWere, routesAre] = [routesOf(before), routesOf(after)];
  each('Route', inBoth(routesWere, routesAre), inBoth(routesAre, routesWere), ({ on }) => (on ? 'on' : 'off'));
  for (const axis of AXES) {
    const shown = ({ scoreSet }: Charter): string => {
      const { least, most, decimals } = scoreSet[axis];
      return `${least} to ${most}, ${decimals} decimals; bands ${scoreSet.grid[axis].names.join(', ')}`;
    };
    note(`Bounds and bands of ${axis}`, shown(before), shown(after));
  }
  const setting = ({ timeZone, baseCurrency, entry, lastResort, stages, verdicts }: Charter): string =>
    [
      timeZone,
      baseCurrency,
      `entry ${entry}`,
      `last resort ${lastResort}`,
      ...[...stages, ...verdicts].map((one) => one.name),
    ].join(', ');
  note('Setting', setting(before), setting(after));
  return changes;
}
