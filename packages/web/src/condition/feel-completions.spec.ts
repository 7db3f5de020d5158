import { type Field, fieldScope, namesFrom, NO_NAMES } from '@relvik/core';
import { feelCompletions } from './feel-completions';

const FIELDS: readonly Field[] = [
  { key: 'industry', name: 'Industry', type: 'choice', options: ['Brewery', 'Fish farm'], retired: false },
  { key: 'country', name: 'Country', type: 'country', options: [], retired: false },
  { key: 'employees', name: 'Employees', type: 'number', options: [], retired: false },
];
const SCOPE = fieldScope(new Map(FIELDS.map((field) => [field.key, field])), 'EUR');
const wording = {
  names: namesFrom({ ...NO_NAMES, fields: FIELDS }),
  fields: SCOPE.fields,
  baseCurrency: 'EUR',
};
const complete = (before: string) => feelCompletions(before, SCOPE, wording);
const offered = (before: string) => {
  const found = complete(before);
  return found && { from: found.from, labels: found.options.map(({ label }) => label) };
};

test('inside quotes the values of the field that is asked about, from the quote on', () => {
  for (const before of [
    'industry = "',
    'industry in ("Brewery", "',
    'employees > 5 and industry != "',
    'contains(industry, "',
  ])
    expect([before, offered(before)]).toEqual([before, { from: before.length, labels: ['Brewery', 'Fish farm'] }]);
  expect(offered('industry = "Fi')).toEqual({ from: 12, labels: ['Brewery', 'Fish farm'] });
  expect(offered('country = "Norw')?.labels).toContain('Norway');
  expect(offered('employees = "')?.labels).toEqual([]);
  expect(offered('"')).toBeNull();
});

test('elsewhere fields with their names, functions and words; after a comparison values in quotes come first', () => {
  const begun = complete('employees > 5 and ind');
  expect(begun).toMatchObject({ from: 18 });
  expect(begun?.options).toContainEqual({ label: 'industry', detail: 'Industry', type: 'variable' });
  expect(begun?.options.map(({ label }) => label)).toEqual(expect.arrayContaining(['contains(', 'and', 'null']));
  expect(complete('industry = ')?.options[0]).toMatchObject({ label: 'Brewery', apply: '"Brewery"' });
});
