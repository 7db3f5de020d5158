import fc from 'fast-check';
import type { Field, FieldType } from './field';
import { likelyMeaning } from './likely';
import { readSpelling } from './read-spelling';
import { isOwnRegion, ownRegionCode, readRegion, REGION_LIST, regionLabel, regionsAround } from './region';
import { fieldsOfList, spellingList } from './spelling-list';
import { readValue, showValue } from './value';

const field = (type: FieldType, more: Partial<Field> = {}): Field => ({
  ...{ key: type, name: type, type, options: [], retired: false },
  ...more,
});
const read = (of: Field, raw: string, country: string | null = null) => {
  const value = readValue(of, raw, '2026-03-01', country);
  return value.kind === 'unreadable' ? null : showValue(value);
};
const industry = field('choice', {
  options: ['Brewery', 'Fish farm'],
  spellings: [{ written: 'Brauerei', means: 'Brewery' }],
});

test('a spelling stands for an option, a country or a region, whatever its case and punctuation; options count before it', () => {
  expect(read(industry, ' BRAUEREI ')).toBe('Brewery');
  const several = { ...industry, type: 'choices' as const };
  expect(read(several, 'Fish farm; brauerei')).toBe('Brewery; Fish farm');
  const country = field('country', { spellings: [{ written: 'Holand', means: 'NL' }] });
  expect([read(country, 'holand'), read(country, 'Norway')]).toEqual(['NL', 'NO']);
  // A spelling can't override the standard.
  expect(read(field('country', { spellings: [{ written: 'Norway', means: 'SE' }] }), 'Norway')).toBe('NO');
});

test('a spelling of a region counts in its country alone; where the country is not known it counts too', () => {
  const state = field('region', { spellings: [{ written: 'Kalifornya', means: 'US-CA' }] });
  expect([read(state, 'kalifornya', 'US'), read(state, 'kalifornya', 'DE'), read(state, 'Kalifornya')]).toEqual([
    'US-CA',
    null,
    'US-CA',
  ]);
});

test('a name that is both a country and a state is what its field holds', () => {
  expect(read(field('country'), 'Georgia')).toBe('GE');
  expect(read(field('region'), 'Georgia', 'US')).toBe('US-GA');
});

test('regions of the admin’s own are read by name and code, lie in their country alone, and are called by their name', () => {
  const own = { ownRegions: [{ code: 'DE-RUHR', name: 'Ruhr' }] };
  expect(readRegion('ruhr', 'DE', own)).toEqual({ ok: true, code: 'DE-RUHR' });
  expect(readRegion('DE-RUHR', null, own)).toEqual({ ok: true, code: 'DE-RUHR' });
  expect(readRegion('Ruhr', 'AT', own).ok).toBe(false);
  expect([regionsAround('DE-RUHR'), regionLabel('DE-RUHR', own.ownRegions)]).toEqual([['DE-RUHR'], 'Ruhr (DE)']);
});

test('no code of the standard can be one of the admin’s own, and new ones are free', () => {
  expect(REGION_LIST.filter(({ code }) => isOwnRegion(code))).toEqual([]);
  fc.assert(
    fc.property(fc.string(), fc.array(fc.string(), { maxLength: 3 }), (name, names) => {
      const taken = names.map((one) => ownRegionCode('DE', one, []));
      const code = ownRegionCode('DE', name, taken);
      expect(isOwnRegion(code) && !taken.includes(code)).toBe(true);
    }),
  );
});

test.each([
  ['Californa', 'US', 'US-CA'],
  ['Baveria', 'DE', 'DE-BY'],
  ['the north', 'US', null],
])('of %s in %s the likely region is %s', (written, country, likely) => {
  expect(likelyMeaning(field('region'), written, country)).toBe(likely);
});

test('likely countries and options are those fewest edits away; of two that are as near none is proposed', () => {
  expect(likelyMeaning(field('country'), 'Norwey', null)).toBe('NO');
  expect(likelyMeaning(field('country'), 'Espania', null)).toBe('ES');
  expect(likelyMeaning(industry, 'Brauerey', null)).toBe('Brewery');
  expect(likelyMeaning(field('choice', { options: ['Pump A', 'Pump B'] }), 'Pump C', null)).toBeNull();
  const several = field('choices', { options: ['Pumps', 'Sensors'] });
  expect(likelyMeaning(several, 'Pumps; Sensros', null)).toBe('Sensors');
  expect(likelyMeaning(field('text'), 'anything', null)).toBeNull();
});

test('fields of one list recognise its spellings together', () => {
  const shared = field('choice', { key: 'trade', optionList: 'industries' });
  const company = field('choices', { key: 'company.trade', optionList: 'industries' });
  expect(spellingList(industry, 'Brewery')).toBe('field:choice');
  expect(fieldsOfList([shared, company, industry], 'list:industries')).toEqual([shared, company]);
  expect(fieldsOfList([field('region'), field('country')], 'regions:US').map(({ type }) => type)).toEqual(['region']);
});

test.each([
  ['Brauerey', 'Brewery', { ok: true, spelling: { list: 'field:choice', folded: 'brauerey', means: 'Brewery' } }],
  ['Brauerey', 'Golf', { ok: false, at: 'means' }],
  ['fish farm', 'Brewery', { ok: false, at: 'raw', why: 'stands for Fish farm already' }],
  ['--', 'Brewery', { ok: false, at: 'raw' }],
])('“%s” as a spelling of %s is %j', (raw, means, reading) => {
  expect(readSpelling(industry, raw, means)).toMatchObject(reading);
});

test('a new spelling of one option among several is the part that is none of them; a field without a list takes none', () => {
  const several = field('choices', { options: ['Pumps', 'Sensors'] });
  expect(readSpelling(several, 'Pumps; Sensros', 'Sensors')).toMatchObject({ spelling: { written: 'Sensros' } });
  expect(readSpelling(several, 'Sensros', 'Pumps; Sensors')).toMatchObject({ at: 'means', why: 'must be one option' });
  expect(readSpelling(field('text'), 'x', 'y')).toMatchObject({ ok: false, at: 'field' });
});
