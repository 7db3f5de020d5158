import type { Field } from '@relvik/core';
import { feelCompletions } from './feel-completions';

const FIELDS: readonly Field[] = [
  { key: 'industry', name: 'Industry', type: 'choice', options: ['Brewery', 'Fish farm'], retired: false },
  { key: 'country', name: 'Country', type: 'country', options: [], retired: false },
  { key: 'employees', name: 'Employees', type: 'number', options: [], retired: false },
];
const offered = (before: string) => {
  const found = feelCompletions(before, FIELDS);
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
  const begun = feelCompletions('employees > 5 and ind', FIELDS);
  expect(begun).toMatchObject({ from: 18 });
  expect(begun?.options).toContainEqual({ label: 'industry', detail: 'Industry', type: 'variable' });
  expect(begun?.options.map(({ label }) => label)).toEqual(expect.arrayContaining(['contains(', 'and', 'null']));
  expect(feelCompletions('industry = ', FIELDS)?.options[0]).toMatchObject({ label: 'Brewery', apply: '"Brewery"' });
});
