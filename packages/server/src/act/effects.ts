import type { Effect, Recipient, Told } from '@relvik/core';
import type { LeadEntity } from '../store/entity/lead.entity';
import type { OutboxEntity, OutboxNotice } from '../store/entity/outbox.entity';

function noticeOf(effect: Effect): Omit<OutboxNotice, 'job'> {
  switch (effect.kind) {
    case 'tell-owner':
      return { person: effect.rep, queue: null, notice: 'assigned' };
    case 'tell-queue':
      return { person: null, queue: effect.queue, notice: 'in-queue' };
    case 'tell-operations':
      return { person: null, queue: null, notice: effect.of };
  }
}

/** A row of the outbox that is still to be carried out. */
export function toSend(body: OutboxNotice, record: number | null, at: Date): Partial<OutboxEntity> {
  return {
    kind: 'notice',
    body,
    record,
    state: 'waiting',
    tries: 0,
    nextAt: at,
    error: null,
    at,
    endedAt: null,
  };
}

/** The effects of an act, as rows of the outbox. */
export function outboxRows(effects: readonly Effect[], record: number, at: Date): Partial<OutboxEntity>[] {
  return effects.map((effect) => toSend({ ...noticeOf(effect), job: null }, record, at));
}

/** By owner the managers of their teams. */
export type Managers = ReadonlyMap<string, readonly string[]>;

/** The notices of a new verdict, as rows of the outbox. An owner who is told of the assignment gets no second one. */
export function verdictRows(
  notify: readonly Recipient[],
  effects: readonly Effect[],
  { id, owner }: Pick<LeadEntity, 'id' | 'owner'>,
  managers: Managers,
  at: Date,
): Partial<OutboxEntity>[] {
  const noticeTo = (person: string | null): Partial<OutboxEntity> =>
    toSend({ person, queue: null, notice: 'graded', job: null }, id, at);
  const isAssigned = effects.some(({ kind }) => kind === 'tell-owner');
  return notify.flatMap((recipient) => {
    switch (recipient) {
      case 'owner':
        return owner === null || isAssigned ? [] : [noticeTo(owner)];
      case 'manager':
        return (managers.get(owner ?? '') ?? []).filter((one) => one !== owner).map(noticeTo);
      case 'operations':
        return [noticeTo(null)];
    }
  });
}

/** The notices of a route that tells more than the new owner, as rows of the outbox. */
export function routedRows(
  tell: readonly Told[],
  { id, owner }: Pick<LeadEntity, 'id' | 'owner'>,
  managers: Managers,
  at: Date,
): Partial<OutboxEntity>[] {
  const noticeTo = (person: string | null): Partial<OutboxEntity> =>
    toSend({ person, queue: null, notice: 'routed', job: null }, id, at);
  return tell.flatMap((told) => {
    switch (told) {
      case 'manager':
        return (managers.get(owner ?? '') ?? []).filter((one) => one !== owner).map(noticeTo);
      case 'operations':
        return [noticeTo(null)];
    }
  });
}
