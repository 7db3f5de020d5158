import { pastedValues } from './chip-field';

test('a column pasted from a spreadsheet becomes values, once each', () => {
  expect(pastedValues('Brewery\r\nFish farm\n\n Brewery \tMill;Dairy')).toEqual([
    'Brewery',
    'Fish farm',
    'Mill',
    'Dairy',
  ]);
});
