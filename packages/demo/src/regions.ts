/** A region in which the demo's leads are, as it is written there, and postal codes that it has. */
export interface Region {
  readonly spellings: readonly string[];
  readonly codes: readonly string[];
}

/** By the country's name in places.ts. */
export const REGIONS: Readonly<Record<string, readonly Region[]>> = {
  'United States': [
    { spellings: ['California', 'CA', 'california', 'US-CA', ' Ca '], codes: ['94105', '90012-4401', '95814'] },
    { spellings: ['Oregon', 'OR'], codes: ['97204'] },
    { spellings: ['Washington', 'WA'], codes: ['98101'] },
    { spellings: ['New York', 'NY'], codes: ['10001', '14202'] },
    { spellings: ['Illinois', 'IL'], codes: ['60606'] },
    { spellings: ['Wisconsin', 'WI'], codes: ['53202'] },
    { spellings: ['Texas', 'TX'], codes: ['75201', '78701'] },
  ],
  Canada: [
    { spellings: ['Ontario', 'ON'], codes: ['M5V 2T6', 'k1a0b1'] },
    { spellings: ['British Columbia', 'BC'], codes: ['V6B 1A1'] },
    { spellings: ['Québec', 'Quebec', 'QC'], codes: ['H2Y 1C6'] },
  ],
  Australia: [
    { spellings: ['New South Wales', 'NSW'], codes: ['2000'] },
    { spellings: ['Tasmania', 'TAS'], codes: ['7000'] },
    { spellings: ['Victoria', 'VIC'], codes: ['3000'] },
  ],
  Germany: [
    { spellings: ['Bayern', 'Bavaria', 'BY'], codes: ['80331', '87435'] },
    { spellings: ['Nordrhein-Westfalen', 'NRW'], codes: ['50667', '40213'] },
    { spellings: ['Baden-Württemberg', 'BW'], codes: ['70173', '89073'] },
    { spellings: ['Hamburg', 'HH'], codes: ['20095'] },
    { spellings: ['Ruhr', 'Ruhrgebiet', 'ruhr'], codes: ['45127', '44135'] },
  ],
  'United Kingdom': [
    { spellings: ['Scotland', 'SCT'], codes: ['EH1 1YZ', 'g1 1xq'] },
    { spellings: ['England', 'ENG'], codes: ['SW1A 1AA', 'M1 1AE'] },
    { spellings: ['Wales', 'WLS'], codes: ['CF10 3AT'] },
  ],
};

/** Regions that the admin added, and other spellings of the admin's. */
export const OWN_REGIONS = [{ code: 'DE-RUHR', name: 'Ruhr' }] as const;
export const SPELLINGS = [
  { list: 'regions:DE', written: 'Ruhrgebiet', means: 'DE-RUHR' },
  { list: 'regions:US', written: 'Wash. State', means: 'US-WA' },
  { list: 'countries', written: 'Germoney', means: 'DE' },
] as const;

/** Regions as they are misspelled in each country. */
const MISSPELLED: Readonly<Record<string, string>> = {
  'United States': 'Californa',
  Canada: 'Ontaro',
  Australia: 'Tasmanya',
  Germany: 'Baveria',
  'United Kingdom': 'Scottland',
};

/** Regions of a country that no list knows: mostly misspelled, so that the likely one is found. */
export function unknownRegions(country: string): readonly string[] {
  const misspelled = MISSPELLED[country] ?? 'the south';
  return [misspelled, 'the north', misspelled, misspelled, misspelled];
}
