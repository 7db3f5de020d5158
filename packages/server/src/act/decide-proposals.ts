import type { DecideProposals, DoneEach } from '@relvik/contracts';
import {
  BLANK,
  endsOf,
  type GateNow,
  type ReadyRules,
  sameValue,
  standingStage,
  type StageKey,
  type Value,
} from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import type { LeadEntity } from '../store/entity/lead.entity';
import { ProposalEntity, type ProposalUndo } from '../store/entity/proposal.entity';
import { readGoverning } from '../store/governing';
import { act } from './acting';
import { eachOf } from './each-of';
import type { Hand } from './hand';
import { lockMoving, type MovingInHand, takeToDecide } from './moving-in-hand';
import type { Acting } from './perform';

/** Answers proposals, each by itself: the lead or deal is moved to the stage chosen, or stays where one is refused. */
export function decideProposals(
  source: DataSource,
  { decisions, reason = null }: DecideProposals,
  hand: Hand,
): Promise<DoneEach> {
  const answers = new Map(decisions.map(({ id, answer }) => [id, answer]));
  return eachOf([...answers.keys()], (id) => decideOne(source, id, answers.get(id) ?? null, reason, hand));
}

async function decideOne(
  source: DataSource,
  id: number,
  answer: string | null,
  reason: string | null,
  hand: Hand,
): Promise<void> {
  const found = await source.manager.findOneBy(ProposalEntity, { id });
  if (found === null) throw Refused.notFound();
  try {
    await act(source, hand.at, async (acting) => {
      const governing = await readGoverning(acting.manager, 'share');
      const moving = await takeToDecide(acting, found.record, governing, hand);
      const proposal = await locked(acting.manager, id);
      if (proposal.state !== 'open') throw settled(proposal, hand);
      await answerWith(acting, proposal, moving, answer, reason, hand);
    });
  } catch (error) {
    if (!(error instanceof Refused) || error.problem.status !== 404) throw error;
    // A decision made meanwhile may have taken it out of one's sight.
    const now = await source.manager.findOneBy(ProposalEntity, { id });
    if (now?.state !== 'open')
      throw Refused.as('proposal-settled', { detail: 'Someone was quicker, or it was withdrawn.' });
    throw error;
  }
}

async function answerWith(
  acting: Acting,
  { id, look }: ProposalEntity,
  moving: MovingInHand,
  answer: string | null,
  reason: string | null,
  { user, at }: Hand,
): Promise<void> {
  const { manager } = acting;
  const { entity, record } = moving;
  const asking = await askingNow(moving, look);
  const to = answer === null ? null : (endsOf(asking.gate).find((end) => end === answer) ?? null);
  if (answer !== null && to === null)
    throw Refused.invalid([{ path: '/answer', message: 'is no outcome of this gate' }]);
  // Before it is moved, so that its other proposals are withdrawn and this one is not.
  await manager.update(ProposalEntity, id, {
    ...{ state: to === null ? 'refused' : 'taken', openGate: null, answer: to, reason },
    rule: asking.account.answer === 'yes' ? asking.pick : null,
    ...{ person: user.key, by: user.name, decidedAt: at, undo: { stageSince: entity.stageSince.getTime() } },
  });
  if (to === null) return;
  // An outcome that is not the rule's pick is a move by hand, which no rule undoes.
  const isPick = asking.account.answer === 'yes' && asking.pick === to;
  const move = { kind: isPick ? 'accepts' : 'moves', gate: asking.gate.key, to, reason } as const;
  const { changes } = await moving.move(move);
  if (changes.length === 0) return;
  const valueBefore = (field: string): Value | null => record.values.get(field) ?? null;
  const values = Object.fromEntries(
    changes.map(({ field, value }) => [field, { before: valueBefore(field), after: value }]),
  );
  await manager.update(ProposalEntity, id, { undo: { stageSince: entity.stageSince.getTime(), values } });
}

/** The values as they were before a decision; one that somebody changed since stays. */
function formerValues({ values = {} }: ProposalUndo, { record }: MovingInHand): Map<string, Value> {
  return new Map(
    Object.entries(values)
      .filter(([field, { after }]) => sameValue(record.values.get(field), after))
      .map(([field, { before }]) => [field, before ?? BLANK]),
  );
}

