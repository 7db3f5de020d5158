import fc from 'fast-check';
import { type CompanyClue, CompanyIndex, domainOf, findCompany, type KnownCompany } from './find-company';

type Numbered = KnownCompany & { readonly id: number };

const known = (id: number, name: string, domains: string[] = [], country: string | null = null): Numbered => ({
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

/** The same by number. */
function found(asked: CompanyClue, all: readonly Numbered[]) {
  const answer = findCompany(asked, new CompanyIndex(all));
  switch (answer.kind) {
    case 'known':
      return { kind: answer.kind, id: answer.company.id };
    case 'new':
      return { kind: answer.kind, alike: answer.alike?.id ?? null };
    case 'none':
      return answer;
  }
}

test('by name first, then by domain; a namesake of another domain or country is alike, and not taken for it', () => {
  const norway = known(1, 'fjord', ['fjord.example'], 'NO');
  expect(found(clue('fjord'), [norway])).toEqual({ kind: 'known', id: 1 });
  expect(found(clue('fjord', 'fjord.example', 'NO'), [norway])).toEqual({ kind: 'known', id: 1 });
  expect(found(clue('fjord', null, 'SE'), [norway])).toEqual({ kind: 'new', alike: 1 });
  expect(found(clue('fjord', 'other.example'), [norway])).toEqual({ kind: 'new', alike: 1 });
  // Its people write the name otherwise.
  expect(found(clue('fjord as', 'fjord.example'), [norway])).toEqual({ kind: 'known', id: 1 });
  expect(found(clue(null, 'fjord.example'), [norway])).toEqual({ kind: 'known', id: 1 });
  // Once the second is there, each is found by its country.
  const sweden = known(2, 'fjord', [], 'SE');
  expect(found(clue('fjord', null, 'SE'), [norway, sweden])).toEqual({ kind: 'known', id: 2 });
  expect(found(clue('elv'), [])).toEqual({ kind: 'new', alike: null });
  expect(found(clue(null, null, 'NO'), [])).toEqual({ kind: 'none' });
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
      const answer = found(asked, all);
      if (answer.kind === 'known') {
        const { names, domains, country: own } = all[answer.id - 1]!;
        const byName = n !== null && names.has(n);
        expect(byName || (d !== null && domains.has(d))).toBe(true);
        if (byName)
          expect([own === null || c === null || own === c, d === null || domains.size === 0 || domains.has(d)]).toEqual(
            [true, true],
          );
      }
      if (answer.kind === 'new') {
        const made = known(99, n!, d === null ? [] : [d], c);
        expect(found(asked, [...all, made])).toEqual({ kind: 'known', id: 99 });
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
