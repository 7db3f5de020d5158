import type { Accepted, LeadsMade, MakeLeads } from '@relvik/contracts';
import { keyOfRole, pipelinesOf, type Raw, type RepKey, showValue, type TieKind } from '@relvik/core';
import { type DataSource, In } from 'typeorm';
import { Refused } from '../problem/refused';
import { recordsInSight, sightOf } from '../session/sight';
import { LeadEntity } from '../store/entity/lead.entity';
import { PersonEntity } from '../store/entity/people.entity';
import { type Governing, readGoverning } from '../store/governing';
import { loadUnrouted, type StoredUnrouted } from '../store/load-unrouted';
import { UNROUTED_ENTITIES } from '../store/unrouted-kinds';
import { handlingByHand } from '../store/ways-in';
import type { Inquiry } from './accept-leads';
import { handOf } from './cause';
import type { Hand } from './hand';

/** Takes a lead in. */
type Accept = (inquiry: Inquiry) => Promise<Accepted>;

/**
 * Makes a lead of each contact or company: with what is known of it in the fields that feed it, and with its owner where that one takes
 * leads; else routes choose. Where such a lead is open in the pipeline already, that one stays and is named.
 */
export async function makeLeads(
  source: DataSource,
  accept: Accept,
  kind: TieKind,
  { ids, pipeline = null }: MakeLeads,
  hand: Hand,
): Promise<LeadsMade> {
  const { manager } = source;
  const sight = await sightOf(manager, hand.user);
  const query = manager.createQueryBuilder(UNROUTED_ENTITIES[kind], 'r').where('r.id IN (:...ids)', { ids });
  const seen = (await recordsInSight(query, kind, sight).getMany()).map(({ id }) => id);
  const governing = await readGoverning(manager, 'none');
  const stored = new Map((await loadUnrouted(manager, kind, seen, governing.ready)).map((one) => [one.entity.id, one]));
  const firms =
    kind === 'company'
      ? stored
      : new Map(
          (
            await loadUnrouted(
              manager,
              'company',
              [...stored.values()].flatMap(({ entity }) => companyOf(entity) ?? []),
              governing.ready,
            )
          ).map((one) => [one.entity.id, one]),
        );
  const takers = new Set(
    (await manager.findBy(PersonEntity, { mayTakeLeads: true, retired: false })).map(({ key }) => key),
  );
  const handling = await handlingByHand(manager);
  const own = pipelinesOf(governing.ready.charter, 'lead');
  const into = (own.find(({ key }) => key === pipeline) ?? own[0])?.key ?? '';
  const open = await manager.find(LeadEntity, {
    select: { id: true, openFor: true },
    where: { openFor: In(seen), pipeline: into },
  });
  const results = await Promise.all(
    [...new Set(ids)].map(async (id): Promise<LeadsMade['leads'][number] | LeadsMade['refused'][number]> => {
      const one = stored.get(id);
      if (one === undefined) return { id, why: `is no ${kind} here` };
      const there = open.find(({ openFor }) => openFor === id);
      if (there !== undefined) return { of: id, lead: there.id, wasOpen: true };
      const { owner } = one.entity;
      const keeps = owner !== null && takers.has(owner) && (hand.user.role !== 'rep' || owner === hand.user.key);
      const firm = kind === 'company' ? one : firms.get(companyOf(one.entity) ?? 0);
      try {
        const accepted = await accept({
          ...{ cause: handOf(hand.user), at: hand.at, pipeline, trusted: true, test: false, handling },
          values: valuesOf(kind === 'contact' ? one : undefined, firm, governing),
          owner: keeps ? (owner as RepKey) : null,
        });
        return { of: id, lead: accepted.id, wasOpen: accepted.joined };
      } catch (error) {
        if (!(error instanceof Refused)) throw error;
        const { errors, detail, title } = error.problem;
        return { id, why: errors?.[0]?.message ?? detail ?? title };
      }
    }),
  );
  return {
    leads: results.flatMap((one) => ('lead' in one ? [one] : [])),
    refused: results.flatMap((one) => ('why' in one ? [one] : [])),
  };
}

function companyOf(entity: StoredUnrouted['entity']): number | null {
  return 'company' in entity && typeof entity.company === 'number' ? entity.company : null;
}

/** The values of a lead of someone: of its fields those that feed contact and company, and those that say who it is. */
function valuesOf(
  contact: StoredUnrouted | undefined,
  company: StoredUnrouted | undefined,
  { world: { fields } }: Governing,
): Record<string, Raw> {
  const values: Record<string, Raw> = {};
  const put = (key: string | null, text: string | null | undefined): void => {
    if (key !== null && text != null && text !== '') values[key] = text;
  };
  for (const { key, feeds, retired } of fields.values()) {
    const value =
      feeds == null || retired ? undefined : (contact?.record.values.get(feeds) ?? company?.record.values.get(feeds));
    // A value that can't be read is not carried over.
    if (value !== undefined && value.kind !== 'unreadable') put(key, showValue(value));
  }
  const own = (role: 'name' | 'email' | 'company'): string | null => keyOfRole(fields, 'lead', role);
  const known = contact?.entity;
  put(own('name'), known?.name);
  put(own('email'), known !== undefined && 'email' in known && typeof known.email === 'string' ? known.email : null);
  put(own('company'), company?.entity.name);
  return values;
}
