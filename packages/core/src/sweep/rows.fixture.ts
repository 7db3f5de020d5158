import fc from 'fast-check';
import { happeningKey } from '../activity/property-test';
import { standing } from '../charter/charter.fixture';
import type { ReadyCharter } from '../charter/ready-charter';
import { ALL_FIELDS, FIELDS, HAVING, rawRecord, TIED_FIELDS } from '../condition/conditions.fixture';
import type { Field } from '../record/field';
import type { Place } from '../record/place';
import { JUST_IN, type Look, type MovingRecord, WAYS } from '../record/record';
import { COMPANY_OWNER, companyOwnerValue } from '../route/company-owner';
import { type Raw, readValue, type Value } from '../record/value';
import { encodeHappening, encodePopulation, type PopulationRecord } from './encode';
import type { Population } from './population';
import { AS_OF, option, STAGES, TERRITORIES } from './sweep.fixture';

const DAY = 86_400_000;

const place = fc.constantFrom<Place>(
  { kind: 'owner', rep: 'ada' as never },
  { kind: 'queue', queue: 'projects' as never },
  { kind: 'bay', reason: { why: 'nobody-free', route: 'r1' as never, rep: 'ada' as never, team: null } },
  { kind: 'not-handed-over', verdict: null },
);

/** A row of a population whose record moves through stages. */
export type MovingRow = PopulationRecord<MovingRecord>;

function valuesOf(fields: ReadonlyMap<string, Field>, raw: Readonly<Record<string, Raw>>): Map<string, Value> {
  return new Map(
    [...fields].map(([key, field]): [string, Value] => [key, readValue(field, raw[key] ?? null, '2026-03-01')]),
  );
}

/** Any record over FIELDS, as it is stored. */
export const records: fc.Arbitrary<MovingRow[]> = fc
  .array(
    fc.record({
      raw: rawRecord,
      arrived: fc.integer({ min: -1, max: 90 }),
      // The last was merged into another stage.
      stage: fc.constantFrom(...STAGES, 'once'),
      // The last is a pipeline that is no more.
      cameInto: option(fc.constantFrom('leads', 'more', 'gone')),
      status: fc.constantFrom('open', 'open', 'won'),
      since: option(fc.integer({ min: 0, max: 60 * 24 })),
      way: fc.constantFrom(...WAYS, null),
      place,
      pin: option(fc.constantFrom(...TERRITORIES)),
      activities: fc.array(
        fc.tuple(
          fc.constantFrom('mail_clicked', 'call_taken', 'mail_sent'),
          fc.integer({ min: -60, max: 70 * 24 * 60 }),
          fc.constantFrom<Readonly<Record<string, string>>>({}, { page: '/pricing' }, { page: '/about', link: 'demo' }),
        ),
        { maxLength: 5 },
      ),
      looks: fc
        .subarray(['g0', 'g1', 'g2'])
        .chain((gates) =>
          fc.tuple(...gates.map((gate) => fc.tuple(fc.constant(gate), fc.constantFrom<Look>('true', 'true', 'held')))),
        ),
      worked: fc.integer({ min: 0, max: 30 }),
      // The last works here no more.
      owns: fc.constantFrom(null, null, 'ada', 'bo', 'gone'),
    }),
    { minLength: 1, maxLength: 75, size: 'max' },
  )
  .map((list) =>
    list.map(
      (
        { raw, arrived, stage, cameInto, since, way, status, pin, activities, looks, worked, owns, place: stands },
        i,
      ): MovingRow => {
        const at = AS_OF - arrived * DAY;
        const record: MovingRecord = {
          id: String(i + 1),
          kind: 'lead',
          arrived: at,
          way,
          standing: {
            ...{ status, cameInto },
            stage: stage as never,
            stageSince: since === null ? null : AS_OF - since * 3_600_000,
            place: stands,
            pin: pin as never,
            looks: new Map(looks),
          },
          values: valuesOf(FIELDS, raw),
          // A record without ties knows nothing of them.
          ...(i % 5 === 0 ? {} : { tied: valuesOf(TIED_FIELDS, raw).set(COMPANY_OWNER, companyOwnerValue(owns)) }),
          activities: activities.map(([kind, minutes, properties]) => ({
            kind,
            at: AS_OF - minutes * 60_000,
            properties,
          })),
        };
        return { record, closed: status === 'open' ? null : at + worked * DAY, touched: at };
      },
    ),
  );

/** The same records, with looks of the gates of a charter: of those in their places. */
export function lookingAt({ rules }: ReadyCharter, list: readonly MovingRow[]): MovingRow[] {
  return list.map((one) => {
    const looks = [...one.record.standing.looks].flatMap(([key, look]): [string, Look][] => {
      const gate = rules.lead.gates[Number(key.slice(1))];
      return gate === undefined ? [] : [[gate.look, look]];
    });
    return { ...one, record: standing(one.record, { looks: new Map(looks) }) };
  });
}

/** Records by columns, with the activities that some signals ask for by their properties. */
export function populationOf(list: readonly PopulationRecord[]): Population {
  const population = encodePopulation(list, ALL_FIELDS);
  for (const kind of ['mail_clicked', 'call_taken', 'mail_sent'])
    population.events.set(happeningKey(kind, HAVING), encodeHappening(list, kind, HAVING));
  return population;
}

/** A record as if it had just come in, into the same pipeline; its territory stays pinned. */
export const asNew = (record: MovingRecord): MovingRecord => {
  const { cameInto, pin } = record.standing;
  return standing(record, { ...JUST_IN, cameInto, pin });
};
