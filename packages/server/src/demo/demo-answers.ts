import { endsOf, gatesNow } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { decideProposals } from '../act/decide-proposals';
import { QueueMemberEntity, TeamMemberEntity } from '../store/entity/people.entity';
import { ProposalEntity } from '../store/entity/proposal.entity';
import { readGoverning } from '../store/governing';
import { loadLeads } from '../store/load-leads';

const DAY = 86_400_000;
const REFUSALS = ['asked for next year', 'another supplier already', 'budget not approved', 'too far for a visit'];

/** Decides open proposals at the end of a day: mostly the rule's pick; some are left waiting for long. */
export async function answerProposals(
  source: DataSource,
  end: number,
  names: ReadonlyMap<string, string>,
): Promise<void> {
  const { manager } = source;
  const open = await manager.find(ProposalEntity, { where: { state: 'open' }, order: { id: 'ASC' } });
  const ripe = open.filter(({ id, askedAt }) => (end - askedAt.getTime()) / DAY > patienceOf(id));
  if (ripe.length === 0) return;
  const { ready, world } = await readGoverning(manager, 'none');
  const members = await manager.find(TeamMemberEntity, { where: { leads: false }, order: { joined: 'ASC' } });
  const pickers = await manager.find(QueueMemberEntity, { order: { person: 'ASC' } });
  for (const { id, record, look, team, queue } of ripe) {
    const at = new Date(end - (id % 480) * 60_000);
    const [lead] = await loadLeads(manager, [record], 'none');
    const asking = lead && gatesNow(ready, lead.record, world, at.getTime()).find(({ gate: one }) => one.look === look);
    if (asking === undefined) continue;
    const asked = [...members.filter((one) => one.team === team), ...pickers.filter((one) => one.queue === queue)];
    const person = lead?.entity.owner ?? asked[id % Math.max(1, asked.length)]?.person;
    if (person === undefined) continue;
    const { pick } = asking;
    const other = endsOf(asking.gate).find((stage) => stage !== pick) ?? pick;
    const kind = (id * 7919) % 100;
    const answer = kind < 66 ? pick : kind < 80 ? other : null;
    const reason = answer === null ? (REFUSALS[id % REFUSALS.length] ?? '') : null;
    const user = { key: person, name: names.get(person) ?? person, role: 'rep' } as const;
    await decideProposals(source, { decisions: [{ id, answer }], reason }, { user, at });
  }
}

/** In days. */
function patienceOf(id: number): number {
  return id % 6 === 0 ? 14 : 2 + (id % 6);
}
