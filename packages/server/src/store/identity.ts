import { type CompanyClue, domainOf, fold, type RecordFacts, showValue, type Value } from '@relvik/core';
import { LONGEST_NAME } from './entity/company.entity';
import type { TieRules } from './tie-rules';

/** The identity of a lead's contact and company, by its values. */
export interface Identity {
  readonly name: string;
  readonly company: string;
  /** Folded, as far as it is an e-mail. */
  readonly email: string | null;
}

function textOf(value: Value | undefined, most: number): string {
  return value === undefined ? '' : showValue(value).slice(0, most);
}

function valueIn({ values }: Pick<RecordFacts, 'values'>, key: string | null): Value | undefined {
  return key === null ? undefined : values.get(key);
}

/** The identity of a lead, by its values. */
export function identityOf(record: Pick<RecordFacts, 'values'>, rules: TieRules): Identity {
  const email = valueIn(record, rules.email);
  return {
    name: textOf(valueIn(record, rules.name), 200),
    company: textOf(valueIn(record, rules.company), 200),
    email: email?.kind === 'text' ? fold(email.text).slice(0, 320) || null : null,
  };
}

/** The name, domain and country by which the company of a lead is looked up. */
export function clueOf(record: Pick<RecordFacts, 'values'>, rules: TieRules): CompanyClue {
  const { company, email } = identityOf(record, rules);
  const name = foldedName(company);
  const domain = email === null ? null : domainOf(email);
  const country = valueIn(record, rules.country);
  return {
    name: name === '' || rules.noNames.has(name) ? null : name,
    domain: domain === null || rules.isFree(domain) ? null : domain.slice(0, LONGEST_NAME),
    country: country?.kind === 'text' && country.text.length === 2 ? country.text.toUpperCase() : null,
  };
}

/** The name of a company as it is told apart. */
export function foldedName(name: string): string {
  return fold(name).slice(0, LONGEST_NAME);
}
