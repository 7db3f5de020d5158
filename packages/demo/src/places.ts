/** A country in which Ostervane sells or is asked, with made-up names as they sound there. */
export interface Country {
  readonly name: string;
  /** As visitors write it: usually right. */
  readonly spellings: readonly string[];
  readonly weight: number;
  readonly currency: string;
  readonly first: readonly string[];
  readonly last: readonly string[];
  readonly towns: readonly string[];
}

const NORDIC_FIRST = ['Inga', 'Solveig', 'Torvald', 'Eirik', 'Maren', 'Liv', 'Aksel', 'Ragna', 'Jorun', 'Sindre', 'Tuva', 'Halvor', 'Signe', 'Vidar', 'Astrid', 'Odd'];
const GERMAN_FIRST = ['Anneke', 'Lorenz', 'Friederike', 'Henning', 'Wiebke', 'Konrad', 'Ulrike', 'Bastian', 'Gesine', 'Tilman', 'Roswitha', 'Jost'];
const ENGLISH_FIRST = ['Maeve', 'Callum', 'Rhona', 'Owen', 'Bronwen', 'Declan', 'Imogen', 'Fergus', 'Nuala', 'Gareth', 'Isla', 'Rory'];
const IBERIAN_FIRST = ['Leonor', 'Tomás', 'Inês', 'Rui', 'Beatriz', 'Íñigo', 'Marisol', 'Duarte', 'Nerea', 'Álvaro', 'Filipa', 'Gaspar'];
const OVERSEAS_FIRST = ['Delia', 'Wyatt', 'Harlan', 'June', 'Marcus', 'Tess', 'Elias', 'Ramona', 'Curtis', 'Naomi', 'Grant', 'Lorna'];

