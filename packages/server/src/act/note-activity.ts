import type { NoteActivity } from '@relvik/contracts';
import type { UnroutedKind } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { ActivityEntity } from '../store/entity/history.entity';
import { readKinds } from '../store/governing';
import { insertRows } from '../store/rows';
import { onRecord, touchAbove } from './change-record';
import { occasionBelow } from './due-across';
import type { Hand } from './hand';
import { readHappened } from './read-happened';
import { touchUnrouted } from './touch-parties';

/** Notes by hand what happened with a contact, company or deal; whoever counts it is scored again a moment later. */
export function noteActivity(
  source: DataSource,
  kind: UnroutedKind,
  id: number,
  noted: NoteActivity,
  hand: Hand,
): Promise<void> {
  return onRecord(source, kind, id, 'edit', hand, async (manager, { stored: { entity } }) => {
    const kinds = new Map((await readKinds(manager)).map((one) => [one.key, one]));
    const happened = readHappened(noted, kinds, hand.at);
    if (happened.kind === 'refused') throw Refused.invalid([{ path: `/${happened.field}`, message: happened.message }]);
    const { properties = {} } = noted;
    await insertRows(manager, ActivityEntity, [
      {
        record: entity.id,
        kind: noted.kind,
        at: happened.at,
        properties: Object.keys(properties).length === 0 ? null : properties,
        sender: null,
        event: null,
      },
    ]);
    await touchUnrouted(manager, kind, [entity.id], hand.at);
    await touchAbove(manager, kind, entity, null, hand.at);
    if (kind === 'contact') await occasionBelow(manager, [entity.id], hand.at);
  });
}
