import type { DaysOff } from '@relvik/core';
import { PageTest, PEOPLE } from '../page.fixture';
import { CalendarFile } from './calendar-file';

const YEAR = new Date().getUTCFullYear() + 1;
const ICS = [
  ...['BEGIN:VCALENDAR', 'VERSION:2.0', 'PRODID:-//test', 'BEGIN:VEVENT', 'UID:1', 'SUMMARY:Leave'],
  ...[`DTSTART;VALUE=DATE:${YEAR}0405`, `DTEND;VALUE=DATE:${YEAR}0410`, 'END:VEVENT', 'BEGIN:VEVENT', 'UID:2'],
  ...['SUMMARY:Birthday', `DTSTART;VALUE=DATE:${YEAR}0412`, 'TRANSP:TRANSPARENT', 'END:VEVENT', 'END:VCALENDAR', ''],
].join('\r\n');

async function choose(page: PageTest<CalendarFile>, text: string, said: string): Promise<void> {
  const input = page.find('input[type=file]') as HTMLInputElement;
  const file = { text: () => Promise.resolve(text) };
  Object.defineProperty(input, 'files', { value: [file], configurable: true });
  input.dispatchEvent(new Event('change'));
  // The library is loaded first.
  for (let i = 0; i < 200 && !page.text.includes(said); i += 1) {
    await new Promise((done) => setTimeout(done, 10));
    await page.settle();
  }
}

test('days off out of a calendar file are shown before they are taken over, beside those that are known', async () => {
  const [ada] = PEOPLE.people;
  const known: DaysOff = { from: `${YEAR}-01-02`, to: `${YEAR}-01-02`, hours: null };
  const page = await PageTest.open(CalendarFile, { person: { ...ada, daysOff: [known] }, people: PEOPLE });
  const taken: (readonly DaysOff[])[] = [];
  page.component.instance.taken.subscribe((daysOff) => taken.push(daysOff));
  await choose(page, 'name;day', 'no iCalendar');
  expect(page.text).toContain('This is no iCalendar file that can be read.');
  await choose(page, ICS, 'new entry');
  expect(page.text).toContain(`1 new entry, ${YEAR}-04-05 to ${YEAR}-04-09, “Birthday” leaves free`);
  await page.click('Take them over');
  expect(taken).toEqual([[known, { from: `${YEAR}-04-05`, to: `${YEAR}-04-09`, hours: null }]]);
});
