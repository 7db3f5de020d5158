import { PageTest } from '../page.fixture';
import { TagMany, taggedWords } from './tag-many';

test('typed words and a known one are put on the chosen leads; what was done is said', async () => {
  const page = await PageTest.open(TagMany, { kind: 'company', ids: [4, 7] });
  const field = page.find('#tag-many') as HTMLInputElement;
  const type = async (text: string): Promise<void> => {
    field.value = text;
    field.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
    await page.settle();
  };
  await type('Coast fair');
  await type('spring; COAST FAIR');
  await page.click('Tag them');
  const { request } = page.http.expectOne('/api/companies/tags');
  expect(request.body).toEqual({ ids: [4, 7], add: ['Coast fair', 'spring'], remove: [] });
});

test.each([
  ['lead', { changed: 1, unchanged: 0, refused: 0 }, '1 lead changed'],
  ['deal', { changed: 0, unchanged: 2, refused: 0 }, 'No deal changed, 2 were so already'],
  [
    'company',
    { changed: 3, unchanged: 1, refused: 1 },
    '3 companies changed, 1 was so already, 1 is not yours to edit',
  ],
] as const)('of a %s %j is said as “%s”', (kind, tagged, words) => {
  expect(taggedWords(tagged, kind)).toBe(words);
});
