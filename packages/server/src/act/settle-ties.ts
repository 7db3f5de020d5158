import { type CompanyClue, CompanyIndex, findCompany, type TieKind, TIE_KINDS } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { CompanyEntity, CompanyKeyEntity } from '../store/entity/company.entity';
import { ContactEntity } from '../store/entity/contact.entity';
import { SuggestionEntity } from '../store/entity/suggestion.entity';
import { UNSCORED } from '../store/entity/unrouted.entity';
import { companiesBy, type CompanyParty, contactsBy } from '../store/find-parties';
import { clueOf, identityOf } from '../store/identity';
import { newRecords } from '../store/new-records';
import { carryOut, insertsOf, OutOfDate } from '../store/rows';
import type { TieRules } from '../store/tie-rules';
import type { Act, Ties } from './act';
import { type Touched, touchUnrouted } from './touch-parties';

/** A contact or company that an act is tied to; one that is to be made gets its id when all are made. */
interface Party {
  id: number;
}

/** Everything that acts say of contacts and companies, and what is known of them. */
interface Known {
  readonly contacts: Map<string, Party>;
  readonly companies: CompanyIndex<CompanyParty>;
}

/** Whether an act may change whose the lead is. */
function isTelling({ stored, values }: Act, { email, company, country }: TieRules): boolean {
  return stored === null || [email, company, country].some((key) => key !== null && values.has(key));
}

interface Parties {
  readonly contact: Party | null;
  readonly company: Party | null;
}

/**
 * Finds the contact and company of leads: the contact with their e-mail, the company that they name or whose domain their e-mail
 * has. Those not known yet are made; a test is tied to known ones only. All of them are locked and due afterwards.
 *
 * @throws OutOfDate if one is gone since it was found; the transaction is to be begun again
 */
export async function settleTies(
  manager: EntityManager,
  acts: readonly Act[],
  rules: TieRules,
): Promise<{ readonly acts: Act[]; readonly touched: Touched }> {
  const telling = acts.flatMap((act) => {
    if (!isTelling(act, rules)) return [];
    return [{ act, email: identityOf(act.record, rules).email, clue: clueOf(act.record, rules) }];
  });
  const [first] = telling;
  if (first === undefined) return { acts: [...acts], touched: { contact: new Set(), company: new Set() } };
  const known = await knownOf(manager, telling);
  const made = new Made();
  const parties = new Map<Act, Parties>();
  for (const { act, email, clue } of telling) {
    const company = companyFor(act, clue, known, made, rules);
    parties.set(act, { contact: contactFor(act, email, company, known, made, rules), company });
  }
  // Locked until the leads are written under them: no value read across a tie changes, and none is joined into another meanwhile.
  for (const kind of TIE_KINDS) {
    const ids = idsOf(kind, parties);
    if ((await touchUnrouted(manager, kind, [...ids], first.act.asOf)) < ids.size)
      throw new OutOfDate(`A ${kind} was joined into another meanwhile`);
  }
  await made.write(manager);
  const settled = acts.map((act) => {
    const found = parties.get(act);
    if (found === undefined) return act;
    const ties: Ties = { contact: found.contact?.id ?? null, company: found.company?.id ?? null };
    return { ...act, ties };
  });
  return { acts: settled, touched: { contact: idsOf('contact', parties), company: idsOf('company', parties) } };
}

/** The ids of those that have one by now. */
function idsOf(kind: TieKind, parties: ReadonlyMap<Act, Parties>): Set<number> {
  const ids = new Set([...parties.values()].map((found) => found[kind]?.id ?? 0));
  ids.delete(0);
  return ids;
}

function contactFor(
  { record, asOf, test }: Act,
  email: string | null,
  company: Party | null,
  { contacts }: Known,
  made: Made,
  rules: TieRules,
): Party | null {
  if (email === null) return null;
  const known = contacts.get(email);
  if (known !== undefined || test) return known ?? null;
  const contact = made.contact({ email, name: identityOf(record, rules).name, at: asOf, company });
  contacts.set(email, contact);
  return contact;
}

function companyFor(
  { record, asOf, test }: Act,
  clue: CompanyClue,
  { companies }: Known,
  made: Made,
  rules: TieRules,
): Party | null {
  const found = findCompany(clue, companies);
  switch (found.kind) {
    case 'none':
      return null;
    case 'known':
      if (!test && clue.domain !== null && found.company.domains.size === 0) {
        // A company whose domains nobody knew has the one of whoever names it.
        made.knownBy(found.company, clue.domain);
        companies.addDomain(found.company, clue.domain);
      }
      return found.company;
    case 'new': {
      if (test || clue.name === null) return null;
      const company = made.company({ clue, name: identityOf(record, rules).company, at: asOf, alike: found.alike });
      companies.add(company);
      return company;
    }
  }
}

