import fc from 'fast-check';

/** Values that gates set, of every type; an amount in a currency without a rate can't be judged. */
export const effect = fc.oneof(
  fc.constantFrom(
    ...[
      ['words', 'Fish farm'],
      ['words', ''],
      ['size', '50'],
      ['size', '1000'],
      ['worth', '50 EUR'],
      ['worth', '900 NOK'],
      ['worth', '50 SEK'],
      ['trade', 'Käserei'],
      ['likes', 'Brewery; Fish farm'],
      ['agreed', 'yes'],
      ['since', '2026-02-28'],
    ].map(([field, value]) => ({ kind: 'set', field, value })),
  ),
  fc.constantFrom('Fair 26', 'straße', 'x').map((tag) => ({ kind: 'tag', tag })),
);
