import { type CompanyClue, CompanyIndex, findCompany } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { companiesBy, openContacts } from '../store/find-parties';
import { loadLeads, type StoredLead } from '../store/load-leads';
import { openOf } from '../store/open-for';

/** The person or company that an inquiry names, and the pipeline into which it comes. */
interface Naming {
  readonly email: string | null;
  /** Where it names no person: its company, as that is looked up. */
  readonly clue: CompanyClue | null;
  readonly pipeline: string;
}

/** The open leads of the people, and of companies without a person, that inquiries name; locked. */
export async function openLeads(
  manager: EntityManager,
  reads: readonly Naming[],
): Promise<(one: Naming) => StoredLead | undefined> {
  const contacts = await openContacts(
    manager,
    reads.flatMap(({ email }) => email ?? []),
  );
  const clues = reads.flatMap(({ clue }) => clue ?? []);
  const names = clues.flatMap(({ name }) => name ?? []);
  const companies = new CompanyIndex(names.length === 0 ? [] : await companiesBy(manager, names, []));
  const companyOf = (clue: CompanyClue): number | null => {
    const found = findCompany(clue, companies);
    return found.kind === 'known' ? found.company.id : null;
  };
  const ofCompanies = await openOf(
    manager,
    clues.flatMap((clue) => companyOf(clue) ?? []),
  );
  const known = await loadLeads(manager, [...contacts.leads, ...ofCompanies], 'write');
  const byWhose = new Map(known.map((lead) => [`${lead.entity.pipeline} ${lead.entity.openFor ?? ''}`, lead]));
  return ({ email, clue, pipeline }) => {
    const whose = email === null ? clue && companyOf(clue) : contacts.byEmail.get(email);
    return whose == null ? undefined : byWhose.get(`${pipeline} ${whose}`);
  };
}
