/** What is said of the company of a lead or contact. */
export interface CompanyClue {
  /** Folded; null: none is named, or a word that names none. */
  readonly name: string | null;
  /** The domain of the e-mail, folded; null: none, or that of a free mailbox. */
  readonly domain: string | null;
  /** The ISO code of a country. */
  readonly country: string | null;
}

/** A company as it can be told apart. */
export interface KnownCompany {
  readonly id: number;
  /** Its name and alias names, folded. */
  readonly names: ReadonlySet<string>;
  readonly domains: ReadonlySet<string>;
  readonly country: string | null;
}

export type FoundCompany =
  | { readonly kind: 'known'; readonly id: number }
  /** One of its own; `alike`: the oldest that has its name, but another domain or country. */
  | { readonly kind: 'new'; readonly alike: number | null }
  | { readonly kind: 'none' };

function differs(clue: CompanyClue, { domains, country }: KnownCompany): boolean {
  const otherDomain = clue.domain !== null && domains.size > 0 && !domains.has(clue.domain);
  const otherCountry = clue.country !== null && country !== null && clue.country !== country;
  return otherDomain || otherCountry;
}

/**
 * Which company is meant: by its name first, then by the domain of the e-mail. One of that name whose domain or country differs is
 * not taken for it: the two are alike, which a person decides.
 *
 * @param known the companies that have the name or the domain, the oldest first
 *
 * @example findCompany({ name: 'fjord', domain: null, country: 'SE' }, [fjordInNorway]) // { kind: 'new', alike: fjordInNorway.id }
 */
export function findCompany(clue: CompanyClue, known: readonly KnownCompany[]): FoundCompany {
  const { name, domain } = clue;
  const namesakes = name === null ? [] : known.filter(({ names }) => names.has(name));
  const same = namesakes.find((one) => !differs(clue, one));
  if (same !== undefined) return { kind: 'known', id: same.id };
  const [alike] = namesakes;
  if (alike !== undefined) return { kind: 'new', alike: alike.id };
  const byDomain = domain === null ? undefined : known.find(({ domains }) => domains.has(domain));
  if (byDomain !== undefined) return { kind: 'known', id: byDomain.id };
  return name === null ? { kind: 'none' } : { kind: 'new', alike: null };
}

/** The domain of an e-mail, folded; null where it has none. */
export function domainOf(email: string): string | null {
  const at = email.lastIndexOf('@');
  return at < 0 || at === email.length - 1 ? null : email.slice(at + 1).toLowerCase();
}
