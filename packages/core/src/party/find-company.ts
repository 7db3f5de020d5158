/** The name, domain and country by which the company of a lead or contact is looked up. */
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
  /** Its name and alias names, folded. */
  readonly names: ReadonlySet<string>;
  readonly domains: ReadonlySet<string>;
  readonly country: string | null;
}

/** Companies by their names and domains, each list the oldest first: looking one up does not go through all of them. */
export class CompanyIndex<T extends KnownCompany> {
  private readonly byName = new Map<string, T[]>();
  private readonly byDomain = new Map<string, T[]>();

  /** @param known the oldest first */
  constructor(known: Iterable<T>) {
    for (const company of known) this.add(company);
  }

  /** Adds one that is younger than all others. */
  add(company: T): void {
    for (const name of company.names) listIn(this.byName, name).push(company);
    for (const domain of company.domains) this.addDomain(company, domain);
  }

  /** Adds a domain of a company that is in the index. */
  addDomain(company: T, domain: string): void {
    listIn(this.byDomain, domain).push(company);
  }

  named(name: string): readonly T[] {
    return this.byName.get(name) ?? [];
  }

  at(domain: string): readonly T[] {
    return this.byDomain.get(domain) ?? [];
  }
}

function listIn<T>(lists: Map<string, T[]>, key: string): T[] {
  const list = lists.get(key) ?? [];
  lists.set(key, list);
  return list;
}

export type FoundCompany<T> =
  | { readonly kind: 'known'; readonly company: T }
  /** One of its own; `alike`: the oldest that has its name, but another domain or country. */
  | { readonly kind: 'new'; readonly alike: T | null }
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
 * @param known at least the companies that have the name or the domain
 *
 * @example findCompany({ name: 'fjord', domain: null, country: 'SE' }, new CompanyIndex([fjordInNorway])) // { kind: 'new', alike: fjordInNorway }
 */
export function findCompany<T extends KnownCompany>(clue: CompanyClue, known: CompanyIndex<T>): FoundCompany<T> {
  const { name, domain } = clue;
  const namesakes = name === null ? [] : known.named(name);
  const same = namesakes.find((one) => !differs(clue, one));
  if (same !== undefined) return { kind: 'known', company: same };
  const [alike] = namesakes;
  if (alike !== undefined) return { kind: 'new', alike };
  const [byDomain] = domain === null ? [] : known.at(domain);
  if (byDomain !== undefined) return { kind: 'known', company: byDomain };
  return name === null ? { kind: 'none' } : { kind: 'new', alike: null };
}

/** The domain of an e-mail, folded; null where it has none. */
export function domainOf(email: string): string | null {
  const at = email.lastIndexOf('@');
  return at < 0 || at === email.length - 1 ? null : email.slice(at + 1).toLowerCase();
}