/** The gate as it asks now. @throws Refused where no gate of its stage asks so any more */
async function askingNow(moving: MovingInHand, look: string): Promise<GateNow> {
  const asking = (await moving.gates()).find(({ gate }) => gate.look === look);
  if (asking === undefined) throw Refused.as('proposal-settled', { detail: 'Its gate does not ask any more.' });
  return asking;
}

async function locked(manager: EntityManager, id: number): Promise<ProposalEntity> {
  const proposal = await manager
    .createQueryBuilder(ProposalEntity, 'proposal')
    .where({ id })
    .setLock('pessimistic_write')
    .getOne();
  if (proposal === null) throw Refused.notFound();
  return proposal;
}

function settled({ state, person, by }: ProposalEntity, { user }: Hand): Refused {
  const who = person === user.key ? 'You' : by;
  const detail = state === 'withdrawn' ? 'It was withdrawn meanwhile.' : `${who} decided it already.`;
  return Refused.as('proposal-settled', { detail });
}

/** Takes decisions back, each by itself: the lead or deal stands where it stood, and the proposal is open again if its gate still holds. */
export function undoProposals(source: DataSource, ids: readonly number[], hand: Hand): Promise<DoneEach> {
  return eachOf(ids, (id) => undoOne(source, id, hand));
}

async function undoOne(source: DataSource, id: number, hand: Hand): Promise<void> {
  const found = await source.manager.findOneBy(ProposalEntity, { id });
  if (found === null) throw Refused.notFound();
  await act(source, hand.at, async (acting) => {
    const { manager } = acting;
    const governing = await readGoverning(manager, 'share');
    const moving = await lockMoving(acting, found.record, governing, hand);
    const proposal = await locked(manager, id);
    // The person who decided may take it back, even where it left their sight since; so may those who may decide.
    if (proposal.person !== hand.user.key && !(await moving.mayDecide())) throw Refused.notFound();
    const { decidedAt, undo, answer } = proposal;
    if (decidedAt === null || undo === null) throw cannot('Nobody answered it.');
    if (answer === null) {
      await openAgain(manager, proposal, moving.entity, decidedAt);
      return;
    }
    const { stage, stageSince, status } = moving.entity;
    if (moving.kind === 'lead' && status !== 'open') throw cannot('The lead is closed.');
    if (stage !== answer || stageSince.getTime() !== decidedAt.getTime())
      throw cannot(`The ${moving.kind} was moved on since.`);
    const back = {
      kind: 'moves',
      gate: null,
      to: formerStage(proposal, governing.ready.rules[moving.kind]),
      reason: 'decision undone',
    } as const;
    const { entity } = await moving.move(back, formerValues(undo, moving));
    await moving.setStageSince(new Date(undo.stageSince));
    await openAgain(manager, proposal, entity, decidedAt);
  });
}

/** The stage in which it stood, or the one that took it over. @throws Refused where there is none */
function formerStage({ stage }: ProposalEntity, { stages }: ReadyRules): StageKey {
  const found = standingStage(stages, stage as StageKey);
  if (!stages.some(({ key }) => key === found)) throw cannot('The stage in which it stood is no more.');
  return found;
}

function cannot(detail: string): Refused {
  return Refused.as('cannot-undo', { detail });
}

/** Opens a proposal again, and those that were withdrawn by its answer, as far as their gates hold; else it is withdrawn. */
async function openAgain(
  manager: EntityManager,
  { id, record }: ProposalEntity,
  { looks }: Pick<LeadEntity, 'looks'>,
  decidedAt: Date,
): Promise<void> {
  const closed = await manager.findBy(ProposalEntity, { record, decidedAt });
  for (const one of closed.filter((other) => other.id === id || other.why === 'left-stage')) {
    const holds = looks[one.look] === 'true';
    if (!holds && one.id !== id) continue;
    await manager.update(ProposalEntity, one.id, {
      ...(holds
        ? { state: 'open', openGate: one.gate, decidedAt: null, why: null }
        : { state: 'withdrawn', why: 'not-true' }),
      ...{ answer: null, rule: null, reason: null, person: null, by: '', undo: null },
    });
  }
}