async function knownOf(
  manager: EntityManager,
  telling: readonly { readonly email: string | null; readonly clue: CompanyClue }[],
): Promise<Known> {
  const some = (list: readonly (string | null)[]): string[] => [...new Set(list.flatMap((one) => one ?? []))];
  const emails = some(telling.map(({ email }) => email));
  const names = some(telling.map(({ clue }) => clue.name));
  const domains = some(telling.map(({ clue }) => clue.domain));
  const contacts = await contactsBy(manager, emails);
  return {
    contacts: new Map([...contacts].map(([email, id]): [string, Party] => [email, { id }])),
    companies: new CompanyIndex(await companiesBy(manager, names, domains)),
  };
}

interface NewContact {
  readonly email: string;
  readonly name: string;
  readonly at: Date;
  readonly company: Party | null;
}

interface NewCompany {
  readonly clue: CompanyClue;
  readonly name: string;
  readonly at: Date;
  /** One of its name that is not it. */
  readonly alike: Party | null;
}

/** The contacts and companies that are to be made, and what known companies are known by from now on. */
class Made {
  private readonly contacts: { readonly party: Party; readonly of: NewContact }[] = [];
  private readonly companies: { readonly party: CompanyParty; readonly of: NewCompany }[] = [];
  private readonly domains: { readonly party: Party; readonly domain: string }[] = [];

  contact(of: NewContact): Party {
    const party = { id: 0 };
    this.contacts.push({ party, of });
    return party;
  }

  company(of: NewCompany): CompanyParty {
    const { name, domain, country } = of.clue;
    const party = { id: 0, names: new Set([name ?? '']), domains: new Set(domain === null ? [] : [domain]), country };
    this.companies.push({ party, of });
    return party;
  }

  knownBy(party: CompanyParty, domain: string): void {
    party.domains.add(domain);
    this.domains.push({ party, domain });
  }

  /** In one order, so that two servers that make the same wait for each other; the second finds it known, and begins again. */
  async write(manager: EntityManager): Promise<void> {
    const contacts = this.contacts.toSorted((a, b) => (a.of.email < b.of.email ? -1 : 1));
    const companies = this.companies.toSorted((a, b) => (identity(a.of) < identity(b.of) ? -1 : 1));
    const ids = await newRecords(manager, [
      ...contacts.map(({ of: { at } }) => ({ kind: 'contact' as const, at })),
      ...companies.map(({ of: { at } }) => ({ kind: 'company' as const, at })),
    ]);
    [...contacts, ...companies].forEach(({ party }, i) => (party.id = ids[i] ?? 0));
    const begun = (at: Date) => ({ ...UNSCORED, version: 1, owner: null, arrived: at, touchedAt: at, due: at });
    await carryOut(manager, [
      () =>
        insertsOf(
          manager,
          ContactEntity,
          contacts.map(({ party: { id }, of: { name, email, company, at } }) => ({
            ...begun(at),
            ...{ id, name, email, company: company?.id ?? null },
          })),
        ),
      () =>
        insertsOf(
          manager,
          CompanyEntity,
          companies.map(({ party: { id }, of }) => ({
            ...begun(of.at),
            ...{ id, name: of.name, country: of.clue.country, identity: identity(of) },
          })),
        ),
      () =>
        insertsOf(
          manager,
          CompanyKeyEntity,
          companies.flatMap(({ party: { id: company }, of: { clue } }) => [
            { kind: 'name' as const, folded: clue.name ?? '', company },
            ...(clue.domain === null ? [] : [{ kind: 'domain' as const, folded: clue.domain, company }]),
          ]),
        ),
      () =>
        insertsOf(
          manager,
          SuggestionEntity,
          companies.flatMap(({ party, of: { alike, at } }) =>
            alike === null
              ? []
              : [{ kind: 'company' as const, older: alike.id, younger: party.id, at, settled: false }],
          ),
        ),
    ]);
    for (const { party, domain } of this.domains)
      await manager.query("INSERT IGNORE INTO company_key (kind, folded, company) VALUES ('domain', ?, ?)", [
        domain,
        party.id,
      ]);
  }
}

/** By what a company is first known. */
export function companyIdentity({ name, domain, country }: CompanyClue): string {
  return [name ?? '', country ?? '', domain ?? ''].join('\n');
}

function identity({ clue }: NewCompany): string {
  return companyIdentity(clue);
}
