import type { KnownBy, NoCompanyRow } from '@relvik/contracts';
import { domainOf } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { CompanyKeyEntity, NoCompanyEntity } from '../store/entity/company.entity';
import { foldedName } from '../store/identity';
import { insertRows } from '../store/rows';
import { onRecord } from './record-in-hand';
import type { Hand } from './hand';

/** A name or domain as it is told apart: of an e-mail its domain. */
function keyOf(kind: 'name' | 'domain', text: string): string {
  return foldedName(kind === 'domain' ? (domainOf(text) ?? text) : text);
}

/** Gives a company an alias name, or a mail domain: who writes it so is taken to work there from now on. */
export function addKnownBy(source: DataSource, id: number, { kind, text }: KnownBy, hand: Hand): Promise<void> {
  if (kind === 'email')
    throw Refused.invalid([{ path: '/kind', message: 'is for contacts: a company has names and domains' }]);
  return onRecord(source, 'company', id, 'edit', hand, async (manager, { stored: { entity } }) => {
    const folded = keyOf(kind, text);
    const keys = await manager.findBy(CompanyKeyEntity, { kind, folded });
    if (keys.some(({ company }) => company === entity.id)) return;
    const [other] = keys;
    if (other !== undefined)
      throw Refused.as('known-already', { detail: `Company ${other.company} has it.`, other: other.company });
    await insertRows(manager, CompanyKeyEntity, [{ kind, folded, company: entity.id }]);
  });
}

/** Takes an alias name or a domain from a company; a company is known by one name at least. */
export function removeKnownBy(source: DataSource, id: number, { kind, text }: KnownBy, hand: Hand): Promise<void> {
  if (kind === 'email')
    throw Refused.invalid([{ path: '/kind', message: 'is for contacts: a company has names and domains' }]);
  return onRecord(source, 'company', id, 'edit', hand, async (manager, { stored: { entity } }) => {
    const names = await manager.countBy(CompanyKeyEntity, { company: entity.id, kind: 'name' });
    if (kind === 'name' && names <= 1)
      throw Refused.invalid([{ path: '/text', message: 'is the only name that it is known by' }]);
    const { affected } = await manager.delete(CompanyKeyEntity, {
      kind,
      folded: keyOf(kind, text),
      company: entity.id,
    });
    if (affected === 0) throw Refused.notFound();
  });
}

/** Words and domains that name no company, in alphabetical order. */
export async function readNoCompany(manager: EntityManager): Promise<NoCompanyRow[]> {
  const rows = await manager.find(NoCompanyEntity, { order: { kind: 'DESC', folded: 'ASC' } });
  return rows.map(({ kind, word }) => ({ kind, word }));
}

export async function writeNoCompany(
  manager: EntityManager,
  { kind, word }: NoCompanyRow,
  way: 'add' | 'remove',
): Promise<void> {
  const folded = keyOf(kind, word);
  if (way === 'remove') await manager.delete(NoCompanyEntity, { kind, folded });
  else await manager.query('INSERT IGNORE INTO no_company (kind, folded, word) VALUES ?', [[[kind, folded, word]]]);
}
