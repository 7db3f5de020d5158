import type { Effect } from '@relvik/core';
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
