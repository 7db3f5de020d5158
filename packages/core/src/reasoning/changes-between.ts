import { conditionWords } from './condition-words';
import type { Wording } from './subject-words';
import { destinationWords } from './place-words';
import type { Route } from '../route/route';
import { ChangeNotes, type CharterChange } from './change-notes';
import type { Charter } from '../charter/charter';
import { noteSetChanges } from './set-changes';

function routesOf(charter: Charter): readonly Route[] {
  return charter.streams.flatMap((stream) => stream.routes);
}

/** What a charter changes against another: points, signals, cuts, verdicts, routes, their order and targets. */
export function changesBetween(before: Charter, after: Charter, wording: Wording): CharterChange[] {
  const notes = new ChangeNotes();
  noteSetChanges(notes, before.scoreSets, after.scoreSets, wording);
  noteRoutes(notes, routesOf(before), routesOf(after), wording);
  noteSetting(notes, before, after, wording);
  // A draft has a name of its own: that alone changes nothing.
  if (notes.changes.length === 0 && JSON.stringify(before) !== JSON.stringify({ ...after, name: before.name }))
    notes.note('Names and order', 'as in force', 'changed without any effect on a decision');
  return notes.changes;
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

/** Gates, territories, streams and what else a charter sets. */
function noteSetting(notes: ChangeNotes, before: Charter, after: Charter, wording: Wording): void {
  const { names } = wording;
  notes.each('Gate', before.gates, after.gates, (gate) => {
    const way = `${names.stage(gate.from)} → ${names.stage(gate.to)}`;
    return `${way} when ${conditionWords(gate.when, wording)}${gate.on ? '' : ', off'}`;
  });
  notes.each(
    'Territory',
    before.territories.list,
    after.territories.list,
    (one) => one.countries.join(', ') || 'no country',
  );
  notes.each('Stream', before.streams, after.streams, (stream) => {
    const stages = stream.entering.map((stage) => names.stage(stage)).join(', ');
    return `on entering ${stages} when ${conditionWords(stream.when, wording)}${stream.on ? '' : ', off'}`;
  });
  const setting = ({ timeZone, baseCurrency, entry, lastResort, stages, verdicts }: Charter): string =>
    [
      timeZone,
      baseCurrency,
      `entry ${entry}`,
      `last resort ${lastResort}`,
      ...[...stages, ...verdicts].map((one) => one.name),
    ].join(', ');
  notes.note('Setting', setting(before), setting(after));
}
