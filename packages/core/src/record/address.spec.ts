import { countryCode, COUNTRY_LIST } from './country';
import { readPostalCode } from './postal-code';
import { readRegion, REGION_LIST, regionsAround } from './region';

// ISO 3166-1 has 249 countries (iso-3166 4.4, released 2026-03). Counts of ISO 3166-2 that checks.md calls safe to assert.
test('countries and regions are as many as the standard has', () => {
  expect(COUNTRY_LIST.length).toBeGreaterThanOrEqual(249);
  expect(REGION_LIST.length).toBeGreaterThan(5000);
  const outermost = (country: string) =>
    REGION_LIST.filter(({ code, around }) => code.startsWith(country) && around === null);
  expect([outermost('US').length, outermost('CA').length, outermost('DE').length]).toEqual([57, 13, 16]);
  expect(outermost('AU').length).toBe(8);
  expect(regionsAround('GB-EDH')).toEqual(['GB-EDH', 'GB-SCT']);
});

test.each([
  ['Syria', 'SY'],
  ['Laos', 'LA'],
  ['Moldova', 'MD'],
  ['Viet Nam', 'VN'],
  ['vietnam', 'VN'],
  ['Cabo Verde', 'CV'],
  ['Réunion', 'RE'],
  ['reunion', 'RE'],
  ['Vatican', 'VA'],
  ['Holland', 'NL'],
  ['Noreg', 'NO'],
  ['England', 'GB'],
  ['scotland', 'GB'],
  ['Macau', 'MO'],
  ['U.S.A.', 'US'],
  ['Österreich', 'AT'],
  ['OSTERREICH', 'AT'],
  ['Suomi', 'FI'],
  ['España', 'ES'],
  ['日本', 'JP'],
  [' norge ', 'NO'],
  ['NOR', 'NO'],
  ['Atlantis', undefined],
  ['', undefined],
])('%j is the country %s', (written, code) => {
  expect(countryCode(written)).toBe(code);
});

test('every country is found by its codes and its English name', () => {
  for (const { code, name } of COUNTRY_LIST)
    expect([code, countryCode(name), countryCode(code)]).toEqual([code, code, code]);
});

test.each([
  ['California', 'US', 'US-CA'],
  ['ca', 'US', 'US-CA'],
  ['US-CA', null, 'US-CA'],
  ['california', null, 'US-CA'],
  ['Bavaria', 'DE', 'DE-BY'],
  ['bayern', 'DE', 'DE-BY'],
  ['nordrhein westfalen', 'DE', 'DE-NW'],
  ['Édimbourg', 'GB', /not a region of United Kingdom/],
  ['Edinburgh', 'GB', 'GB-EDH'],
  ['Québec', 'CA', 'CA-QC'],
  ['quebec', 'CA', 'CA-QC'],
  ['Califnoria', 'US', /is not a region of United States/],
  ['US-CA', 'DE', /is not a region of Germany/],
  // Brazil, Colombia, Peru and Venezuela have one each.
  ['Amazonas', null, /several regions/],
  ['Amazonas', 'BR', 'BR-AM'],
])('%j in %s is the region %s', (written, country, expected) => {
  const read = readRegion(written, country);
  if (typeof expected === 'string') expect(read).toEqual({ ok: true, code: expected });
  else expect(read).toEqual({ ok: false, why: expect.stringMatching(expected) as string });
});

test.each([
  ['94105', 'US', '94105'],
  ['94105-1234', 'US', '94105'],
  ['sw1a 1aa', 'GB', 'SW1A1AA'],
  ['SW1A1AA', 'GB', 'SW1A1AA'],
  ['K1A 0B1', 'CA', 'K1A0B1'],
  ['k1a0b1', 'CA', 'K1A0B1'],
  ['0150', 'NO', '0150'],
  ['80331', 'DE', '80331'],
  ['8033', 'DE', null],
  ['SW1A 1AA', 'US', null],
  ['#!', null, null],
  ['1234 ab', null, '1234AB'],
])('%j in %s is the postal code %s', (written, country, code) => {
  const read = readPostalCode(written, country);
  expect(read.ok ? read.code : null).toBe(code);
});