export const COUNTRIES: readonly Country[] = [
  { name: 'Norway', spellings: ['Norway', 'NO', 'norway', 'NOR'], weight: 15, currency: 'NOK', first: NORDIC_FIRST, last: ['Solheim', 'Fjelldal', 'Brattvik', 'Nordmo', 'Haugsvær', 'Lindås', 'Torvik', 'Steinsund'], towns: ['Fjelldal', 'Brattvik', 'Skarsund', 'Hellevåg', 'Nordmo', 'Tindøy', 'Kvalnes', 'Lyngvær'] },
  { name: 'Sweden', spellings: ['Sweden', 'SE', 'sweden'], weight: 10, currency: 'SEK', first: NORDIC_FIRST, last: ['Ekvall', 'Sandhamre', 'Björkelund', 'Åsberg', 'Tornvik', 'Hedmark'], towns: ['Ekvalla', 'Sandhamra', 'Björkelund', 'Tornviken', 'Hedsala'] },
  { name: 'Denmark', spellings: ['Denmark', 'DK'], weight: 6, currency: 'DKK', first: NORDIC_FIRST, last: ['Vestergård', 'Klintholm', 'Rørvig', 'Aabye', 'Skovlund'], towns: ['Klintrup', 'Rørsted', 'Aaskov', 'Vesterlund'] },
  { name: 'Finland', spellings: ['Finland', 'FI'], weight: 4, currency: 'EUR', first: ['Aino', 'Veikko', 'Saara', 'Ilmari', 'Kerttu', 'Otso'], last: ['Koskela', 'Järvensuu', 'Lehtoranta', 'Saarikko', 'Niemistö'], towns: ['Koskenranta', 'Järvensuu', 'Saarilahti'] },
  { name: 'Iceland', spellings: ['Iceland'], weight: 2, currency: 'ISK', first: NORDIC_FIRST, last: ['Hraunsdal', 'Melvík'], towns: ['Hraunsdalur', 'Melvík'] },
  { name: 'Germany', spellings: ['Germany', 'DE', 'germany', 'DEU'], weight: 16, currency: 'EUR', first: GERMAN_FIRST, last: ['Hopfenau', 'Lauenau', 'Brinkfeld', 'Weidenbach', 'Mühlrath', 'Sandkamp', 'Tannhof', 'Uhlhorn'], towns: ['Lauenau', 'Hopfenau', 'Weidenbach', 'Mühlrath', 'Brinkfeld', 'Sandkamp', 'Tannhof'] },
  { name: 'Austria', spellings: ['Austria', 'AT'], weight: 5, currency: 'EUR', first: GERMAN_FIRST, last: ['Steinwandter', 'Almtaler', 'Gratzl', 'Hochleitner'], towns: ['Almtal', 'Steinwand', 'Gratzenau'] },
  { name: 'Switzerland', spellings: ['Switzerland', 'CH'], weight: 4, currency: 'CHF', first: GERMAN_FIRST, last: ['Rütimatt', 'Bachtal', 'Oberhasler', 'Seewil'], towns: ['Rütimatt', 'Seewil', 'Bachtal'] },
  { name: 'United Kingdom', spellings: ['United Kingdom', 'GB', 'UK', 'GBR'], weight: 11, currency: 'GBP', first: ENGLISH_FIRST, last: ['Ardmore', 'Penhallow', 'Thistleby', 'Caerwyn', 'Brackenridge', 'Mossop'], towns: ['Ardmuir', 'Bryn Mawrth', 'Thistleby', 'Caerwyn', 'Lochbrae', 'Penhallow'] },
  { name: 'Ireland', spellings: ['Ireland', 'IE'], weight: 4, currency: 'EUR', first: ENGLISH_FIRST, last: ['Kilbracken', 'Dunmorra', 'Inisglass'], towns: ['Kilbracken', 'Dunmorra', 'Inisglass'] },
  { name: 'Spain', spellings: ['Spain', 'ES', 'spain'], weight: 6, currency: 'EUR', first: IBERIAN_FIRST, last: ['Valdemora', 'Riosalado', 'Montalbo', 'Peñarroya'], towns: ['Valdemora', 'Riosalado', 'Montalbo'] },
  { name: 'Portugal', spellings: ['Portugal', 'PT'], weight: 4, currency: 'EUR', first: IBERIAN_FIRST, last: ['Valesul', 'Ribamar', 'Pedrógano'], towns: ['Vale Sul', 'Ribamar', 'Pedrógano'] },
  { name: 'United States', spellings: ['United States', 'US', 'USA'], weight: 14, currency: 'USD', first: OVERSEAS_FIRST, last: ['Coldwater', 'Hartsell', 'Winslade', 'Ferncastle', 'Bluford', 'Ackerby'], towns: ['Coldwater Bend', 'Hartsell', 'Winslade', 'Blue Fork', 'Ackerby Falls'] },
  { name: 'Canada', spellings: ['Canada', 'CA'], weight: 6, currency: 'CAD', first: OVERSEAS_FIRST, last: ['Lacombe-Roy', 'Birchmount', 'Northway', 'Sablon'], towns: ['Birchmount', 'Lac Sablon', 'Northway'] },
  { name: 'Australia', spellings: ['Australia', 'AU'], weight: 4, currency: 'AUD', first: OVERSEAS_FIRST, last: ['Wattlebrook', 'Murrindale', 'Coorabie'], towns: ['Wattlebrook', 'Murrindale'] },
  { name: 'Netherlands', spellings: ['Netherlands', 'NL'], weight: 2, currency: 'EUR', first: GERMAN_FIRST, last: ['Waterlander', 'Zijlstede'], towns: ['Zijlstede', 'Waterrijk'] },
  { name: 'Malta', spellings: ['Malta'], weight: 1, currency: 'EUR', first: IBERIAN_FIRST, last: ['Qasam', 'Borgatto'], towns: ['Qasam'] },
];

/** Spellings that no list knows. */
export const UNKNOWN_SPELLINGS = ['Noreg', 'Deutchland', 'Scotlandd', 'U. States', 'Espania'];
