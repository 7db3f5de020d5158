import {
  AXES,
  type Charter,
  conditionWords,
  destinationWords,
  type Route,
  signalWords,
  signed,
  type Wording,
} from '@relvik/core';

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
  return changes;
}
