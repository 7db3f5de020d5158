import fc from 'fast-check';
import { type CompanyClue, domainOf, findCompany, type KnownCompany } from './find-company';

const known = (id: number, name: string, domains: string[] = [], country: string | null = null): KnownCompany => ({
  id,
  names: new Set([name]),
  domains: new Set(domains),
  country,
});
const clue = (name: string | null, domain: string | null = null, country: string | null = null): CompanyClue => ({
  name,
  domain,
  country,
});

test('by name first, then by domain; a namesake of another domain or country is alike, and not taken for it', () => {
  const norway = known(1, 'fjord', ['fjord.example'], 'NO');
  expect(findCompany(clue('fjord'), [norway])).toEqual({ kind: 'known', id: 1 });
  expect(findCompany(clue('fjord', 'fjord.example', 'NO'), [norway])).toEqual({ kind: 'known', id: 1 });
  expect(findCompany(clue('fjord', null, 'SE'), [norway])).toEqual({ kind: 'new', alike: 1 });
  expect(findCompany(clue('fjord', 'other.example'), [norway])).toEqual({ kind: 'new', alike: 1 });
  // Its people write the name otherwise.
  expect(findCompany(clue('fjord as', 'fjord.example'), [norway])).toEqual({ kind: 'known', id: 1 });
  expect(findCompany(clue(null, 'fjord.example'), [norway])).toEqual({ kind: 'known', id: 1 });
  // Once the second is there, each is found by its country.
  const sweden = known(2, 'fjord', [], 'SE');
  expect(findCompany(clue('fjord', null, 'SE'), [norway, sweden])).toEqual({ kind: 'known', id: 2 });
  expect(findCompany(clue('elv'), [])).toEqual({ kind: 'new', alike: null });
  expect(findCompany(clue(null, null, 'NO'), [])).toEqual({ kind: 'none' });
});

test('what is found never contradicts what is said, and who says the same twice is found', () => {
  const name = fc.option(fc.constantFrom('fjord', 'elv'));
  const domain = fc.option(fc.constantFrom('a.example', 'b.example'));
  const country = fc.option(fc.constantFrom('NO', 'SE'));
  const company = fc.tuple(fc.constantFrom('fjord', 'elv'), fc.subarray(['a.example', 'b.example']), country);
  fc.assert(
    fc.property(name, domain, country, fc.array(company, { maxLength: 4 }), (n, d, c, list) => {
      const all = list.map(([one, domains, of], i) => known(i + 1, one, domains, of));
      const asked = clue(n, d, c);
      const found = findCompany(asked, all);
      if (found.kind === 'known') {
        const { names, domains, country: own } = all[found.id - 1]!;
        const byName = n !== null && names.has(n);
        expect(byName || (d !== null && domains.has(d))).toBe(true);
        if (byName)
          expect([own === null || c === null || own === c, d === null || domains.size === 0 || domains.has(d)]).toEqual(
            [true, true],
          );
      }
      if (found.kind === 'new') {
        const made = known(99, n!, d === null ? [] : [d], c);
        expect(findCompany(asked, [...all, made])).toEqual({ kind: 'known', id: 99 });
      }
    }),
  );
});

test.each([
  ['ada@Fjord.EXAMPLE', 'fjord.example'],
  ['"a@b"@c.example', 'c.example'],
  ['nobody', null],
  ['nobody@', null],
])('the domain of %s', (email, domain) => {
  expect(domainOf(email)).toBe(domain);
});
